"""Files that have an end: regular ones, and no larger than what is expected."""

from __future__ import annotations

import errno
import os
import stat
from pathlib import Path

_KINDS = (
    (stat.S_ISFIFO, "a named pipe"),
    (stat.S_ISSOCK, "a socket"),
    (stat.S_ISCHR, "a device"),
    (stat.S_ISBLK, "a device"),
)


def check_regular(path: Path) -> None:
    """Raise `OSError`, with the reason in `strerror`, if a path names no regular file; ``/dev/stdin`` is none either.

    A pipe would be waited for, and can be read once only.
    """
    try:
        mode = path.stat().st_mode
    except ValueError:  # a NUL sign in it
        raise FileNotFoundError(errno.ENOENT, os.strerror(errno.ENOENT)) from None
    if stat.S_ISDIR(mode):
        raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR))
    kind = next((name for is_one, name in _KINDS if is_one(mode)), None)
    if kind is not None:
        raise OSError(errno.EINVAL, f"it is {kind}, not a file; read it as standard input, with the source -")


def content_of(path: Path, most: int) -> bytes:
    """Return the content of a small file.

    Raises
    ------
    OSError
        If it cannot be read, is no regular file, or has more than `most` bytes.
    """
    check_regular(path)
    with path.open("rb") as file:
        content = file.read(most + 1)
    if len(content) > most:
        raise OSError(errno.EFBIG, f"it is larger than {most / 1e6:,.0f} MB")
    return content


def reason_of(error: Exception) -> str:
    """Return what an error of reading or decoding says, without its number and the path."""
    return getattr(error, "strerror", None) or str(error)
