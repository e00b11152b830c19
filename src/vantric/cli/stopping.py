"""Ctrl-C, SIGTERM and SIGHUP: a command ends within a second, and leaves nothing behind."""

from __future__ import annotations

import contextlib
import glob
import os
import shutil
import signal
import tempfile
import threading
import time
from collections.abc import Iterator
from types import FrameType
from typing import NoReturn

STOPPED = 130
_PATIENCE = 0.7  # seconds for a command to end by itself


class Stops:
    """Whether a command was asked to stop.

    Attributes
    ----------
    asked
        True from the first signal on: whatever a library makes of the exception, the command was stopped.
    """

    def __init__(self) -> None:
        self.asked = False

    def stop(self, number: int, frame: FrameType | None) -> None:
        """Handle a signal: the first stops the command, the next ones change nothing."""
        if not self.asked:
            self.asked = True
            raise KeyboardInterrupt


@contextlib.contextmanager
def stops() -> Iterator[Stops]:
    """Listen to signals while a command runs; under nohup what is ignored stays so."""
    found = Stops()
    if threading.current_thread() is not threading.main_thread():
        yield found
        return
    usual = {signal.SIG_DFL, signal.default_int_handler}
    numbers = [getattr(signal, name) for name in ("SIGINT", "SIGTERM", "SIGHUP") if hasattr(signal, name)]
    before = {number: signal.getsignal(number) for number in numbers}
    outlet = _watched() if hasattr(os, "fork") else -1  # where code that hears no signal runs, a thread does
    try:
        for number, handler in before.items():
            if handler in usual:
                signal.signal(number, found.stop)
        yield found
    finally:
        if not found.asked:  # once asked, further ones must not cut the tidying short
            for number, handler in before.items():
                signal.signal(number, handler)
        if outlet >= 0:
            signal.set_wakeup_fd(-1)
            os.close(outlet)


def _watched() -> int:
    """Start the thread that ends the process if it does not end by itself; return what wakes it."""
    inlet, outlet = os.pipe()
    os.set_blocking(outlet, False)
    signal.set_wakeup_fd(outlet, warn_on_full_buffer=False)
    threading.Thread(target=_watch, args=(inlet, os.getpid()), daemon=True).start()
    return outlet


def _watch(inlet: int, pid: int) -> None:
    wanted = {signal.SIGINT, signal.SIGTERM, signal.SIGHUP}
    while content := os.read(inlet, 64):
        if wanted.intersection(content):
            time.sleep(_PATIENCE)
            end_now(pid)
    os.close(inlet)


def end_now(pid: int) -> NoReturn:
    """End this process at once; the folders of what it copied to read are removed."""
    for folder in glob.glob(os.path.join(tempfile.gettempdir(), f"vantric-{pid}-*")):  # noqa: PTH118, PTH207
        shutil.rmtree(folder, ignore_errors=True)
    os._exit(STOPPED)
