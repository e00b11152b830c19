"""What a result works out once, when it is first asked for."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import Any, TypeVar, overload

T = TypeVar("T")


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
