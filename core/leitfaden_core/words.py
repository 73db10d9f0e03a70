"""Sentences for people, in the language that is spoken at the moment.

The English text is the key of its translations (GNU gettext): a second language is a folder
``locale/LANGUAGE/LC_MESSAGES`` with a compiled catalogue, made from ``locale/leitfaden.pot``. A sentence with numbers
is said by :func:`say`, its places named so that another language may put them in another order; what stands as plain
text in tables (labels, meanings, reasons) is translated when it leaves the core (:func:`in_language`).
"""

import gettext
import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cache, lru_cache, wraps
from pathlib import Path
from typing import Any, ParamSpec, TypeVar

P = ParamSpec("P")
T = TypeVar("T")
#: Where catalogues lie.
LOCALE = Path(__file__).parent / "locale"
#: The language of a process, as its environment names it.
_OWN_LANGUAGE = os.environ.get("LEITFADEN_LANGUAGE", "en")
_language: ContextVar[str] = ContextVar("language", default=_OWN_LANGUAGE)


def language() -> str:
    """The language that is spoken at the moment."""
    return _language.get()


@contextmanager
def speaking(name: str) -> Iterator[None]:
    """Speak a language for a while."""
    before = _language.set(name)
    try:
        yield
    finally:
        _language.reset(before)


@cache
def _catalogue(name: str) -> gettext.NullTranslations:
    return gettext.translation("leitfaden", LOCALE, [name], fallback=True)


def say(text: str, /, **values: object) -> str:
    """A text with its places filled in.

    >>> say("{count} of {all} read right", count=3, all=4)
    '3 of 4 read right'
    """
    catalogue = _catalogue(language())
    if type(catalogue) is gettext.NullTranslations:
        return text.format(**values)
    filled = {name: _said(catalogue, value) for name, value in values.items()}
    return catalogue.gettext(text).format(**filled)


def _said(catalogue: gettext.NullTranslations, value: Any) -> Any:
    return catalogue.gettext(value) if isinstance(value, str) and value else value


def inside(label: str) -> str:
    """A label in the midst of a sentence. English begins it small, unless it begins with an abbreviation; another
    language has it as it stands, or as its catalogue has it in the context "inside".

    >>> inside("Hot idle"), inside("MAF signal"), inside("Intake air sensor (IAT)")
    ('hot idle', 'MAF signal', 'intake air sensor (IAT)')
    """
    catalogue = _catalogue(language())
    if type(catalogue) is not gettext.NullTranslations:
        own = catalogue.pgettext("inside", label)
        return own if own != label else catalogue.gettext(label)
    first = label.partition(" ")[0]
    is_short_form = any(letter.isupper() or letter.isdigit() for letter in first[1:])
    return label if is_short_form else label[:1].lower() + label[1:]


def per_language(most: int | None = None) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Remember what a function gave, for each language apart, since there are texts in it. At most so many answers."""

    def decorate(function: Callable[P, T]) -> Callable[P, T]:
        @lru_cache(maxsize=most)
        def remembered(_language: str, /, *args: Any, **kwargs: Any) -> T:
            return function(*args, **kwargs)

        @wraps(function)
        def asked(*args: P.args, **kwargs: P.kwargs) -> T:
            return remembered(language(), *args, **kwargs)  # type: ignore[arg-type]

        return asked

    return decorate


def in_language(data: Any) -> Any:
    """Plain data with every text of the catalogue in the language that is spoken at the moment."""
    catalogue = _catalogue(language())
    if type(catalogue) is gettext.NullTranslations:
        return data
    if isinstance(data, dict):
        return {key: in_language(value) for key, value in data.items()}
    if isinstance(data, (list, tuple)):
        return [in_language(value) for value in data]
    return _said(catalogue, data)
