"""What is made when it is first asked for, and once: names, values of results, frozen classes, patterns of text."""

from __future__ import annotations

import dataclasses
import functools
import importlib
import re
import threading
from collections.abc import Callable, Mapping
from functools import cache
from reprlib import recursive_repr
from typing import TYPE_CHECKING, Any, AnyStr, TypeVar, overload

T = TypeVar("T")


def on_first_use(package: str, homes: Mapping[str, str]) -> Callable[[str], Any]:
    """Return the ``__getattr__`` of a package whose names are loaded on first use.

    Parameters
    ----------
    package
        Its name.
    homes
        A module, one of the package or any other by its full name -> the names in it, with spaces between them.
    """
    home_of = {name: home for home, names in homes.items() for name in names.split()}

    def load(name: str) -> Any:
        home = home_of.get(name)
        if home is None:
            raise AttributeError(f"module '{package}' has no attribute '{name}'")
        full = home if home.startswith("vantric.") else f"{package}.{home}"
        value = getattr(importlib.import_module(full), name)
        vars(importlib.import_module(package))[name] = value
        return value

    return load


class cached_property(functools.cached_property[T]):  # noqa: N801 (the name of what it stands in for)
    """A cached property without a lock.

    Up to Python 3.11 the standard one has a lock a class: a process forked while another thread holds it hangs.
    Two threads may work one value out twice; it is the same.
    """

    @overload
    def __get__(self, instance: None, owner: type[Any] | None = None) -> cached_property[T]: ...
    @overload
    def __get__(self, instance: object, owner: type[Any] | None = None) -> T: ...
    def __get__(self, instance: object | None, owner: type[Any] | None = None) -> cached_property[T] | T:
        """Return the value, kept among the attributes of the instance from then on."""
        if instance is None:
            return self
        value: T = self.func(instance)
        vars(instance)[str(self.attrname)] = value
        return value


def remembered(of: object, name: str, make: Callable[[], T]) -> T:
    """Return what was made for a frozen result before, under a name; made now if nothing was.

    For what a room further down the street works out of it, and is asked for by the review, the view and the picture.
    """
    attributes = vars(of)
    if name not in attributes:
        attributes[name] = make()
    value: T = attributes[name]
    return value


class _Lazy:
    """An attribute of a class that is worked out, with all else of its kind, when it is first asked for."""

    def __init__(self, owner: type[Any], name: str) -> None:
        self._owner, self._name = owner, name

    def __get__(self, instance: object, owner: type[Any]) -> Any:
        if self._name != "__signature__":
            _finish(self._owner)
            return self._owner.__dict__[self._name]
        import inspect

        _finish(owner)
        plain = inspect.signature(owner.__init__)
        return plain.replace(parameters=list(plain.parameters.values())[1:])


#: Two threads may need a class for the first time at once.
_LOCK = threading.RLock()


def frozen_class(*, eq: bool = True, repr: bool = True, init: bool = True, kw_only: bool = False) -> Callable[[T], T]:
    """Return a decorator as that of the standard library, for frozen classes, that does its work on first use.

    There are many classes, and a command needs few of them. Comparison and text are written once for all; ``__init__``
    is written when a class is first called, its fields when they are first asked for. `dataclasses.fields`, `replace`,
    `copy` and `pickle` work as they do with the standard one.
    """

    def made(cls: Any) -> Any:
        own = cls.__dict__
        cls.__dataclass_fields__ = _Lazy(cls, "__dataclass_fields__")
        cls.__dataclass_params__ = _Lazy(cls, "__dataclass_params__")
        cls._lazy_options = {"init": init, "kw_only": kw_only}
        cls.__setattr__, cls.__delattr__ = _refuse_set, _refuse_delete
        if init:
            cls.__init__ = _first_init(cls)
            cls.__signature__ = _Lazy(cls, "__signature__")
        if repr and "__repr__" not in own:
            cls.__repr__ = _repr
        if eq:
            if own.get("__hash__") is None:
                cls.__hash__ = _hash
            if "__eq__" not in own:
                cls.__eq__ = _eq
        return cls

    return made


if TYPE_CHECKING:  # for whoever checks types it is the standard one
    from dataclasses import dataclass as dataclass
else:

    def dataclass(*, frozen: bool, **options: Any) -> Callable[[T], T]:
        """Return the decorator of a frozen class."""
        if not frozen:
            raise TypeError("only frozen classes are made lazily: take that of the standard library")
        return frozen_class(**options)


def _finish(cls: Any) -> None:
    """Work out the fields of a class, and write its ``__init__``."""
    with _LOCK:
        if not isinstance(cls.__dict__.get("__dataclass_fields__"), _Lazy):
            return
        options = cls._lazy_options
        del cls.__setattr__, cls.__delattr__  # the standard decorator sets its own
        dataclasses.dataclass(frozen=True, init=False, repr=False, eq=False, kw_only=options["kw_only"])(cls)
        if options["init"]:
            cls.__init__ = _init_of(cls)


def _first_init(cls: Any) -> Any:
    def __init__(self: Any, *values: Any, **named: Any) -> None:  # noqa: N807
        _finish(cls)
        cls.__init__(self, *values, **named)

    return __init__


def _init_of(cls: Any) -> Any:
    """Return the ``__init__`` of a class whose fields are known."""
    plain: list[str] = []
    named: list[str] = []
    lines: list[str] = []
    globals_of: dict[str, Any] = {"_missing_": dataclasses.MISSING}
    for field in dataclasses.fields(cls):
        name, value = field.name, field.name
        if field.default_factory is not dataclasses.MISSING:
            globals_of[f"_make_{name}"] = field.default_factory
            value = f"_make_{name}() if {name} is _missing_ else {name}" if field.init else f"_make_{name}()"
        elif not field.init:
            continue
        if field.default is not dataclasses.MISSING:
            globals_of[f"_default_{name}"] = field.default
        default = (
            f"=_default_{name}"
            if field.default is not dataclasses.MISSING
            else "=_missing_"
            if field.default_factory is not dataclasses.MISSING
            else ""
        )
        if field.init:
            (named if field.kw_only else plain).append(f"{name}{default}")
        lines.append(f"    _own_[{name!r}] = {value}")
    parameters = ", ".join(["self", *plain, *(["*", *named] if named else [])])
    after = ["    self.__post_init__()"] if hasattr(cls, "__post_init__") else []
    text = "\n".join([f"def __init__({parameters}):", "    _own_ = self.__dict__", *lines, *after])
    exec(text, globals_of)
    init = globals_of["__init__"]
    init.__qualname__, init.__module__ = f"{cls.__qualname__}.__init__", cls.__module__
    return init


def _refuse_set(self: object, name: str, value: object) -> None:
    raise dataclasses.FrozenInstanceError(f"cannot assign to field {name!r}")


def _refuse_delete(self: object, name: str) -> None:
    raise dataclasses.FrozenInstanceError(f"cannot delete field {name!r}")


@recursive_repr()
def _repr(self: Any) -> str:
    fields = ", ".join(
        f"{field.name}={getattr(self, field.name)!r}" for field in dataclasses.fields(self) if field.repr
    )
    return f"{type(self).__qualname__}({fields})"


def _eq(self: Any, other: Any) -> Any:
    if other.__class__ is not self.__class__:
        return NotImplemented
    names = _compared(self.__class__)
    return [getattr(self, name) for name in names] == [getattr(other, name) for name in names]


def _hash(self: Any) -> int:
    return hash(tuple([getattr(self, name) for name in _hashed(self.__class__)]))


@cache
def _compared(of: Any) -> tuple[str, ...]:
    """Return the names of the fields of a class that its objects are compared by."""
    return tuple(field.name for field in dataclasses.fields(of) if field.compare)


@cache
def _hashed(of: Any) -> tuple[str, ...]:
    fields = dataclasses.fields(of)
    return tuple(field.name for field in fields if (field.compare if field.hash is None else field.hash))


class _LazyPattern:
    """A pattern of text that is compiled when it is first used; then it is as quick as any."""

    def __init__(self, text: str | bytes, flags: int) -> None:
        self._text, self._flags = text, flags

    def __getattr__(self, name: str) -> Any:
        ready = re.compile(self._text, self._flags)
        own = vars(self)
        for method in ("search", "match", "fullmatch", "sub", "subn", "split", "findall", "finditer", "pattern"):
            own[method] = getattr(ready, method)
        return getattr(ready, name)


def compiled(text: AnyStr, flags: int = 0) -> re.Pattern[AnyStr]:
    """Return a pattern of text; a module has many, and a command needs few of them."""
    return _LazyPattern(text, flags)  # type: ignore[return-value]
