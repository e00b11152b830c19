"""The tables of docs/findings.md, made of the codes of findings: what stands around them is written by hand."""

from __future__ import annotations

import re
from pathlib import Path

from vantric.core.review.finding import known_codes

PATH = Path(__file__).parent.parent / "docs" / "findings.md"
_PART = re.compile(r"(<!-- codes: (\w+) -->\n).*?(<!-- end -->\n)", re.DOTALL)


def text() -> str:
    """Return the page with its tables brought up to date."""
    return _PART.sub(lambda part: f"{part[1]}\n{_tables(part[2])}\n{part[3]}", PATH.read_text(encoding="utf-8"))


def _tables(group: str) -> str:
    codes = [code for code in known_codes().values() if code.group == group]
    told = [_row(f"`{code.name}`", code.severity, code.example, code.fix) for code in codes]
    why = [_row(f"`{code.name}`", code.fires, code.silent, code.why) for code in codes]
    return "\n".join(
        [
            _row("code", "severity", "example", "fix"),
            _RULE,
            *told,
            "",
            _row("code", "it is said for", "and not for", "why so severe"),
            _RULE,
            *why,
            "",
        ]
    )


_RULE = "| :--- | :--- | :--- | :--- |"


def _row(*cells: str) -> str:
    return f"| {' | '.join(cell.replace('|', chr(92) + '|') for cell in cells)} |"
