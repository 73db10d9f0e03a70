"""A catalogue of named things that refuses doubles and lists what it knows when asked for something else."""

from collections.abc import Iterator
from typing import Generic, Protocol, TypeVar

from leitfaden_core.errors import UnknownName


class Named(Protocol):
    """Whatever has an id."""

    @property
    def id(self) -> str: ...


T = TypeVar("T", bound=Named)


class Registry(Generic[T]):
    """Entries by id, in the order of their ids, so that the order of imports never shows."""

    def __init__(self, what: str) -> None:
        self._what = what
        self._entries: dict[str, T] = {}

    def register(self, entry: T) -> T:
        """Add an entry; a second one with the same id is a programming error."""
        if entry.id in self._entries:
            raise ValueError(f"{self._what} '{entry.id}' is registered twice")
        self._entries[entry.id] = entry
        return entry

    def get(self, name: str) -> T:
        """The entry of that id, or UnknownName with all known ids."""
        try:
            return self._entries[name]
        except KeyError:
            raise UnknownName(self._what, name, self._entries) from None

    def __contains__(self, name: object) -> bool:
        return name in self._entries

    def __iter__(self) -> Iterator[T]:
        return iter(sorted(self._entries.values(), key=lambda entry: entry.id))

    def ids(self) -> list[str]:
        """All ids, sorted."""
        return sorted(self._entries)
