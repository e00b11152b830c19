"""The classes that hold options, how they are made from names and values, and the signatures that follow."""

from __future__ import annotations

import inspect
from collections.abc import Iterable, Mapping
from dataclasses import MISSING, Field, FrozenInstanceError, dataclass, fields
from functools import cache
from typing import Any, ClassVar, Self, dataclass_transform, get_type_hints

from vantric.errors import UnknownOptionError, unknown
from vantric.options.declaration import KEY, NOTHING, Option
from vantric.options.option_types import spelled


def parameter_of(option: Option) -> inspect.Parameter:
    """Return an option as a keyword."""
    default = inspect.Parameter.empty if option.default is NOTHING else option.default
    return inspect.Parameter(
        option.name, inspect.Parameter.KEYWORD_ONLY, default=default, annotation=spelled(option.kind, stub=True)
    )


def signature_of(fields: Iterable[Field[Any]], options: Mapping[str, Option]) -> inspect.Signature:
    """Return the signature of a class of options: what has a place, then the options by name."""
    placed = [
        inspect.Parameter(
            field.name,
            inspect.Parameter.POSITIONAL_OR_KEYWORD,
            default=inspect.Parameter.empty if field.default is MISSING else field.default,
            annotation=spelled(options[field.name].kind, stub=True) if field.name in options else field.type,
        )
        for field in fields
        if not field.kw_only
    ]
    named = {parameter.name for parameter in placed}
    return inspect.Signature(
        [*placed, *(parameter_of(option) for name, option in options.items() if name not in named)]
    )


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
        own = {name: cls.section for name, attribute in vars(cls).items() if isinstance(attribute, Field)}
        cls.sections = {name: title for part in (*inherited, own) for name, title in part.items()}
        dataclass(init=False, repr=False, eq=False, kw_only=kw_only)(cls)
        cls._made_of = tuple((field.name, field.default, field.default_factory, field.kw_only) for field in fields(cls))  # type: ignore[arg-type, misc]

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
            options = known_options(type(self))
            raise unknown_option(next(name for name in named if name not in own), options)
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
        text = ", ".join(f"{name}={value!r}" for name, value in self.changed().items())
        return f"{type(self).__name__}({text})"

    def __post_init__(self) -> None:
        """Check every value that is not the default."""
        for known_option in known_options(type(self)).values():
            value = getattr(self, known_option.name)
            if value is not known_option.default:
                checked = known_option.checked(value)
                if checked is not value:
                    object.__setattr__(self, known_option.name, checked)

    @classmethod
    def from_keywords(cls, content: Mapping[str, Any]) -> Self:
        """Return the options from names and values.

        Raises
        ------
        UnknownOptionError
            For a name that is not known, with the nearest one.
        OptionError
            For a value of another type, or outside its range.
        """
        return split_options(content, cls)[0]  # type: ignore[no-any-return]

    def changed(self) -> dict[str, Any]:
        """Return the names and values of the options that are not as they are by default."""
        return {
            name: value
            for name, known_option in known_options(type(self)).items()
            if (value := getattr(self, name)) is not known_option.default and value != known_option.default
        }


def known_options(*kinds: type) -> dict[str, Option]:
    """Return the options of classes by name, in their order."""
    loose: tuple[Any, ...] = kinds
    return (
        {name: option for kind in loose for name, option in _known(kind).items()} if len(loose) > 1 else _known(*loose)
    )


@cache
def _known(kind: Any) -> dict[str, Option]:
    hints = get_type_hints(kind)
    sections: dict[str, str] = getattr(kind, "sections", {})
    declared = [(field, field.metadata[KEY]) for field in fields(kind) if KEY in field.metadata]
    return {
        field.name: Option(
            field.name,
            hints[field.name],
            _default(field),
            declaration,
            declaration.section or sections.get(field.name, ""),
        )
        for field, declaration in declared
    }


def _default(field: Field[Any]) -> Any:
    if field.default is not MISSING:
        return field.default
    return field.default_factory() if field.default_factory is not MISSING else NOTHING


@cache
def _known_in(place: str, *kinds: Any) -> tuple[dict[str, Option], tuple[str, ...]]:
    """Return the options that can be given in a place, and the names of those that must be."""
    options = {
        name: known_option for name, known_option in known_options(*kinds).items() if known_option.in_place(place)
    }
    return options, tuple(name for name, option in options.items() if option.default is NOTHING)


def split_options(content: Mapping[str, Any], *kinds: type, place: str = "python") -> list[Any]:
    """Return one instance of each class from names and values.

    Parameters
    ----------
    content
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
    options, required = _known_in(place, *kinds)
    for name in content:
        if name not in options:
            raise unknown_option(name, options)
    for name in required:
        if name not in content:
            option = options[name]
            raise option.error(f"{name} is missing; give {'it' if place != 'command' else option.flag}: {option.help}")
    return [kind(**{name: content[name] for name in known_options(kind) if name in content}) for kind in kinds]


def unknown_option(name: str, options: Mapping[str, Option]) -> UnknownOptionError:
    """Return the error for a name that is not known: with what it is called here, the nearest, or all names."""
    from vantric.options.migrations import synonym  # needed by errors only

    message = f"unexpected keyword argument '{name}'"
    text = synonym(name, options)
    if text:
        error = UnknownOptionError(f"{message}; use {text}", value=name, known=options, hint=f"use {text}")
    else:
        error = unknown(UnknownOptionError, message, name, sorted(options))
    error.option = name
    return error
