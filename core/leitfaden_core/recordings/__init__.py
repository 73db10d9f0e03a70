"""Recordings: simulated runs, stretches of a bench and tables from elsewhere, all of one form."""

from leitfaden_core.recordings.capture import Capture, read_csv, write_csv
from leitfaden_core.recordings.measurement_file import read_mdf, write_mdf
from leitfaden_core.recordings.of_run import RunRecording
from leitfaden_core.recordings.recording import Event, Recording, Stretch, conditions_of, unit_of

__all__ = [
    "Capture",
    "Event",
    "Recording",
    "RunRecording",
    "Stretch",
    "conditions_of",
    "read_csv",
    "read_mdf",
    "unit_of",
    "write_csv",
    "write_mdf",
]
