"""What a healthy engine shows: bands per channel and condition from a population of engines, not from fixed
percentages.
"""

from leitfaden_core.expect.fingerprint import sheet_fingerprint
from leitfaden_core.expect.moved import SCHOOL, Air, air_sheet, moved_bands
from leitfaden_core.expect.own import OwnValue, parse_own
from leitfaden_core.expect.population import SPREAD, individual_engine
from leitfaden_core.expect.sheet import (
    MEMBERS,
    Band,
    MissingSheet,
    ValueSheet,
    Weather,
    band_of,
    compute_sheet,
    has_sheet,
    keep_sheet,
    load_sheet,
    sheet_from,
    sheet_text,
    write_sheet,
)

__all__ = [
    "MEMBERS",
    "SCHOOL",
    "air_sheet",
    "sheet_from",
    "SPREAD",
    "Air",
    "Band",
    "MissingSheet",
    "OwnValue",
    "ValueSheet",
    "Weather",
    "band_of",
    "compute_sheet",
    "has_sheet",
    "individual_engine",
    "keep_sheet",
    "load_sheet",
    "moved_bands",
    "parse_own",
    "sheet_fingerprint",
    "sheet_text",
    "write_sheet",
]
