"""The family of Vantric's errors: each message says in one line what is wrong, where, and how to fix it.

VantricError
├── OptionError          an option has a value of the wrong type, or outside its range
│   └── UnknownOptionError   there is no option of that name (also a TypeError)
├── SourceError          a source cannot be read
├── ColumnError          a column is missing, or columns do not fit together
├── AmountError          a count or a weight cannot be used
├── CountError           a request does not fit how the records were counted
├── LabelError           a result has no such row (also a KeyError and an IndexError)
├── RankError            there is nothing to rank, or a cutoff cannot be decided
├── ScaleError           an axis cannot be scaled as requested
├── ChartError           the parts of a chart do not fit together, or do not fit the picture
├── ChartFileError       a chart file cannot be read, or holds something that no chart has
├── TargetError          a result cannot be written
└── MissingExtraError    a library that is not part of the base install is needed (also an ImportError)
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from types import ModuleType
from typing import TypeVar

#: Every end of a line that a terminal or an editor knows: a message is one line.
_LINE_ENDS = re.compile("[\\n\\r\\v\\f\\x1c-\\x1e\\x85\u2028\u2029]+")
_MOST_NAMES = 30  # that a hint lists


class VantricError(Exception):
    """Something the user can fix; the command line prints it as one line and ends with status 2.

    Catch this one to catch them all.

    Parameters
    ----------
    message
        Text; line ends in it, which come from what the user gave, become spaces.
    value
        What was given and cannot be used, where it is one value.
    known
        What could have been given instead, where that is a list of names.
    hint
        The part of the message that suggests a way on.
    asks
        (option, value) of each answer, where two readings are possible and the user must choose one.
    """

    def __init__(
        self,
        message: object = "",
        *,
        value: object = None,
        known: Iterable[str] = (),
        hint: str = "",
        asks: Iterable[tuple[str, object]] = (),
    ) -> None:
        super().__init__(_LINE_ENDS.sub(" ", str(message)))
        self.value = value
        self.known = tuple(known)
        self.hint = hint
        self.asks = tuple(asks)


class OptionError(VantricError):
    """An option has a value of the wrong type, or outside its range; `option` is its name, `flag` as it is typed."""

    option: str = ""
    flag: str = ""


class UnknownOptionError(OptionError, TypeError):
    """There is no option of that name."""


class SourceError(VantricError):
    """A source cannot be read: the file does not exist, a row is broken, its bytes are not text."""


class ColumnError(VantricError):
    """A column is missing, or columns do not fit together."""


class AmountError(VantricError):
    """A count or a weight is missing, not a number, negative or not finite."""


class CountError(VantricError):
    """A request does not fit how the records were counted."""


class LabelError(VantricError, KeyError, IndexError):
    """A result has no row of that label or place."""

    def __str__(self) -> str:
        """Return the message as it is; other errors of keys show it in quotes."""
        return Exception.__str__(self)


class RankError(VantricError):
    """There is nothing to rank, or a cutoff cannot be decided."""


class ScaleError(VantricError):
    """An axis cannot be scaled as requested."""


class ChartError(VantricError):
    """The parts of a chart do not fit together, or the chart does not fit its picture."""


class ChartFileError(VantricError):
    """A chart file or a report file cannot be read, or holds something that no chart has.

    `place` says where: keys, and places in lists from 0.
    """

    place: tuple[str | int, ...] = ()


class TargetError(VantricError):
    """A result cannot be written where it was asked to go."""


class MissingExtraError(VantricError, ImportError):
    """A library that is not part of the base install is needed; the message names the extra that installs it."""


E = TypeVar("E", bound=VantricError)


def nearest(word: str, known: Iterable[str]) -> str:
    """Return ``"; did you mean 'x'?"`` for the known word closest to `word`, or an empty string."""
    by_fold = {name.strip().casefold(): name for name in known}
    import difflib  # a word was not understood: most are

    close = difflib.get_close_matches(word.strip().casefold(), list(by_fold), n=1, cutoff=0.6)
    return f"; did you mean '{by_fold[close[0]]}'?" if close else ""


def suggestion(word: object, known: Iterable[str], *, label: str = "there are", most: int = _MOST_NAMES) -> str:
    """Return the nearest known name as a question, or else a list of them all; empty if none is known."""
    names = list(dict.fromkeys(known))
    near = nearest(str(word), names)
    if near or not names:
        return near
    return f"; {label}: {', '.join(names[:most])}{', ...' if len(names) > most else ''}"


def unknown(
    kind: type[E], message: str, value: object, known: Iterable[str], *, label: str = "there are", every: bool = False
) -> E:
    """Return an error for a name that is not known.

    Parameters
    ----------
    kind
        The class of the error.
    message
        What is wrong; the nearest name, or else the list of names, is added to it.
    value
        The name that was given.
    known
        The names that there are.
    label
        What introduces the list.
    every
        Whether the list is added even if one name is near.
    """
    names = list(dict.fromkeys(known))
    hint = suggestion(value, names, label=label)
    if every and hint.startswith("; did"):
        hint += suggestion("", names, label=label)
    return kind(f"{message}{hint}", value=value, known=names, hint=hint.removeprefix("; "))


def unknown_column(name: str, columns: Iterable[str], where: str) -> ColumnError:
    """Return the error for a column that is not in `where`, with the nearest name, or with all of them."""
    names = list(columns)
    if not names:
        return ColumnError(f"{where} has no column '{name}'; it has no columns", value=name)
    return unknown(ColumnError, f"{where} has no column '{name}'", name, names, label="its columns are")


#: What Python raises for a mistake in the code, and how it says that a call is one; other types may be the data's.
_MISTAKES = (NameError, AttributeError, LookupError, AssertionError)
_WRONG_CALL = re.compile(r"argument|NoneType|not callable|not subscriptable|unpack")


def is_own_fault(error: BaseException) -> bool:
    """Whether an exception is a mistake in this package, not what a library complains of.

    It is if Python raised it for a line of ours, and not for something that a library has not.
    """
    trace = error.__traceback__
    while trace is not None and trace.tb_next is not None:
        trace = trace.tb_next
    ours = trace is not None and str(trace.tb_frame.f_globals.get("__name__", "")).startswith("vantric")
    wrong_call = isinstance(error, TypeError | ValueError) and _WRONG_CALL.search(str(error)) is not None
    if not ours or not (wrong_call or isinstance(error, _MISTAKES)):
        return False
    lacking = getattr(error, "obj", None)
    home = lacking.__name__ if isinstance(lacking, ModuleType) else type(lacking).__module__
    return not isinstance(error, AttributeError) or home.partition(".")[0] in ("vantric", "builtins")
