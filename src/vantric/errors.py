"""The family of Vantric's errors: each message says what is wrong, where, and how to fix it, in one line."""

from __future__ import annotations

import difflib
import re
from collections.abc import Iterable

_LINE_ENDS = re.compile("[\\n\\r\\v\\f\\x1c-\\x1e\\x85\u2028\u2029]+")


class VantricError(Exception):
    """Something the user can fix; the command line prints it as one line and ends with status 2.

    Catch this one to catch them all.

    Parameters
    ----------
    message
        Text; line ends in it, which come from what the user gave, become blanks.
    """

    def __init__(self, message: object = "") -> None:
        super().__init__(_LINE_ENDS.sub(" ", str(message)))


class OptionError(VantricError):
    """An option whose value is of another kind than it takes."""


class SourceError(VantricError):
    """A source cannot be read: no such file, a broken row, bytes that are not text."""


class ColumnError(VantricError):
    """A column that is asked for is not there."""


class AmountError(VantricError):
    """A count or a weight is missing, not a number, negative or not finite."""


class CountError(VantricError):
    """What is asked for does not fit how the records were counted."""


class RankError(VantricError):
    """There is nothing to rank, or a cutoff that cannot be decided."""


class ScaleError(VantricError):
    """An axis that cannot be scaled as wished."""


class ChartError(VantricError):
    """A chart whose parts do not fit together, or that does not fit its picture."""


class ChartFileError(VantricError):
    """A chart file that cannot be read, or holds what no chart has."""


class TargetError(VantricError):
    """A result cannot be written where it was asked to go."""


def nearest(word: str, known: Iterable[str]) -> str:
    """Return ``"; did you mean 'x'?"`` for the known word closest to `word`, or an empty string."""
    by_fold = {name.strip().casefold(): name for name in known}
    close = difflib.get_close_matches(word.strip().casefold(), list(by_fold), n=1, cutoff=0.6)
    return f"; did you mean '{by_fold[close[0]]}'?" if close else ""


def unknown_column(name: str, columns: Iterable[str], where: str) -> ColumnError:
    """Return the error for a column that is not in `where`, with the nearest name, or with all of them."""
    known = list(columns)
    hint = nearest(name, known)
    if not hint:
        shown = ", ".join(known[:12]) + (", ..." if len(known) > 12 else "")
        hint = f"; its columns are: {shown}" if known else "; it has no columns"
    return ColumnError(f"{where} has no column '{name}'{hint}")
