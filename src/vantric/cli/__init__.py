"""The command line.

In come arguments; out go results on standard output and remarks on standard error. `main` finds the command and turns
errors into one line; `command` makes a command of option classes, `flags` derives its flags, `results` runs it in the
one order of all commands: check, read, review, write, report. Commands that only hand over a result are in `counting`;
the others have a file each. `completers` offers what a shell completes, and quotes it. Start with
`counting.run_tally`.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NoReturn


def main(arguments: Sequence[str] | None = None) -> NoReturn:
    """Run the command line; see `vantric.cli.main.main`.

    Until everything is loaded, Ctrl-C ends the process by the signal itself, without a traceback.
    """
    import signal

    quiet = signal.getsignal(signal.SIGINT) is signal.default_int_handler and _in_main_thread()
    if quiet:
        signal.signal(signal.SIGINT, signal.SIG_DFL)
    try:
        from vantric.cli.main import main as whole
    finally:
        if quiet:
            signal.signal(signal.SIGINT, signal.default_int_handler)
    whole(arguments)


def _in_main_thread() -> bool:
    import threading

    return threading.current_thread() is threading.main_thread()
