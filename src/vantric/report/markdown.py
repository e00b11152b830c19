"""Tables in Markdown."""

from __future__ import annotations

from collections.abc import Sequence

from vantric.cleaning import visible


def markdown_table(head: Sequence[str], rows: Sequence[Sequence[str]], *, left: frozenset[int]) -> str:
    """Return a Markdown table in which no cell is markup."""
    rule = " | ".join(":---" if place in left else "---:" for place in range(len(head)))
    lines = [f"| {' | '.join(map(markdown_cell, row))} |" for row in (head, *rows)]
    return "\n".join([lines[0], f"| {rule} |", *lines[1:]]) + "\n"


def markdown_cell(text: str) -> str:
    """Return a cell in which nothing is markup."""
    text = visible(text).replace("\n", " ")
    for sign in "\\`*_{}[]<>|#~$":
        text = text.replace(sign, f"\\{sign}")
    return text
