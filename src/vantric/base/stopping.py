"""Work that ends when it is reported to: at Ctrl-C, and when its time is over."""

from __future__ import annotations

import threading
from collections.abc import Callable
from time import monotonic
from typing import TypeVar

from vantric.errors import SourceError

T = TypeVar("T")
_PATIENCE = 0.5  # seconds for an interrupted work to end by itself


class OverdueError(SourceError):
    """A source was not read within the time that it was given."""


def overdue() -> OverdueError:
    """Return the error for a work whose time is over."""
    return OverdueError("the time given with timeout is over; filter the source, or give it more time")


def stoppable(work: Callable[[], T], interrupt: Callable[[], object], until: float | None = None) -> T:
    """Return what a work returns, or raise what it raises.

    The work goes on in a thread of its own, so that the main thread hears Ctrl-C at once, whatever the work is at.

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
    if until is None and threading.current_thread() is not threading.main_thread():
        return work()
    done = threading.Event()
    results: list[T] = []
    failed: list[BaseException] = []

    def run() -> None:
        try:
            results.append(work())
        except BaseException as error:  # it is raised again in the thread that waits
            failed.append(error)
        finally:
            done.set()

    try:
        threading.Thread(target=run, daemon=True).start()
        in_time = done.wait(None if until is None else max(0.0, until - monotonic()))
    except BaseException:  # Ctrl-C reaches the waiting thread: the work has to be ended first
        interrupt()
        done.wait(_PATIENCE)
        raise
    if not in_time:
        interrupt()
        done.wait(_PATIENCE)
        raise overdue()
    if failed:
        raise failed[0]
    return results[0]
