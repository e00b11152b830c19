"""The classes that hold options, and how they are made from names and values.

The signatures of what takes options: parameters with their types and defaults.
"""

from __future__ import annotations

import inspect
from collections.abc import Iterable, Mapping
from dataclasses import MISSING, Field, FrozenInstanceError, dataclass, fields
from functools import cache
from typing import Any, ClassVar, Self, dataclass_transform, get_type_hints

from vantric.errors import UnknownOptionError, unknown
from vantric.options.declaration import KEY, NOTHING, Option
from vantric.options.option_types import spelled


def parameter_of(one: Option) -> inspect.Parameter:
    """Return an option as a keyword."""
    default = inspect.Parameter.empty if one.default is NOTHING else one.default
    return inspect.Parameter(
        one.name, inspect.Parameter.KEYWORD_ONLY, default=default, annotation=spelled(one.kind, stub=True)
    )


def signature_of(fields: Iterable[Field[Any]], known: Mapping[str, Option]) -> inspect.Signature:
    """Return the signature of a class of options: what has a place, then the options by name."""
    placed = [
        inspect.Parameter(
            one.name,
            inspect.Parameter.POSITIONAL_OR_KEYWORD,
            default=inspect.Parameter.empty if one.default is MISSING else one.default,
            annotation=spelled(known[one.name].kind, stub=True) if one.name in known else one.type,
        )
        for one in fields
        if not one.kw_only
    ]
    named = {one.name for one in placed}
    return inspect.Signature([*placed, *(parameter_of(one) for name, one in known.items() if name not in named)])


class _Signature:
    """The signature of a class of options: its own fields in their order, then the options by name."""

    def __get__(self, instance: object, owner: type[Options]) -> object:
        if not owner._made_of:
            raise AttributeError("the base has no signature of its own")

        return signature_of(fields(owner), known_options(owner))  # type: ignore[arg-type]


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
    #: (name, default, what makes the default, whether it is a keyword only) of each field.
    _made_of: ClassVar[tuple[tuple[str, Any, Any, bool], ...]] = ()
    __signature__ = _Signature()

    def __init_subclass__(cls, *, section: str = "", kw_only: bool = True, init: bool = True, **more: Any) -> None:
        super().__init_subclass__(**more)
        if section:
            cls.section = section
        inherited = [getattr(base, "sections", {}) for base in reversed(cls.__bases__)]
        own = {name: cls.section for name, one in vars(cls).items() if isinstance(one, Field)}
        cls.sections = {name: title for part in (*inherited, own) for name, title in part.items()}
        dataclass(init=False, repr=False, eq=False, kw_only=kw_only)(cls)
        cls._made_of = tuple((one.name, one.default, one.default_factory, one.kw_only) for one in fields(cls))  # type: ignore[arg-type, misc]

    def __init__(self, *values: Any, **named: Any) -> None:
        if values:
            plain = [name for name, _, _, keyword in self._made_of if not keyword]
            if len(values) > len(plain):
                raise TypeError(f"{type(self).__name__} takes its options by name, such as {self._made_of[-1][0]}=...")
            named = {**dict(zip(plain, values, strict=False)), **named}
        own, left = vars(self), len(named)
        for name, default, factory, _ in self._made_of:
            if name in named:
                own[name] = named[name]
                left -= 1
            elif default is not MISSING:
                own[name] = default
            elif factory is not MISSING:
                own[name] = factory()
            else:
                raise TypeError(f"{type(self).__name__} is missing the argument '{name}'")
        if left:
            known = known_options(type(self))
            raise unknown_option(next(name for name in named if name not in own), known)
        self.__post_init__()

    def __setattr__(self, name: str, value: object) -> None:
        raise FrozenInstanceError(f"cannot assign to '{name}'")

    def __delattr__(self, name: str) -> None:
        raise FrozenInstanceError(f"cannot delete '{name}'")

    def _key(self) -> tuple[Any, ...]:
        return tuple(vars(self)[name] for name, *_ in self._made_of)

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
    declared = [(one, one.metadata[KEY]) for one in fields(kind) if KEY in one.metadata]
    return {
        one.name: Option(one.name, hints[one.name], _default(one), said, said.section or sections.get(one.name, ""))
        for one, said in declared
    }


def _default(one: Field[Any]) -> Any:
    if one.default is not MISSING:
        return one.default
    return one.default_factory() if one.default_factory is not MISSING else NOTHING


@cache
def _known_in(place: str, *kinds: Any) -> tuple[dict[str, Option], tuple[str, ...]]:
    """Return the options that can be given in a place, and the names of those that must be."""
    known = {name: one for name, one in known_options(*kinds).items() if one.in_place(place)}
    return known, tuple(name for name, one in known.items() if one.default is NOTHING)


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
    known, required = _known_in(place, *kinds)
    for name in given:
        if name not in known:
            raise unknown_option(name, known)
    for name in required:
        if name not in given:
            one = known[name]
            raise one.error(f"{name} is missing; give {'it' if place != 'command' else one.flag}: {one.help}")
    return [kind(**{name: given[name] for name in known_options(kind) if name in given}) for kind in kinds]


def unknown_option(name: str, known: Mapping[str, Option]) -> UnknownOptionError:
    """Return the error for a name that is not known: with what it is called here, the nearest, or all names."""
    from vantric.options.migrations import synonym  # needed by errors only

    message = f"unexpected keyword argument '{name}'"
    said = synonym(name, known)
    if said:
        made = UnknownOptionError(f"{message}; use {said}", value=name, known=known, hint=f"use {said}")
    else:
        made = unknown(UnknownOptionError, message, name, sorted(known))
    made.option = name
    return made
