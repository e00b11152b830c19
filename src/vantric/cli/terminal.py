"""What is said to people and handed to programs: every line of a command goes through here."""

from __future__ import annotations

import contextlib
import importlib
import os
import shutil
import sys
from typing import IO, AnyStr, BinaryIO, TextIO, TypedDict

from vantric.base.safe_text import visible
from vantric.errors import TargetError


class Terminal(TypedDict):
    """What standard output can show."""

    width: int
    plain: bool
    color: bool


def terminal() -> Terminal:
    """Return the width, signs and colors that standard output can show; 80 plain columns in a pipe."""
    tty = sys.stdout is not None and sys.stdout.isatty()
    forced = bool(os.environ.get("FORCE_COLOR"))
    color = (tty or forced) and not os.environ.get("NO_COLOR") and os.environ.get("TERM") != "dumb"
    encoding = (getattr(sys.stdout, "encoding", "") or "utf-8").casefold().replace("-", "")
    return {"width": shutil.get_terminal_size((80, 24)).columns, "plain": "utf" not in encoding, "color": color}


def prepare_console() -> None:
    """Have signs that a console cannot show written by their number, and older consoles of Windows show colors."""
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")
    if os.name == "nt":
        with contextlib.suppress(ImportError):
            importlib.import_module("colorama").just_fix_windows_console()  # comes with click on Windows


def say(text: str, *, end: str = "\n", styled: bool = False) -> None:
    """Write words for people on standard output; signs that steer a terminal are made visible.

    Parameters
    ----------
    text
        Lines.
    end
        What is behind them.
    styled
        Whether the text holds our own styles, and has been made visible before.
    """
    _write(sys.stdout, (text if styled else visible(text)) + end)


def hand_over(text: str) -> None:
    """Write data on standard output: to a program as they are, in UTF-8 on any system; to a terminal made visible."""
    stream = sys.stdout
    if stream is None or stream.isatty():
        _write(stream, visible(text))
        return
    raw = getattr(stream, "buffer", None)
    if raw is None:  # a stand-in that takes text only
        _write(stream, text)
        return
    _write(stream, "")
    _write_bytes(raw, text.encode("utf-8", "backslashreplace"))


def warn(text: str) -> None:
    """Write a line on standard error; if that is closed, nobody listens."""
    with contextlib.suppress(OSError, ValueError):
        if sys.stderr is not None:
            sys.stderr.write(f"{visible(text)}\n")
            sys.stderr.flush()


def flush() -> None:
    """Have standard output take what was written to it."""
    if sys.stdout is not None:
        _write(sys.stdout, "")


def drop_broken() -> None:
    """Drop what standard output does not take, so that ending does not fail on it."""
    with contextlib.suppress(TargetError):
        flush()


def _write(stream: TextIO | None, text: str) -> None:
    if stream is None:
        raise TargetError("standard output is closed; write the result to a file with --out")
    _handed(stream, text)


def _write_bytes(stream: BinaryIO, content: bytes) -> None:
    _handed(stream, content)


def _handed(stream: IO[AnyStr], content: AnyStr) -> None:
    """Write to a stream, and say in one line why that cannot be."""
    try:
        stream.write(content)
        stream.flush()
    except BrokenPipeError:  # the reader, such as `head`, has seen enough
        _to_nowhere(stream)
    except (OSError, ValueError) as error:
        # The reader has gone, or the disk is full: nothing may be written at exit either.
        _to_nowhere(stream)
        reason = getattr(error, "strerror", None) or error
        raise TargetError(f"cannot write to standard output: {reason}") from None


def _to_nowhere(stream: IO[AnyStr]) -> None:
    with contextlib.suppress(OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, stream.fileno())
        os.close(nowhere)
