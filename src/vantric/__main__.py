"""The program: ``vantric``, and ``python -m vantric``. It starts and ends as quickly as its work allows."""

from __future__ import annotations

import atexit
import gc
import os
import sys
import threading
from typing import NoReturn

#: New objects between two searches for garbage, and how many of those come before a wider one: what is loaded, and the
#: labels of millions of records, are none, and a search takes as long as there is much.
_OBJECTS, _SEARCHES, _WIDER = 300_000, 20, 1_000


def main() -> NoReturn:
    """Run the command line and end the process."""
    gc.set_threshold(_OBJECTS, _SEARCHES, _WIDER)
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # nothing here needs threads for matrices, and they take long
    from vantric.cli import main as commands

    try:
        commands()
    except SystemExit as end:
        _end(end.code)


def _end(status: object) -> NoReturn:
    """End the process once all is written and closed, without taking the interpreter down piece by piece.

    What was registered for the end is done first; where a thread goes on or a stream is broken, Python ends as always.
    """
    others = (thread for thread in threading.enumerate() if thread is not threading.main_thread())
    if not isinstance(status, int) or threading.current_thread() is not threading.main_thread():
        sys.exit(status)  # type: ignore[arg-type]
    if any(not thread.daemon for thread in others):
        sys.exit(status)
    atexit._run_exitfuncs()
    try:
        for stream in (sys.stdout, sys.stderr):
            if stream is not None:
                stream.flush()
    except (OSError, ValueError):
        sys.exit(status)
    os._exit(status)


if __name__ == "__main__":
    main()
