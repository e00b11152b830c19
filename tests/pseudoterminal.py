"""Running the command line under a pseudo-terminal, where nothing is stripped on the way."""

import os
import re
import subprocess
import sys
from pathlib import Path


def shown(*arguments: object, folder: Path) -> bytes:
    """Return what a command sends to a terminal, standard error included."""
    import pty

    leader, follower = pty.openpty()
    command = [sys.executable, "-m", "vantric", *map(str, arguments)]
    environment = {**os.environ, "TERM": "xterm", "COLUMNS": "120"}
    with subprocess.Popen(
        command, stdin=follower, stdout=follower, stderr=follower, cwd=folder, env=environment, start_new_session=True
    ):
        os.close(follower)
        found = b""
        while True:
            try:
                piece = os.read(leader, 65536)
            except OSError:  # the other end is closed
                break
            if not piece:
                break
            found += piece
    os.close(leader)
    return found


def typed(
    arguments: list[str],
    keys: list[str],
    folder: Path,
    environment: dict[str, str] | None = None,
    patience: float = 0.5,
    width: int = 0,
) -> tuple[int, str]:
    """Run a program in a terminal of its own and type keys, each when it waits; return its status and what it showed.

    It waits when nothing more has come for so many seconds. A question about the cursor is answered.
    """
    import fcntl
    import pty
    import select
    import struct
    import termios

    child, leader = pty.fork()
    if child == 0:
        os.chdir(folder)
        os.environ.update({"TERM": "xterm", "COLUMNS": "100", "LINES": "40", **(environment or {})})
        os.execvp(arguments[0], arguments)
    if width:
        fcntl.ioctl(leader, termios.TIOCSWINSZ, struct.pack("HHHH", 60, width, 0, 0))
    found, left, quiet = b"", list(keys), 0
    while True:
        try:
            ready = bool(select.select([leader], [], [], patience)[0])
            piece = os.read(leader, 65536) if ready else b""
        except OSError:
            break
        if ready and not piece:
            break
        found += piece
        if b"\x1b[6n" in piece:
            os.write(leader, b"\x1b[1;1R")
        quiet = 0 if piece else quiet + 1
        if not piece and left and (found or quiet > 10):
            os.write(leader, left.pop(0).encode())
            quiet = 0
        if quiet > 120:  # a minute
            os.kill(child, 9)
            break
    os.close(leader)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), found.decode("utf-8", "replace")


def plain(shown: str) -> str:
    """Return what a terminal was sent without what steers it, all blanks as one."""
    return " ".join(re.sub(r"\x1b\[[0-9;?]*[A-Za-z]|\x08", " ", shown).split())
