"""Where in a file a key is: the line of it, for messages."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence

_HEADER = re.compile(r"^\s*(\[\[?)\s*([^\]]+?)\s*\]\]?")
_KEY = re.compile(r"^\s*(\"[^\"]*\"|'[^']*'|[\w-]+)\s*(?:\.\s*[\w\".-]+\s*)?=")
_TEXT_MARKS = ('"""', "'''")


def line_of(text: str, ending: str, path: Sequence[str | int]) -> int | None:
    """Return the line, from 1, of a key or of what holds it; None where it cannot be told.

    Parameters
    ----------
    text
        The content of the file.
    ending
        ``".toml"`` or ``".json"``.
    path
        Keys and places in lists, from 0: ``("sections", 1, "counting", "by")``.
    """
    found = _lines(text, ending)
    for length in range(len(path), 0, -1):
        if tuple(path[:length]) in found:
            return found[tuple(path[:length])]
    return None


def has_line(text: str, ending: str, path: Sequence[str | int]) -> bool:
    """Whether a key itself is in a file."""
    return tuple(path) in _lines(text, ending)


def _lines(text: str, ending: str) -> dict[tuple[str | int, ...], int]:
    return _toml_lines(text) if ending == ".toml" else _json_lines(text)


def _toml_lines(text: str) -> dict[tuple[str | int, ...], int]:
    found: dict[tuple[str | int, ...], int] = {}
    counts: dict[tuple[str | int, ...], int] = {}
    here: tuple[str | int, ...] = ()
    closes = ""
    for number, line in enumerate(text.splitlines(), 1):
        if closes:  # within a text of several lines
            closes = "" if closes in line else closes
            continue
        header, key = _HEADER.match(line), _KEY.match(line)
        if header:
            names = [part.strip().strip("\"'") for part in header[2].split(".")]
            here = _placed(names, counts, opens=header[1] == "[[")
            found.setdefault(here, number)
        elif key:
            found.setdefault((*here, key[1].strip("\"'")), number)
            for mark in _TEXT_MARKS:
                if line.count(mark) % 2:
                    closes = mark
    return found


def _placed(names: Sequence[str], counts: dict[tuple[str | int, ...], int], *, opens: bool) -> tuple[str | int, ...]:
    """Return the path of a header: behind the name of a list is the place of the element it is in."""
    here: tuple[str | int, ...] = ()
    for at, name in enumerate(names):
        here = (*here, name)
        if opens and at == len(names) - 1:
            counts[here] = counts.get(here, -1) + 1
        if here in counts:
            here = (*here, counts[here])
    return here


def _json_lines(text: str) -> dict[tuple[str | int, ...], int]:
    """Return the lines of all keys of a JSON text that can be read."""
    found: dict[tuple[str | int, ...], int] = {}
    stack: list[tuple[str, str | int]] = []  # (kind of bracket, key or place)
    key: str | None = None
    line, at = 1, 0
    strings = re.compile(r'"(?:[^"\\]|\\.)*"', re.DOTALL)
    while at < len(text):
        sign = text[at]
        if sign == '"':
            match = strings.match(text, at)
            if match is None:
                break
            after = text[match.end() :].lstrip()[:1]
            if stack and stack[-1][0] == "{" and after == ":":
                key = str(json.loads(match[0]))
                stack[-1] = ("{", key)
                found.setdefault(tuple(one for _, one in stack), line)
            line += match[0].count("\n")
            at = match.end()
            continue
        if sign in "{[":
            stack.append((sign, 0 if sign == "[" else ""))
            if sign == "[":
                found.setdefault(tuple(one for _, one in stack), line)
        elif sign in "}]" and stack:
            stack.pop()
        elif sign == "," and stack and stack[-1][0] == "[":
            stack[-1] = ("[", int(stack[-1][1]) + 1)
        elif sign == "\n":
            line += 1
        at += 1
    return found


def line_with(text: str, ending: str, section: int, value: object) -> int | None:
    """Return the line of a section that holds a value, from 1; None where there is none."""
    start = line_of(text, ending, ("sections", section))
    end = line_of(text, ending, ("sections", section + 1))
    if start is None or not isinstance(value, str) or not value:
        return None
    lines = text.splitlines()
    stop = end - 1 if end is not None and end > start else len(lines)
    return next(
        (at + 1 for at in range(start - 1, stop) if f'"{value}"' in lines[at] or f"'{value}'" in lines[at]), None
    )
