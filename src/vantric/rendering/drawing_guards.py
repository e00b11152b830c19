"""What guards drawing: one thread at a time, settings that Matplotlib takes, and who hears what a picture lacks."""

from __future__ import annotations

import os
import threading
import warnings
from collections.abc import Callable
from typing import TypeAlias

from vantric.errors import ChartError

Telling: TypeAlias = Callable[[str], object]


def warn(message: str) -> None:
    """Tell what a caller in Python should know, as a `UserWarning`."""
    warnings.warn(message, stacklevel=3)


def check_settings() -> None:
    """Raise `ChartError` if Matplotlib refuses its own settings, such as the environment's MPLBACKEND."""
    try:
        import matplotlib  # noqa: F401
    except ValueError as error:
        message = f"Matplotlib does not accept its settings: {error}; correct MPLBACKEND or matplotlibrc"
        raise ChartError(message) from None


class DrawingLock:
    """One thread draws at a time: Matplotlib keeps its settings and faces for the whole process.

    A fork waits until no other thread draws, so that the child finds settings and faces whole; the child has a lock of
    its own. Whoever waits holds the gate, which all must pass: so a thread that draws without a pause cannot keep the
    others waiting.
    """

    def __init__(self) -> None:
        self._renew()

    def _renew(self) -> None:
        self._gate, self._lock, self._own = threading.Lock(), threading.Lock(), threading.local()

    def __enter__(self) -> None:
        depth = getattr(self._own, "depth", 0)
        if not depth:
            with self._gate:
                self._lock.acquire()
        self._own.depth = depth + 1

    def __exit__(self, *_: object) -> None:
        self._own.depth -= 1
        if not self._own.depth:
            self._lock.release()

    def hold(self) -> None:
        """Wait until nobody else draws."""
        self.__enter__()

    def let_go(self) -> None:
        """Let others draw again."""
        self.__exit__()

    def renew(self) -> None:
        """Begin again in the child of a fork."""
        self._renew()


#: Threads that take turns write pictures faster than threads that all compute at once.
DRAWING = DrawingLock()
if hasattr(os, "register_at_fork"):
    os.register_at_fork(before=DRAWING.hold, after_in_parent=DRAWING.let_go, after_in_child=DRAWING.renew)
