"""What an option is: one field of a class, with all that is said of it in one line."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import field
from typing import Any, get_args

from vantric.base.lazily import dataclass
from vantric.errors import OptionError, unknown
from vantric.options.option_types import MisfitError, is_list, literals, members, taken, wanted

Read = Callable[[str], Any]
#: Under this key a field of a dataclass holds its declaration.
KEY = "option"


class _Nothing:
    """Stands for what is not given."""

    def __repr__(self) -> str:
        return "(required)"


#: Stands for a value that must be given: None may be a value.
NOTHING: Any = _Nothing()


@dataclass(frozen=True, kw_only=True)
class Declared:
    """What `option` was given beside the default; see there."""

    help: str
    section: str = ""
    metavar: str = ""
    flag: str = ""
    short: str = ""
    off: Any = NOTHING
    read: Read | None = None
    least: float | None = None
    most: float | None = None
    above: float | None = None
    below: float | None = None
    places: frozenset[str] = frozenset({"command", "python", "file"})


def option(
    default: Any,
    help: str,
    *,
    section: str = "",
    metavar: str = "",
    flag: str = "",
    short: str = "",
    off: Any = NOTHING,
    read: Read | None = None,
    least: float | None = None,
    most: float | None = None,
    above: float | None = None,
    below: float | None = None,
    places: str = "command python file",
) -> Any:
    """Declare an option as a field of an `Options` class.

    Parameters
    ----------
    default
        The value if none is given; a mapping is copied. `NOTHING` if one must be given.
    help
        One sentence for every help text.
    section
        Its heading in help texts, if not that of the class.
    metavar
        What stands for its value in the help of the command line.
    flag
        Its name on the command line, if not its own with hyphens: the singular of a repeatable option.
    short
        Its short name there.
    off
        The value that ``--no-NAME`` stands for, where there is such a flag.
    read
        Turns a text into a value, where the type takes no text itself; of a list, each item.
    least, most, above, below
        The range of a number, or of the numbers of a pair.
    places
        Where it can be given: ``"command"``, ``"python"``, ``"file"``.
    """
    declaration = Declared(
        help=help,
        section=section,
        metavar=metavar,
        flag=flag,
        short=short,
        off=off,
        read=read,
        least=least,
        most=most,
        above=above,
        below=below,
        places=frozenset(places.split()),
    )
    metadata = {KEY: declaration}
    if default is NOTHING:
        return field(metadata=metadata)
    if isinstance(default, dict):
        return field(default_factory=lambda: dict(default), metadata=metadata)
    return field(default=default, metadata=metadata)


@dataclass(frozen=True)
class Option:
    """One option of a class: its name, type and default, and what was declared."""

    name: str
    kind: Any
    default: Any
    declared: Declared
    section: str

    @property
    def help(self) -> str:
        """The sentence that explains it."""
        return self.declared.help

    @property
    def flag(self) -> str:
        """Its name on the command line."""
        return self.declared.flag or f"--{self.name.replace('_', '-')}"

    def in_place(self, place: str) -> bool:
        """Whether it can be given on the command line, in Python, or in a chart file."""
        return place in self.declared.places

    def checked(self, value: Any) -> Any:
        """Return a value in the form of the option's type.

        Raises
        ------
        OptionError
            If its type or range does not take the value.
        """
        try:
            values = taken(self._read(value), self.kind)
        except MisfitError:
            raise self._misfit(value) from None
        except OptionError as error:  # the option is named where the check could not know it
            raise error if error.option else self.error(f"{self.name}: {error}", value) from None
        for number in values if isinstance(values, tuple) else (values,):
            self._check_range(number)
        return values

    def _read(self, value: Any) -> Any:
        read = self.declared.read
        if read is None:
            return value
        if isinstance(value, str) and not any(isinstance(value, kind) for kind in members(self.kind) if kind is str):
            return value if value in literals(self.kind) else read(value)
        if is_list(value) and self._of_read():
            return [read(text) if isinstance(text, str) else text for text in value]
        return value

    def _of_read(self) -> bool:
        """Whether it is a list whose items can be read from texts; texts themselves are taken as they are."""
        inner = [get_args(kind) for kind in members(self.kind)]
        return any(Ellipsis in kinds and str not in kinds for kinds in inner)

    def _misfit(self, value: Any) -> OptionError:
        text = " ".join(repr(value).split())
        text = f"{text[:57]}..." if len(text) > 60 else text
        words = literals(self.kind)
        message = f"{self.name} is {wanted(self.kind)}, not {text}"
        if words and isinstance(value, str):
            near = unknown(OptionError, message, value, words).hint
            message += f"; {near}" if near.startswith("did") else ""
        elif self.declared.read is not None and isinstance(value, str):
            message += f"; write it as {self.declared.metavar}"
        return self.error(message, value, words)

    def _check_range(self, number: Any) -> None:
        if isinstance(number, bool) or not isinstance(number, (int, float)):
            return
        declaration = self.declared
        fits = (
            number == number
            and (declaration.least is None or number >= declaration.least)
            and (declaration.most is None or number <= declaration.most)
            and (declaration.above is None or number > declaration.above)
            and (declaration.below is None or number < declaration.below)
        )
        if not fits:
            raise self.error(f"{self.name} is {self.range_words()}, not {number}", number)

    def range_words(self) -> str:
        """Return the range in words: ``"at least 1"``."""
        declaration = self.declared
        bounds = [
            *([f"at least {declaration.least:,.12g}"] if declaration.least is not None else []),
            *([f"above {declaration.above:,.12g}"] if declaration.above is not None else []),
            *([f"at most {declaration.most:,.12g}"] if declaration.most is not None else []),
            *([f"below {declaration.below:,.3f}".rstrip("0").rstrip(".")] if declaration.below is not None else []),
        ]
        what = "a whole number" if int in members(self.kind) else "a number"
        return f"{what} {' and '.join(bounds)}".rstrip()

    def error(self, message: str, value: object = None, names: tuple[str, ...] = ()) -> OptionError:
        """Return an error that names the option."""
        error = OptionError(message, value=value, known=names)
        error.option, error.flag = self.name, self.flag
        return error
