"""Writing a file whole or not at all."""

from __future__ import annotations

import os
from pathlib import Path

from vantric.errors import TargetError


def check_target(path: Path) -> None:
    """Raise `TargetError` if a file at `path` could not be written, before any work is done for it."""
    folder = path.parent
    if path.is_dir():
        raise TargetError(f"cannot write '{path}': it is a folder; give a file name")
    if not folder.is_dir():
        raise TargetError(f"cannot write '{path}': there is no folder '{folder}'; make it first")
    if not os.access(folder, os.W_OK) or (path.exists() and not os.access(path, os.W_OK)):
        raise TargetError(f"cannot write '{path}': no permission; choose another place")


def write_whole(path: Path, content: bytes) -> None:
    """Put `content` at `path`: a file that is there is replaced only by the complete new one.

    Raises
    ------
    TargetError
        If the place cannot be written; nothing is left behind.
    """
    import tempfile  # slow to load, and needed by those who write only

    check_target(path)
    real = path.resolve()  # a link stays a link: the file it points to is replaced
    temporary: Path | None = None
    try:
        handle, name = tempfile.mkstemp(dir=real.parent, prefix=f".{real.name}.", suffix=".part")
        temporary = Path(name)
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        temporary.chmod(_mode(real))
        temporary.replace(real)
        temporary = None
    except OSError as error:
        raise TargetError(f"cannot write '{path}': {error.strerror or error}") from error
    finally:
        if temporary is not None:
            temporary.unlink(missing_ok=True)


def _mode(path: Path) -> int:
    """Return the permissions of the file that is replaced, or those a new file would get."""
    if path.exists():
        return path.stat().st_mode & 0o777
    mask = os.umask(0)
    os.umask(mask)
    return 0o666 & ~mask
