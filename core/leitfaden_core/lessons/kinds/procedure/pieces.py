"""The pieces of handwork that a station can stage."""

from functools import cache
from importlib import resources
from typing import Annotated

import yaml
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, model_validator

from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.errors import UnknownName


class _Kept(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Choice(_Kept):
    """What can be done at a stage; ``comes``: what comes of it; ``worth``: of the stage's points; whether it can hurt
    somebody.
    """

    text: str
    comes: str
    worth: float
    hurts: bool = False


class Stage(_Kept):
    """A situation, and what can be done."""

    situation: str
    choices: Annotated[tuple[Choice, ...], Field(min_length=2)]

    @model_validator(mode="after")
    def _has_one_best(self) -> "Stage":
        if [choice.worth for choice in self.choices].count(1.0) != 1:
            raise ValueError("a stage has one best choice")
        return self


class Piece(_Kept):
    """A piece of handwork, stage by stage, with the cautions that belong to it."""

    id: str
    title: str
    cautions: tuple[str, ...]
    stages: Annotated[tuple[Stage, ...], Field(min_length=2)]

    @model_validator(mode="after")
    def _is_cautious(self) -> "Piece":
        for name in self.cautions:
            if name not in CAUTIONS:
                raise UnknownName("caution", name, CAUTIONS)
        return self


@cache
def pieces() -> dict[str, Piece]:
    """All pieces by their ids."""
    text = resources.files(__package__).joinpath("pieces.yaml").read_text(encoding="utf-8")
    return {piece.id: piece for piece in TypeAdapter(list[Piece]).validate_python(yaml.load(text, yaml.CSafeLoader))}


def piece_called(name: str) -> Piece:
    """The piece with that id, or UnknownName."""
    if name not in pieces():
        raise UnknownName("piece of handwork", name, pieces())
    return pieces()[name]
