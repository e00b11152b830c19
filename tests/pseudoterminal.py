"""Running the command line under a pseudo-terminal, where nothing is stripped on the way."""

import os
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
