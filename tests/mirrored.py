"""A language for tests, in which every text of the catalogue stands in brackets."""

from collections.abc import Callable, Iterator
from contextlib import ExitStack
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po

from leitfaden_core import words
from leitfaden_core.words import speaking
from messages import CORE

TEMPLATE = CORE / "locale" / "leitfaden.pot"
LANGUAGE = "xx"


def is_mirrored(text: str) -> bool:
    """Whether a sentence came out of the catalogue."""
    return text.startswith("⟦") and text.endswith("⟧")


@pytest.fixture
def spoken(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Callable[[Catalog], None]]:
    """Makes a catalogue the language that is spoken."""
    with ExitStack() as stack:

        def speak(catalogue: Catalog) -> None:
            folder = tmp_path / LANGUAGE / "LC_MESSAGES"
            folder.mkdir(parents=True)
            with (folder / "leitfaden.mo").open("wb") as out:
                write_mo(out, catalogue)
            monkeypatch.setattr(words, "LOCALE", tmp_path)
            words._catalogue.cache_clear()
            stack.enter_context(speaking(LANGUAGE))

        yield speak
    words._catalogue.cache_clear()


@pytest.fixture
def mirrored(spoken: Callable[[Catalog], None]) -> None:
    """That language is there, and is spoken."""
    with TEMPLATE.open(encoding="utf-8") as file:
        catalogue = read_po(file)
    for message in catalogue:
        if message.id:
            message.string = f"⟦{message.id}⟧"
            message.flags.discard("fuzzy")
    spoken(catalogue)
