"""What goes in and out of the list of benches."""

from datetime import datetime
from typing import Annotated

from ninja import Schema
from pydantic import Field

from leitfaden_core.live import Beginning


class BenchIn(Schema):
    """An engine to be put on a bench."""

    beginning: Beginning
    name: Annotated[str, Field(max_length=80)] = ""


class BenchRow(Schema):
    """A bench of a person."""

    id: int
    name: str
    rig: str
    seconds: float
    doings: int
    used_at: datetime
