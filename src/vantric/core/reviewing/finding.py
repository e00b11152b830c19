"""A finding: one remark of the review."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any, Literal

from vantric.core.counting.origin import Remark


@dataclass(frozen=True)
class WrongCell:
    """A cell that is wrong.

    Attributes
    ----------
    place
        Where it is: ``"row 5"``, ``"Sheet1!C5"``.
    label
        The category of its row.
    column
        What its column holds: ``"percent"``.
    says, should
        What it says, and what it should be.
    """

    place: str
    label: str
    column: str
    says: str
    should: str


@dataclass(frozen=True)
class Finding:
    """A remark on what is wrong or risky.

    Attributes
    ----------
    code
        A short name in plain words, the same for every finding of its kind.
    severity
        ``"error"`` (the result is wrong), ``"warning"`` (it may mislead) or ``"note"`` (good to know).
    message
        What was found.
    fix
        What to do about it.
    where
        The column, category or axis it is about.
    cells : tuple of WrongCell
        Every cell that is wrong for this one reason, in the order of the sheet; empty where it is about none.
    """

    code: str
    severity: Literal["error", "warning", "note"]
    message: str
    fix: str
    where: str
    cells: tuple[WrongCell, ...] = ()

    def to_dict(self) -> dict[str, Any]:
        """Return the finding as the JSON object of the contract; ``cells`` are there only if there are any."""
        plain = asdict(self)
        if not self.cells:
            del plain["cells"]
        return plain


def error(code: str, *, message: str, fix: str, where: str, cells: Sequence[WrongCell] = ()) -> Finding:
    """Return a finding of severity error: the result is wrong."""
    return Finding(code, "error", message, fix, where, tuple(cells))


def warning(code: str, *, message: str, fix: str, where: str, cells: Sequence[WrongCell] = ()) -> Finding:
    """Return a finding of severity warning: the result may mislead."""
    return Finding(code, "warning", message, fix, where, tuple(cells))


def note(code: str, *, message: str, fix: str, where: str) -> Finding:
    """Return a finding of severity note: it is good to know."""
    return Finding(code, "note", message, fix, where)


def remarked(remark: Remark, where: str) -> Finding:
    """Return what was remarked in reading or counting as a finding."""
    return Finding(remark.code, remark.severity, remark.message, remark.fix, where)
