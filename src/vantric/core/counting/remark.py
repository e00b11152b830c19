"""What there is to say of how something was read or counted."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Remark:
    """A note on reading or counting: a row left out, a spelling merged, a column chosen.

    Attributes
    ----------
    code
        A short name in plain words.
    message
        What was done.
    severity
        ``"warning"`` where the reading may be wrong.
    fix
        What to do then.
    """

    code: str
    message: str
    severity: Literal["note", "warning"] = "note"
    fix: str = ""
