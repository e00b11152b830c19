"""Arithmetic that does not depend on its caller: our own context of decimals and state of float errors."""

from __future__ import annotations

import functools
import sys
from collections.abc import Callable
from contextlib import AbstractContextManager, nullcontext
from contextvars import ContextVar
from decimal import ROUND_HALF_EVEN, Context, DivisionByZero, InvalidOperation, Overflow, localcontext
from typing import Any, TypeVar

from vantric.errors import VantricError

F = TypeVar("F", bound=Callable[..., Any])
#: Decimals as Python has them if nobody changes it.
_DECIMALS = Context(
    prec=28,
    rounding=ROUND_HALF_EVEN,
    Emin=-999_999,
    Emax=999_999,
    capitals=1,
    clamp=0,
    flags=[],
    traps=[InvalidOperation, DivisionByZero, Overflow],
)
#: Whether the settings are ours already.
_ours: ContextVar[bool] = ContextVar("_ours", default=False)
#: Methods of a class that users call without naming them.
_CALLED = frozenset(
    {"__init__", "__post_init__", "__repr__", "__str__", "__getitem__", "_repr_html_", "_repr_mimebundle_"}
)


def own_arithmetic(function: F) -> F:
    """Have a function compute with our settings, whatever those of its caller are; they are restored after it.

    What it complains of is raised here, so that the traceback of a mistake is short.
    """

    @functools.wraps(function)
    def computed(*arguments: Any, **options: Any) -> Any:
        if _ours.get():
            return function(*arguments, **options)
        token = _ours.set(True)
        try:
            with localcontext(_DECIMALS), _float_errors():
                return function(*arguments, **options)
        except VantricError as error:
            raise error.with_traceback(None) from None
        finally:
            _ours.reset(token)

    return computed  # type: ignore[return-value]


def _float_errors() -> AbstractContextManager[Any]:
    """Return NumPy's own settings; what is not loaded has them."""
    numpy: Any = sys.modules.get("numpy")
    return numpy.errstate(divide="warn", over="warn", under="ignore", invalid="warn") if numpy else nullcontext()


def compute_alone(kind: type) -> None:
    """Have the public methods and properties of a class compute with our settings."""
    for name, member in list(vars(kind).items()):
        if name.startswith("_") and name not in _CALLED:
            continue
        if isinstance(member, property):
            setattr(kind, name, property(own_arithmetic(member.fget), doc=member.__doc__) if member.fget else member)
        elif isinstance(member, classmethod | staticmethod):
            setattr(kind, name, type(member)(own_arithmetic(member.__func__)))
        elif isinstance(member, functools.cached_property):
            member.func = own_arithmetic(member.func)
        elif callable(member) and not isinstance(member, type):
            setattr(kind, name, own_arithmetic(member))
