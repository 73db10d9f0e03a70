"""The atlas: a page for each sensor and related device, the cards of misconceptions and of schools, the glossary,
search.

Prose lies in documents, a folder for each language (``text/en``); every number on a page comes from the model.
"""

from leitfaden_core.atlas.documents import (
    Myth,
    Page,
    Plate,
    PlateGroup,
    School,
    Term,
    glossary,
    myths,
    pages,
    plate_called,
    plate_groups,
    schools,
)
from leitfaden_core.atlas.outcomes import Outcome, outcomes
from leitfaden_core.atlas.page import FaultLine, GoodLine, PageOnRig, has_device, page_on, page_rigs
from leitfaden_core.atlas.search import Found, search

__all__ = [
    "FaultLine",
    "Found",
    "GoodLine",
    "Myth",
    "Outcome",
    "Page",
    "PageOnRig",
    "Plate",
    "PlateGroup",
    "School",
    "Term",
    "glossary",
    "has_device",
    "myths",
    "outcomes",
    "page_on",
    "page_rigs",
    "pages",
    "plate_called",
    "plate_groups",
    "schools",
    "search",
]
