"""A finding: one remark of the review."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Literal

from vantric.core.counting.remark import Remark


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
    """

    code: str
    severity: Literal["error", "warning", "note"]
    message: str
    fix: str
    where: str

    def to_dict(self) -> dict[str, str]:
        """Return the finding as the JSON object of the contract."""
        return asdict(self)


def error(code: str, *, message: str, fix: str, where: str) -> Finding:
    """Return a finding of severity error: the result is wrong."""
    return Finding(code, "error", message, fix, where)


def warning(code: str, *, message: str, fix: str, where: str) -> Finding:
    """Return a finding of severity warning: the result may mislead."""
    return Finding(code, "warning", message, fix, where)


def note(code: str, *, message: str, fix: str, where: str) -> Finding:
    """Return a finding of severity note: it is good to know."""
    return Finding(code, "note", message, fix, where)


def remarked(remark: Remark, where: str) -> Finding:
    """Return what was remarked in reading or counting as a finding."""
    return Finding(remark.code, remark.severity, remark.message, remark.fix, where)
