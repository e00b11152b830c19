"""What the engine says of a broken file or condition, in one line for people."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from vantric.core.counts.provenance import Remark
from vantric.core.numbers.number_format import counted
from vantric.errors import suggestion

_KINDS = re.compile(r"^(Binder|Parser|Catalog|Conversion|Invalid Input|Permission|IO|Out of Range) Error: ")


def in_words(message: str, shown: str, where: str | None, columns: Iterable[str] = ()) -> str:
    """Return the engine's message as one line that says where and how to fix it.

    Parameters
    ----------
    message
        What the engine said.
    shown
        What the user calls the source.
    where
        The condition that was given; what is not the file's fault is then its.
    columns
        The columns that the condition can name.
    """
    place = re.search(r"CSV Error on Line: (\d+)", message)
    at = f"'{shown}'" + (f", line {place[1]}" if place else "")
    width = re.search(r"Expected Number of Columns: (\d+) Found: (\d+)", message)
    if width:
        return f"{at}: {counted(int(width[2]), 'column')} where the header has {width[1]}; fix that line"
    if "unterminated quote" in message or "quote should be followed" in message:
        return f"{at}: a quotation mark is not closed; close or double it"
    if "state machine reached an invalid state" in message:
        return f"{at}: line ends of two kinds, or a stray quotation mark; save it again with one kind"
    if "Maximum line size" in message:
        return f"{at}: a line is longer than two million signs; is a quotation mark not closed?"
    if message.startswith("Out of Memory"):
        disk = "max_temp_directory_size" in message or "No space left" in message
        most = "the disk for what the memory does not hold is full" if disk else "it takes more memory than is allowed"
        return f"{at}: {most}; filter the source, or give it more memory"
    first = _KINDS.sub("", message.splitlines()[0]).rstrip(" .")
    unknown = re.search(r'Referenced column "([^"]*)" not found', message)
    if where is not None and unknown:
        known = list(columns)
        hint = suggestion(unknown[1], known, label="the columns are")
        quoted = f"; text stands in single quotes: '{unknown[1]}'" if _names_no_column(unknown[1], where) else ""
        return f"where: there is no column '{unknown[1]}'{quoted}{hint}"
    if where is not None and not place:
        reason = "files other than the source cannot be read" if message.startswith("Permission") else first
        return f"where: {reason}; the condition is: {' '.join(where.split())}"
    return f"{at}: {first}"


def _names_no_column(name: str, where: str) -> bool:
    """Whether a name stands where a text would: in double quotes, or bare behind a comparison."""
    word = re.escape(name)
    behind = rf"(=|<|>|\bin\s*\([^()]*|\blike|\bis(\s+not)?)\s*\"?{word}\b"
    return f'"{name}"' in where or re.search(behind, where, re.IGNORECASE) is not None


def is_undecodable(message: str) -> bool:
    """Whether the engine met bytes that are not UTF-8."""
    return "not utf-8" in message or "Invalid unicode" in message


def without_column(name: str, files: Sequence[str], every: int) -> Remark:
    """Return what there is to say of files that lack a column which other files of the same source have."""
    one = len(files) == 1
    these = f"'{files[0]}' has" if one else f"{len(files):,} of {every:,} files have"
    more = "" if one else f" ('{files[0]}' is the first)"
    said = f"{these} no column '{name}'{more}: it is missing in all of their records"
    return Remark(
        "missing-column", said, "warning", "leave such files out, or give the column the name that it has in the others"
    )
