"""Work in a process of its own, whose memory and time are bounded whatever it does."""

from __future__ import annotations

import contextlib
import io
import os
import pickle
import select
import signal
import tempfile
from collections.abc import Callable
from pathlib import Path
from time import monotonic
from typing import Any, NoReturn, TypeVar

from vantric.base.stopping import overdue
from vantric.errors import SourceError
from vantric.reading.settings import Limits

T = TypeVar("T")
_SLACK = 700  # MB of addresses that the engine takes beside its memory
_MEGABYTE = 1 << 20


def in_subprocess(work: Callable[[], T], limits: Limits) -> T:
    """Return what a work returns, or raise what it raises; it is done in a forked process.

    Parameters
    ----------
    work
        What is done; its result can be pickled.
    limits
        The process may take the memory beside what this one has, and is killed when its time is over.

    Raises
    ------
    SourceError
        If it takes more memory or time than that, or this system has no fork.
    """
    if not hasattr(os, "fork"):
        raise SourceError("allow_functions needs a system that can fork, such as Linux; use ordinary functions")
    with tempfile.TemporaryDirectory(prefix=f"vantric-{os.getpid()}-") as folder:
        inlet, outlet = os.pipe()
        pid = os.fork()
        if pid == 0:
            os.close(inlet)
            _child(work, limits, folder, outlet)
        os.close(outlet)
        try:
            content = _received(inlet, limits.until)
        finally:
            os.close(inlet)
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)
            os.waitpid(pid, 0)
    t: T = _opened(content, limits)
    return t


def _child(work: Callable[[], Any], limits: Limits, folder: str, outlet: int) -> NoReturn:
    status = 1
    try:
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, signal.SIG_DFL)
        signal.set_wakeup_fd(-1)
        tempfile.tempdir = folder
        _bound(limits.memory + _SLACK)
        try:
            content = pickle.dumps((True, work()))
        except Exception as error:  # it is raised again in the parent
            content = pickle.dumps((False, error))
        with os.fdopen(outlet, "wb") as file:
            file.write(content)
        status = 0
    finally:
        os._exit(status)


def _bound(megabytes: int) -> None:
    """Bound the addresses that this process takes from now on."""
    import resource

    try:
        pages = int(Path("/proc/self/statm").read_text(encoding="ascii").split()[0])
    except OSError:  # no such file on this system: the limit counts from zero
        pages = 0
    most = pages * resource.getpagesize() + megabytes * _MEGABYTE
    hard = resource.getrlimit(resource.RLIMIT_AS)[1]
    resource.setrlimit(resource.RLIMIT_AS, (most if hard == resource.RLIM_INFINITY else min(most, hard), hard))


def _received(inlet: int, until: float | None) -> bytes:
    buffer = io.BytesIO()
    while True:
        left = None if until is None else max(0.0, until - monotonic())
        if not select.select([inlet], [], [], left)[0]:
            raise overdue()
        chunk = os.read(inlet, _MEGABYTE)
        if not chunk:
            return buffer.getvalue()
        buffer.write(chunk)


def _opened(content: bytes, limits: Limits) -> Any:
    try:
        fine, result = pickle.loads(content)
    except (pickle.UnpicklingError, EOFError):
        raise _too_large(limits) from None
    if isinstance(result, MemoryError):
        raise _too_large(limits)
    if not fine:
        raise result
    return result


def _too_large(limits: Limits) -> SourceError:
    return SourceError(f"where: it takes more memory than {limits.memory} MB; ask for less, or give it more memory")
