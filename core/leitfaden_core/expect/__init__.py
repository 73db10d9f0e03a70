"""What a healthy engine shows: bands per channel and condition from a population of engines, not from fixed percentages."""

from leitfaden_core.expect.own import OwnValue, parse_own
from leitfaden_core.expect.population import SPREAD, individual_engine
from leitfaden_core.expect.sheet import Band, ValueSheet, band_of, compute_sheet, load_sheet, sheet_fingerprint, write_sheet

__all__ = [
    "SPREAD",
    "Band",
    "OwnValue",
    "ValueSheet",
    "band_of",
    "compute_sheet",
    "individual_engine",
    "load_sheet",
    "parse_own",
    "sheet_fingerprint",
    "write_sheet",
]
