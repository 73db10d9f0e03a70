"""What goes in and out of people."""

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

Username = Annotated[str, Field(max_length=150)]
Secret = Annotated[str, Field(max_length=500)]


class Wish(Schema):
    """A request's body: unknown fields, texts that look like numbers, and numbers that are none are refused."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


class SignIn(Wish):
    """Name and password."""

    username: Username
    password: Secret


class UseLink(Wish):
    """The secret of a one-time link and the password chosen with it."""

    token: Secret
    password: Secret


class NewPassword(Wish):
    old: Secret
    new: Secret


class Me(Schema):
    """The signed-in person."""

    username: str
    name: str
    role: str
    school: str
    units: Literal["metric", "imperial"]
    language: str
    demo: bool
    bench: bool  # whether the person may have benches


class Settings(Wish):
    """What a person may change about the display."""

    units: Literal["metric", "imperial"] | None = None
    language: Literal["en"] | None = None


class Done(Schema):
    """Something was done."""

    done: bool = True
    count: int = 0


class SessionOut(Schema):
    """A place where one is signed in."""

    started_at: datetime
    address: str | None
    here: bool


class PersonOut(Schema):
    username: str
    name: str
    role: str
    active: bool
    link_waits: bool
    last_sign_in: datetime | None


class NewPerson(Wish):
    username: Annotated[str, Field(min_length=1, max_length=40)]
    first_name: Annotated[str, Field(max_length=80)] = ""
    last_name: Annotated[str, Field(max_length=80)] = ""
    role: Literal["lead", "trainer", "learner"] = "learner"


class NewPeople(Wish):
    people: Annotated[list[NewPerson], Field(min_length=1, max_length=60)]


class LinkOut(Schema):
    """A one-time link, shown once: whoever has it can choose the password."""

    username: str
    name: str
    path: str


class PersonChange(Wish):
    active: bool


class RuleOut(Schema):
    """A limit with its range, its usual value and why schools differ."""

    id: str
    label: str
    unit: str
    low: float
    high: float
    usual: float
    used_by: str
    why: str


class RulesVersionOut(Schema):
    number: int
    values: dict[str, float]
    note: str
    changed_by: str
    changed_at: datetime


class RulesOut(Schema):
    """The school's limits, all versions, newest first."""

    rules: list[RuleOut]
    versions: list[RulesVersionOut]


class SchoolOut(Schema):
    """What holds for a whole school besides its limits."""

    name: str
    learners_bench: bool


class SchoolIn(Wish):
    learners_bench: bool


class RulesIn(Wish):
    number: Annotated[int, Field(ge=1, le=2**31 - 1)]
    values: Annotated[dict[Annotated[str, Field(max_length=40)], float], Field(max_length=40)]
    note: Annotated[str, Field(max_length=300)] = ""


class AuditOut(Schema):
    id: int
    at: datetime
    who: str
    action: str
    words: str
    what: str
    details: dict[str, Any]
