"""What an option is, and the classes that hold options."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import MISSING, Field, FrozenInstanceError, dataclass, field, fields
from functools import cache
from typing import Any, ClassVar, Self, dataclass_transform, get_args, get_type_hints

from vantric.errors import OptionError, UnknownOptionError, unknown
from vantric.options.kinds import MisfitError, is_list, literals, members, taken, wanted

Read = Callable[[str], Any]
_KEY = "option"


class _Nothing:
    """Stands for what is not given."""

    def __repr__(self) -> str:
        return "(required)"


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
    said = Declared(help=help, section=section, metavar=metavar, flag=flag, short=short, off=off, read=read,
                    least=least, most=most, above=above, below=below, places=frozenset(places.split()))  # fmt: skip
    metadata = {_KEY: said}
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
            found = taken(self._read(value), self.kind)
        except MisfitError:
            raise self._misfit(value) from None
        for number in found if isinstance(found, tuple) else (found,):
            self._check_range(number)
        return found

    def _read(self, value: Any) -> Any:
        read = self.declared.read
        if read is None:
            return value
        if isinstance(value, str) and not any(isinstance(value, one) for one in members(self.kind) if one is str):
            return value if value in literals(self.kind) else read(value)
        if is_list(value) and self._of_read():
            return [read(one) if isinstance(one, str) else one for one in value]
        return value

    def _of_read(self) -> bool:
        """Whether it is a list whose items can be read from texts; texts themselves are taken as they are."""
        inner = [get_args(one) for one in members(self.kind)]
        return any(Ellipsis in kinds and str not in kinds for kinds in inner)

    def _misfit(self, value: Any) -> OptionError:
        shown = " ".join(repr(value).split())
        shown = f"{shown[:57]}..." if len(shown) > 60 else shown
        words = literals(self.kind)
        message = f"{self.name} is {wanted(self.kind)}, not {shown}"
        if words and isinstance(value, str):
            near = unknown(OptionError, message, value, words).hint
            message += f"; {near}" if near.startswith("did") else ""
        elif self.declared.read is not None and isinstance(value, str):
            message += f"; write it as {self.declared.metavar}"
        return self.error(message, value, words)

    def _check_range(self, number: Any) -> None:
        if isinstance(number, bool) or not isinstance(number, (int, float)):
            return
        said = self.declared
        fits = (
            number == number
            and (said.least is None or number >= said.least)
            and (said.most is None or number <= said.most)
            and (said.above is None or number > said.above)
            and (said.below is None or number < said.below)
        )
        if not fits:
            raise self.error(f"{self.name} is {self.range_words()}, not {number}", number)

    def range_words(self) -> str:
        """Return the range in words: ``"at least 1"``."""
        said = self.declared
        bounds = [
            *([f"at least {said.least:,.12g}"] if said.least is not None else []),
            *([f"above {said.above:,.12g}"] if said.above is not None else []),
            *([f"at most {said.most:,.12g}"] if said.most is not None else []),
            *([f"below {said.below:,.3f}".rstrip("0").rstrip(".")] if said.below is not None else []),
        ]
        what = "a number" if float in members(self.kind) else "a whole number"
        return f"{what} {' and '.join(bounds)}".rstrip()

    def error(self, message: str, value: object = None, known: tuple[str, ...] = ()) -> OptionError:
        """Return an error that names the option."""
        made = OptionError(message, value=value, known=known)
        made.option = self.name
        return made


@dataclass_transform(frozen_default=True, kw_only_default=True)
class Options:
    """The base of classes that hold options: frozen dataclasses whose fields are declared with `option`.

    A class that inherits from it is a dataclass without a decorator. What the standard decorator writes for each class
    (`__init__`, comparison, `__repr__`) is written once here: there are many classes, and commands start faster.
    Each instance holds checked values in the form of their types.
    """

    section: ClassVar[str] = ""
    #: Option -> its heading: that of the class which declares it.
    sections: ClassVar[dict[str, str]] = {}

    def __init_subclass__(cls, *, section: str = "", kw_only: bool = True, init: bool = True, **more: Any) -> None:
        super().__init_subclass__(**more)
        if section:
            cls.section = section
        inherited = [getattr(base, "sections", {}) for base in reversed(cls.__bases__)]
        own = {name: cls.section for name, one in vars(cls).items() if isinstance(one, Field)}
        cls.sections = {name: title for part in (*inherited, own) for name, title in part.items()}
        dataclass(init=False, repr=False, eq=False, kw_only=kw_only)(cls)

    def __init__(self, *values: Any, **named: Any) -> None:
        known = {one.name: one for one in fields(self)}  # type: ignore[arg-type]
        plain = [name for name, one in known.items() if not one.kw_only]
        named = {**dict(zip(plain, values, strict=False)), **named}
        strange = next((name for name in named if name not in known), None)
        if strange is not None or len(values) > len(plain):
            what = f"an unexpected keyword argument '{strange}'" if strange else "too many positional arguments"
            raise TypeError(f"{type(self).__name__} got {what}")
        for name, one in known.items():
            value = named[name] if name in named else _default(one)
            if value is NOTHING:
                raise TypeError(f"{type(self).__name__} is missing the argument '{name}'")
            object.__setattr__(self, name, value)
        self.__post_init__()

    def __setattr__(self, name: str, value: object) -> None:
        raise FrozenInstanceError(f"cannot assign to '{name}'")

    def __delattr__(self, name: str) -> None:
        raise FrozenInstanceError(f"cannot delete '{name}'")

    def _key(self) -> tuple[Any, ...]:
        return tuple(getattr(self, one.name) for one in fields(self))  # type: ignore[arg-type]

    def __eq__(self, other: object) -> bool:
        return self._key() == other._key() if type(other) is type(self) else NotImplemented

    def __hash__(self) -> int:
        return hash(self._key())

    def __repr__(self) -> str:
        said = ", ".join(f"{name}={value!r}" for name, value in self.changed().items())
        return f"{type(self).__name__}({said})"

    def __post_init__(self) -> None:
        """Check every value that is not the default."""
        for one in known_options(type(self)).values():
            value = getattr(self, one.name)
            if value is not one.default:
                checked = one.checked(value)
                if checked is not value:
                    object.__setattr__(self, one.name, checked)

    @classmethod
    def from_keywords(cls, given: Mapping[str, Any]) -> Self:
        """Return the options from names and values.

        Raises
        ------
        UnknownOptionError
            For a name that is not known, with the nearest one.
        OptionError
            For a value of another type, or outside its range.
        """
        return split_options(given, cls)[0]  # type: ignore[no-any-return]

    def changed(self) -> dict[str, Any]:
        """Return the names and values of the options that are not as they are by default."""
        return {
            name: value
            for name, one in known_options(type(self)).items()
            if (value := getattr(self, name)) is not one.default and value != one.default
        }


def known_options(*kinds: type) -> dict[str, Option]:
    """Return the options of classes by name, in their order."""
    loose: tuple[Any, ...] = kinds
    return {name: one for kind in loose for name, one in _known(kind).items()} if len(loose) > 1 else _known(*loose)


@cache
def _known(kind: Any) -> dict[str, Option]:
    hints = get_type_hints(kind)
    sections: dict[str, str] = getattr(kind, "sections", {})
    declared = [(one, one.metadata[_KEY]) for one in fields(kind) if _KEY in one.metadata]
    return {
        one.name: Option(one.name, hints[one.name], _default(one), said, said.section or sections.get(one.name, ""))
        for one, said in declared
    }


def _default(one: Field[Any]) -> Any:
    if one.default is not MISSING:
        return one.default
    return one.default_factory() if one.default_factory is not MISSING else NOTHING


def split_options(given: Mapping[str, Any], *kinds: type, place: str = "python") -> list[Any]:
    """Return one instance of each class from names and values.

    Parameters
    ----------
    given
        Name -> value, of all classes together; a name that several classes have goes to each of them.
    *kinds
        Classes of options.
    place
        Where they were given: an option that cannot be given there is not known.

    Raises
    ------
    UnknownOptionError
        For a name that is not known, with the nearest one or what it is called here.
    OptionError
        For a value of another type, or outside its range.
    """
    known = {name: one for name, one in known_options(*kinds).items() if one.in_place(place)}
    for name in given:
        if name not in known:
            raise unknown_option(name, known)
    for name, one in known.items():
        if one.default is NOTHING and name not in given:
            raise one.error(f"{name} is missing; give {'it' if place != 'command' else one.flag}: {one.help}")
    return [kind(**{name: given[name] for name in known_options(kind) if name in given}) for kind in kinds]


def unknown_option(name: str, known: Mapping[str, Option]) -> UnknownOptionError:
    """Return the error for a name that is not known: with what it is called here, the nearest, or all names."""
    from vantric.options.synonyms import synonym  # needed by errors only

    message = f"unexpected keyword argument '{name}'"
    said = synonym(name, known)
    if said:
        made = UnknownOptionError(f"{message}; use {said}", value=name, known=known, hint=f"use {said}")
    else:
        made = unknown(UnknownOptionError, message, name, sorted(known))
    made.option = name
    return made
