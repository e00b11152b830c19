"""Running what a page shows: its commands and its Python, in a folder that holds the sheets.

A page has blocks of code. ``console`` holds commands, each behind ``$``; ``text`` right behind it is what they show,
with any other lines between; ``python`` is run as it is. All blocks of a page run in one folder, in their order.
"""

from __future__ import annotations

import contextlib
import io
import os
import re
import shlex
import shutil
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from vantric.cli.main import run
from vantric.demo import DATA, data_file

DOCS = Path(__file__).parent.parent
SHEETS = DOCS / "howto" / "sheets"
_BLOCK = re.compile(r"^```(\w+)[^\n]*\n(.*?)^```$", re.MULTILINE | re.DOTALL)
_INDENTED = re.compile(r"^    (vantric .*)$", re.MULTILINE)
#: What a shell does and no command of ours does by itself.
_SHELL = re.compile(r"[|<>&;]|\$[({A-Z]|^\w+=")
_HOME = ".home"
#: Commands that only say how to install: another suite runs them.
_INSTALLING = ("pip ", "pipx ", "uvx ", "python -m venv", "make ", "git ")


@dataclass(frozen=True)
class Block:
    """A block of code: of which language, what is in it, and in which line it begins."""

    kind: str
    text: str
    line: int


class WrongPageError(AssertionError):
    """A page shows what is not so."""


def blocks_of(text: str) -> list[Block]:
    """Return the blocks of code of a page."""
    found = [(one.start(), one[1], one[2]) for one in _BLOCK.finditer(text)]
    found += [(one.start(), "console", f"$ {one[1]}\n") for one in _INDENTED.finditer(text)]
    return [Block(kind, inner, text.count("\n", 0, at) + 1) for at, kind, inner in sorted(found)]


def put_sheets(folder: Path) -> None:
    """Put the demo data and the sheets of the how-to pages into a folder."""
    for name in DATA:
        (folder / name).write_bytes(data_file(name))
    for path in SHEETS.iterdir():
        shutil.copy(path, folder / path.name)


def run_page(page: Path, folder: Path) -> list[Path]:
    """Run the blocks of a page in a folder, and return the files that they made.

    Raises
    ------
    WrongPageError
        If a command fails, or shows something else than the page says.
    """
    (folder / _HOME).mkdir(exist_ok=True)
    before, names = set(folder.iterdir()), dict[str, Any]()
    shown = ""
    with contextlib.chdir(folder), _at_home(folder):
        for block in blocks_of(page.read_text(encoding="utf-8")):
            place = f"{page.name}, line {block.line}"
            if block.kind == "console":
                shown = "".join(_commands(block, place))
            elif block.kind == "text":
                _compare(block, shown, place)
            elif block.kind == "python":
                shown = _python(block, names, place)
    return sorted(set(folder.iterdir()) - before)


@contextlib.contextmanager
def _at_home(folder: Path) -> Iterator[None]:
    """Have what a page sets up for its reader go into a home of its own."""
    names = ("HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "ZDOTDIR", "MPLCONFIGDIR")
    plain = {name: os.environ.get(name) for name in names}
    fonts = plain["MPLCONFIGDIR"] or str(Path.home() / ".cache" / "matplotlib")  # the list of fonts is not made anew
    for name in plain:
        os.environ.pop(name, None)
    os.environ.update({"HOME": str(folder / _HOME), "MPLCONFIGDIR": fonts})
    try:
        yield
    finally:
        for name, value in plain.items():
            os.environ.pop(name, None)
            if value is not None:
                os.environ[name] = value


def _commands(block: Block, place: str) -> Iterator[str]:
    status = 0
    for line in _lines(block.text):
        if line == "echo $?":
            yield f"{status}\n"
        elif line.startswith(_INSTALLING):
            continue
        else:
            status, shown = _in_shell(line) if _SHELL.search(line) else _in_process(line)
            if "a fault in Vantric" in shown or "Traceback" in shown:
                raise WrongPageError(f"{place}: {line}\n{shown}")
            if status and "vantric: error" not in shown and "echo $?" not in block.text:
                raise WrongPageError(f"{place}: {line}\nends with status {status}:\n{shown}")
            yield shown


def _lines(text: str) -> Iterator[str]:
    """Yield the commands; a backslash at the end of a line goes on in the next."""
    for line in text.replace("\\\n", "").splitlines():
        if line.startswith("$ "):
            yield " ".join(line.removeprefix("$ ").split(" "))


def _in_process(line: str) -> tuple[int, str]:
    words = shlex.split(line, comments=True)
    if words[0] != "vantric":
        return _in_shell(line)
    out = io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(out):
        status = run(words[1:])
    return status, out.getvalue()


def _in_shell(line: str) -> tuple[int, str]:
    path = f"{Path(sys.executable).parent}{os.pathsep}{os.environ['PATH']}"
    done = subprocess.run(["bash", "-c", line], capture_output=True, text=True, env={**os.environ, "PATH": path})
    return done.returncode, done.stdout + done.stderr


def _python(block: Block, names: dict[str, Any], place: str) -> str:
    out = io.StringIO()
    try:
        with contextlib.redirect_stdout(out):
            exec(compile(block.text, place, "exec"), names)
    except Exception as error:
        raise WrongPageError(f"{place}: {type(error).__name__}: {error}") from error
    return out.getvalue()


def _compare(block: Block, shown: str, place: str) -> None:
    """Raise an error unless the lines of a block are in what was shown, in their order."""
    at, lines = 0, [line.rstrip() for line in shown.splitlines()]
    for line in block.text.splitlines():
        if line.strip() in ("...", ""):
            continue
        try:
            at = lines.index(line.rstrip(), at) + 1
        except ValueError:
            raise WrongPageError(f"{place}: this is not shown: {line}\nbut this is:\n{shown}") from None
