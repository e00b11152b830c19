"""Files are read only if they have an end, and written whole or not at all."""

from __future__ import annotations

import errno
import io
import os
import stat
from datetime import datetime
from functools import cache
from typing import TYPE_CHECKING

from vantric.base.lazily import compiled
from vantric.errors import TargetError

if TYPE_CHECKING:
    from pathlib import Path

#: Kinds of files that may never end, or never answer.
_KINDS = (
    (stat.S_ISFIFO, "a named pipe"),
    (stat.S_ISSOCK, "a socket"),
    (stat.S_ISCHR, "a device"),
    (stat.S_ISBLK, "a device"),
)

#: The time of every part: the same result gives the same file.
MADE = datetime(2000, 1, 1)
#: Times that the writer puts into the properties of a document.
_WRITTEN = compiled(rb"(<dcterms:(?:modified|created)[^>]*>)[^<]*")


@cache
def temp_prefix(process: int) -> str:
    """Return how the names of a process's temporary folders begin; one of the same number elsewhere has another."""
    return f"vantric-{process}-{os.urandom(8).hex()}-"


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


#: The endings of pictures; the last one is that of a picture in an open grammar.
PICTURES = ("png", "svg", "pdf", "vl.json")
#: Formats of a whole result: sentence, chart, table and findings.
HANDED = ("html", "xlsx", "pptx", "md")
#: Formats that a table alone can be written in.
TABLES = ("csv", "json", *HANDED)
#: Formats from which a chart can be made again.
CHART_FILES = ("toml", "json")


def ending_of(path: Path) -> str:
    """Return the ending of a path, in small letters, without its point: the longest that is known."""
    name = path.name.casefold()
    longer = next((ending for ending in PICTURES if "." in ending and name.endswith(f".{ending}")), "")
    return longer or path.suffix[1:].casefold()


def check_target(path: Path) -> None:
    """Raise `TargetError` if a file at `path` could not be written, before any work is done for it."""
    try:
        _check_target(path)
    except (OSError, ValueError, RuntimeError) as error:  # a name too long, a NUL sign in it, a loop of links
        raise TargetError(f"cannot write '{path}': {reason_of(error)}") from None


def _check_target(path: Path) -> None:
    folder = path.parent
    if path.is_dir():
        raise TargetError(f"cannot write '{path}': it is a folder; give a file name")
    if not folder.is_dir():
        raise TargetError(f"cannot write '{path}': there is no folder '{folder}'; create it first")
    if not os.access(folder, os.W_OK) or (path.exists() and not os.access(path, os.W_OK)):
        raise TargetError(f"cannot write '{path}': no permission; choose another place")


def write_whole(path: Path, content: bytes) -> None:
    """Put `content` at `path`: a file that is there is replaced only by the complete new one.

    Raises
    ------
    TargetError
        If the place cannot be written; nothing is left behind.
    """
    import secrets  # slow to load, and needed by those who write only

    check_target(path)
    temporary: Path | None = None
    try:
        if path.exists() and not path.is_file():  # a pipe or a device is written into, never replaced
            return _write_into(path, content)
        real = path.resolve()  # a link stays a link: the file it points to is replaced
        replaced = real.exists()
        mode = real.stat().st_mode & 0o777 if replaced else 0o666  # of a new file the system takes its mask away
        temporary = real.with_name(f".vantric-{secrets.token_hex(8)}.part")  # a long name would not fit beside its own
        handle = os.open(temporary, os.O_WRONLY | os.O_CREAT | os.O_EXCL | getattr(os, "O_BINARY", 0), mode)
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        if replaced:
            temporary.chmod(mode)
        temporary.replace(real)
        temporary = None
    except (OSError, RuntimeError) as error:
        raise TargetError(f"cannot write '{path}': {reason_of(error)}") from error
    finally:
        if temporary is not None:
            temporary.unlink(missing_ok=True)


def _write_into(path: Path, content: bytes) -> None:
    try:
        with path.open("wb", buffering=0) as file:
            rest = memoryview(content)
            while rest:
                rest = rest[file.write(rest) :]
    except OSError as error:
        raise TargetError(f"cannot write '{path}': {reason_of(error)}") from error


def without_times(content: bytes) -> bytes:
    """Return a workbook or slides as they would be if written at a fixed time."""
    from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

    out = io.BytesIO()
    with ZipFile(io.BytesIO(content)) as old, ZipFile(out, "w", ZIP_DEFLATED) as new:
        for name in old.namelist():
            part = old.read(name)
            if name == "docProps/core.xml":
                part = _WRITTEN.sub(rb"\g<1>" + f"{MADE.isoformat()}Z".encode(), part)
            new.writestr(ZipInfo(name, MADE.timetuple()[:6]), part, ZIP_DEFLATED)
    return out.getvalue()
