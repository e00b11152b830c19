"""What a shell completes: options, their values, files, and the columns of the source that is typed already.

The line of the shell is taken apart, and a value quoted as the word under the cursor is: nothing in it ever runs.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import Any, ClassVar

import click
from click.shell_completion import CompletionItem, ShellComplete, add_completion_class

from vantric.base.lazily import compiled
from vantric.base.safe_text import is_url, visible

#: Shell -> the file of its script.
SHELLS = {"bash": "completion.bash", "zsh": "completion.zsh", "fish": "completion.fish"}
#: Words of a metavar whose value is a column, or has columns in it.
_OF_COLUMNS = ("COL", "WHAT", "PLANNED")
_SIGNS = ",:/"  # what stands between columns in one value


def prepare() -> None:
    """Have completions given as our scripts read them."""
    for kind in (_Bash, _Zsh, _Fish):
        add_completion_class(kind)


def script(shell: str) -> str:
    """Return what a shell runs to complete the command line."""
    text = files("vantric.cli").joinpath("shells", SHELLS[shell]).read_text(encoding="utf-8")
    return text % {"prog_name": "vantric", "complete_func": "_vantric_completion", "complete_var": "_VANTRIC_COMPLETE"}


class _Shell(ShellComplete):
    """A shell whose script hands over the line up to the cursor, and reads kind, value and help between tabs."""

    name: ClassVar[str]
    source_template: ClassVar[str] = ""
    _line: ShellLine

    def source(self) -> str:
        """Return the script."""
        return script(self.name)

    def get_completion_args(self) -> tuple[list[str], str]:
        """Return the words before the cursor, and the word that is not complete."""
        typed, breaks = os.environ.get("VANTRIC_LINE", ""), os.environ.get("VANTRIC_BREAKS", "")
        self._line = read_line(typed, self.name, breaks)
        return list(self._line.words[1:]), self._line.incomplete

    def get_completions(self, args: list[str], incomplete: str) -> list[CompletionItem]:
        """Return what fits; a value behind ``--option=`` is completed as one behind a blank.

        What has signs that steer a terminal, or that cannot be typed, is not offered.
        """
        flag, sign, value = incomplete.partition("=")
        if not (sign and flag.startswith("--")):
            flag, value = "", incomplete
        items = super().get_completions([*args, flag] if flag else args, value)
        wanted = [self._item(item, f"{flag}=" if flag else "") for item in items if self._line.known]
        return [item for item in wanted if item is not None and item.value.isprintable()]

    def _item(self, item: CompletionItem, before: str) -> CompletionItem | None:
        """Return an item with what stands before it in its word; None if the shell cannot insert it."""
        return CompletionItem(before + item.value, type=item.type, help=item.help)

    def format_completion(self, item: CompletionItem) -> str:
        """Return one line."""
        return "\t".join((item.type, item.value, visible(" ".join((item.help or "").split()))))


class _Bash(_Shell):
    """Bash inserts what it gets as it is, in place of what stands behind a quote sign or a sign such as ``:``."""

    name = "bash"

    def _item(self, item: CompletionItem, before: str) -> CompletionItem | None:
        typed, value = self._line.incomplete[: self._line.stays], before + item.value
        rest = value[len(typed) :]
        if item.type != "file":  # bash lists and quotes those itself
            rest = quoted_for_bash(rest, self._line.quote)
            if not rest:
                return None
        return CompletionItem(rest, type=item.type, help=item.help) if value.startswith(typed) else None


class _Zsh(_Shell):
    name = "zsh"


class _Fish(_Shell):
    name = "fish"


def values_of(ctx: click.Context, words: Sequence[str], metavar: str, incomplete: str) -> list[Any]:
    """Return what the value of an option may be completed to.

    Parameters
    ----------
    ctx
        Of the command, with what is typed already.
    words
        The values that the option takes, if it takes certain ones.
    metavar
        What stands for its value in the help: COL for a column, FILE for a file, CODE for a finding.
    incomplete
        What is typed of it.
    """
    if words:
        return [CompletionItem(word) for word in words if word.startswith(incomplete)]
    if "FILE" in metavar or metavar == "SOURCE":
        return [CompletionItem(incomplete, type="file")]
    if metavar == "CODE" and "ignore" in {parameter.name for parameter in ctx.command.params}:
        from vantric.core.review.finding import known_codes

        return [CompletionItem(code) for code in known_codes() if code.startswith(incomplete)]
    if any(word in metavar for word in _OF_COLUMNS):
        return list(_columns(ctx, incomplete))
    if metavar == "NAME":
        names = sheet_names(_source(ctx))
        return [CompletionItem(name) for name in names if name.casefold().startswith(incomplete.casefold())]
    return []


def _columns(ctx: click.Context, incomplete: str) -> Iterator[CompletionItem]:
    """Yield columns that begin with what is typed; where a value holds several, with what is behind the last sign."""
    names = _names(ctx)
    matches = [name for name in names if name.casefold().startswith(incomplete.casefold())]
    before = ""
    if not matches:
        index = max(incomplete.rfind(sign) for sign in _SIGNS) + 1
        before, rest = incomplete[:index], incomplete[index:]
        matches = [name for name in names if index and name.casefold().startswith(rest.casefold())]
    for name in matches:
        yield CompletionItem(before + name)


def _source(ctx: click.Context) -> str:
    """Return the source that is typed already, if it is a file: a database is not asked behind the user's back."""
    source = ctx.params.get("source") or next(iter(ctx.params.get("sources") or ()), None) or ""
    return "" if not source or source == "-" or is_url(str(source)) else str(Path(source).expanduser())


def _names(ctx: click.Context) -> list[str]:
    from vantric.engines.opening import with_records
    from vantric.errors import VantricError
    from vantric.reading.settings import ReadSettings

    source = _source(ctx)
    sheet_options = {name: value for name in ("sheet", "cells") if (value := ctx.params.get(name))}
    if "cells" in sheet_options:
        sheet_options["cells"] = (
            sheet_options["cells"][0] if isinstance(sheet_options["cells"], tuple) else sheet_options["cells"]
        )
    try:
        return list(
            with_records(source, ReadSettings.from_keywords(sheet_options), (), lambda records: records.names())
        )
    except (VantricError, OSError):  # a shell must never see an error while it completes
        return []


def sheet_names(source: str) -> list[str]:
    """Return the sheets of a workbook; none of what is no workbook."""
    if is_url(source) or not source.casefold().endswith((".xlsx", ".ods")):
        return []
    from python_calamine import CalamineWorkbook

    try:
        return list(CalamineWorkbook.from_path(source).sheet_names)
    except Exception:  # whatever the library raises on a broken file: reading it says what is wrong
        return []


#: Quote sign -> the signs that a backslash quotes there; all of them outside of quotes.
_POSIX = {'"': '$`"\\\n', "'": ""}
_QUOTED = {"bash": _POSIX, "zsh": _POSIX, "fish": {'"': '$"\\\n', "'": "'\\"}}
#: Signs up to which bash leaves a word as it is, but for themselves.
_PREFIXES = "$@"
#: What means something to bash where no quote is open.
_ACTIVE = compiled(r"[^A-Za-z0-9_@%+=:,./\x80-\U0010ffff-]")


@dataclass(frozen=True, slots=True)
class ShellLine:
    """A command line up to the cursor.

    Attributes
    ----------
    words
        The words before the one that is not complete, without their quotes.
    incomplete
        That word, without its quotes.
    stays
        How many signs of `incomplete` stand before what the shell replaces.
    quote
        The quote sign that is open at the cursor; empty if none is.
    known
        Whether the quoting is understood; it is not inside of ``$'...'``.
    """

    words: tuple[str, ...]
    incomplete: str
    stays: int
    quote: str
    known: bool


def read_line(line: str, shell: str, breaks: str = "") -> ShellLine:
    """Take a line apart by the quoting rules of a shell; nothing is expanded.

    Parameters
    ----------
    line
        The command line up to the cursor.
    shell
        ``bash``, ``zsh`` or ``fish``.
    breaks
        Signs outside of quotes up to which the shell leaves a word as it is (``COMP_WORDBREAKS`` of bash).
    """
    quoted = _QUOTED[shell]
    words: list[str] = []
    word: str | None = None
    quote, known, opened, broken = "", True, 0, 0
    signs = iter(range(len(line)))
    for place in signs:
        sign, following = line[place], line[place + 1 : place + 2]
        if sign == "\\" and (not quote or (following and following in quoted[quote])):
            word = (word or "") + following.replace("\n", "")
            next(signs, None)
        elif quote:
            quote, word = ("", word) if sign == quote else (quote, (word or "") + sign)
        elif sign in "\"'":
            word = word or ""
            quote, opened, known = sign, len(word), shell == "fish" or line[place - 1 : place] != "$"
        elif not sign.isspace():
            word = (word or "") + sign
            broken = len(word) - (sign in _PREFIXES) if sign in breaks else broken
        elif word is not None:
            words.append(word)
            word, broken = None, 0
    return ShellLine(tuple(words), word or "", opened if quote else broken, quote, known or not quote)


def quoted_for_bash(value: str, quote: str) -> str:
    """Return a value as bash inserts it, so that the word is the value again.

    Parameters
    ----------
    value
        What is to be inserted; no control signs.
    quote
        The quote sign that is open; bash closes it if the value does not end with it.
    """
    if not quote:
        return _ACTIVE.sub(r"\\\g<0>", value)
    # A mark of exclamation calls the history up inside of double quotes too, and a backslash before it would stay.
    doubled = re.sub(r'[$`"\\]', r"\\\g<0>", value).replace("!", '"\\!"')
    text = doubled if quote == '"' else value.replace("'", "'\\''")
    return text + quote if text.endswith(quote) else text
