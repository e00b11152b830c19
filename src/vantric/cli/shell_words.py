"""The line of a shell taken apart, and a value quoted as the word under the cursor is: nothing in it ever runs."""

from __future__ import annotations

import re
from dataclasses import dataclass

#: Quote sign -> the signs that a backslash quotes there; all of them outside of quotes.
_POSIX = {'"': '$`"\\\n', "'": ""}
_QUOTED = {"bash": _POSIX, "zsh": _POSIX, "fish": {'"': '$"\\\n', "'": "'\\"}}
#: Signs up to which bash leaves a word as it is, but for themselves.
_PREFIXES = "$@"
#: What means something to bash where no quote is open.
_ACTIVE = re.compile(r"[^A-Za-z0-9_@%+=:,./\x80-\U0010ffff-]")


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
