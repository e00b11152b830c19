"""Work that ends when it is reported to: at Ctrl-C, and when its time is over."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import copy_context
from time import monotonic
from typing import TypeVar

from vantric.errors import SourceError

T = TypeVar("T")
_PATIENCE = 0.5  # seconds for an interrupted work to end by itself
_GRACE = 0.7  # seconds for a work to notice that its time is over


class OverdueError(SourceError):
    """A source was not read within the time that it was given."""


def overdue() -> OverdueError:
    """Return the error for a work whose time is over."""
    return OverdueError("the time given with timeout is over; filter the source, or give it more time")


def check_time(until: float | None) -> None:
    """Raise `OverdueError` if a time is over; None is never over."""
    if until is not None and monotonic() > until:
        raise overdue()


class _Worker(threading.Thread):
    """A work in a thread of its own.

    Attributes
    ----------
    interrupts
        What ends the works that it has begun itself.
    """

    def __init__(self, work: Callable[[], object]) -> None:
        super().__init__(daemon=True)
        self.interrupts: list[Callable[[], object]] = []
        self.results: list[object] = []
        self.error: BaseException | None = None
        self.done = threading.Event()
        self._work, self._context = work, copy_context()  # settings such as those of arithmetic are the caller's

    def run(self) -> None:
        try:
            self.results.append(self._context.run(self._work))
        except BaseException as error:  # it is raised again in the thread that waits
            self.error = error
        finally:
            self.done.set()

    def end(self, interrupt: Callable[[], object]) -> bool:
        """Interrupt the work and whatever it has begun; return whether it ends."""
        for stop in (interrupt, *self.interrupts):
            stop()
        return self.done.wait(_PATIENCE)


def stoppable(work: Callable[[], T], interrupt: Callable[[], object], until: float | None = None) -> T:
    """Return what a work returns, or raise what it raises.

    The work goes on in a thread of its own, so that the main thread hears Ctrl-C at once, whatever the work is at. One
    that does not end when its time is over is left alone.

    Parameters
    ----------
    work
        What is done, in code that does not listen to signals itself.
    interrupt
        What asks it to end; called from another thread.
    until
        When its time is over, by `time.monotonic`.

    Raises
    ------
    OverdueError
        If it was not done in time.
    """
    with _known_to_its_thread(interrupt):
        if until is None and threading.current_thread() is not threading.main_thread():
            return work()
        worker = _Worker(work)
        try:
            worker.start()
            in_time = worker.done.wait(None if until is None else max(0.0, until - monotonic()))
        except BaseException:  # Ctrl-C reaches the waiting thread: the work has to be ended first
            worker.end(interrupt)
            raise
        if not in_time:
            worker.end(interrupt)
            raise overdue()
    if worker.error is not None:
        raise worker.error
    return worker.results[0]  # type: ignore[return-value]


@contextmanager
def _known_to_its_thread(interrupt: Callable[[], object]) -> Iterator[None]:
    """Have what ends a work called too when the work that begins it is ended."""
    thread = threading.current_thread()
    interrupts = thread.interrupts if isinstance(thread, _Worker) else []
    interrupts.append(interrupt)
    try:
        yield
    finally:
        interrupts.remove(interrupt)


def is_left_alone() -> bool:
    """Whether a work goes on that did not end when its time was over."""
    return any(isinstance(thread, _Worker) for thread in threading.enumerate())


def in_time(work: Callable[[], T], seconds: float | None) -> T:
    """Return what a work returns that ends itself in time; if it does not, it is left alone a second later.

    Parameters
    ----------
    work
        What is done.
    seconds
        How long it may take; None if it may take as long as it takes.

    Raises
    ------
    OverdueError
        If it was not done in time.
    """
    return work() if seconds is None else stoppable(work, lambda: None, monotonic() + seconds + _GRACE)
