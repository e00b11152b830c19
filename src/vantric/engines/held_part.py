"""A file that is opened once, and read by several results."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, TypeVar

from vantric.reading.settings import Opening

if TYPE_CHECKING:
    from vantric.engines.duck_records import DuckRecords

T = TypeVar("T")


class Held(str):
    """The name of a file that stays open until it is closed: each way of opening it is opened once.

    Conditions are put on the open records. Where the table that is found without knowing which columns are wanted lacks
    one of these, the file is opened for them.
    """

    _open: dict[tuple[Opening, tuple[str, ...]], DuckRecords]

    def __init__(self, _: str) -> None:
        super().__init__()
        self._open = {}

    def work(self, opening: Opening, wanted: Sequence[str], work: Callable[[DuckRecords], T]) -> T:
        """Do some work on the records that meet a condition."""
        from vantric.engines.duck_records import UndecodableError

        try:
            return work(self._records(opening, wanted, anew=False).under(opening))
        except UndecodableError:
            if self == "-":
                raise
            self.close()
            return work(self._records(opening, wanted, anew=True).under(opening))

    def _records(self, opening: Opening, wanted: Sequence[str], *, anew: bool) -> DuckRecords:
        plain = replace(opening, where=None)
        found = self._opened(plain, (), anew=anew)
        if all(name in found.names() for name in wanted):
            return found
        return self._opened(plain, tuple(dict.fromkeys(wanted)), anew=anew)

    def _opened(self, opening: Opening, wanted: tuple[str, ...], *, anew: bool) -> DuckRecords:
        from vantric.engines.files import open_file

        key = opening, wanted
        if key not in self._open:
            self._open[key] = open_file(str(self), opening, wanted, anew=anew)
        return self._open[key]

    def close(self) -> None:
        """Let go of the file."""
        for records in self._open.values():
            records.close()
        self._open.clear()
