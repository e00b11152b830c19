"""The command line: one small file a command."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NoReturn


def main(arguments: Sequence[str] | None = None) -> NoReturn:
    """Run the command line; see `vantric.cli.main.main`.

    Until everything is loaded, Ctrl-C ends the process by the signal itself, without a traceback.
    """
    import signal
    import threading

    if threading.current_thread() is not threading.main_thread():
        from vantric.cli.main import main as whole

        whole(arguments)
    before = signal.signal(signal.SIGINT, signal.SIG_DFL)
    try:
        from vantric.cli.main import main as whole
    finally:
        signal.signal(signal.SIGINT, before)
    whole(arguments)
