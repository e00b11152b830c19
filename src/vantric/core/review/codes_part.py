"""The codes of findings: what each says, when, and why it is as severe as that.

They stand in ``codes.toml`` beside this file: the documentation is made of it, and `check_codes` knows codes by it.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from vantric.errors import OptionError, unknown


@dataclass(frozen=True)
class Code:
    """A kind of finding.

    Attributes
    ----------
    name
    group
        ``"counting"``, ``"pareto"``, ``"axes"``, ``"marks"``, ``"sheets"`` or ``"books"``.
    severity
    example, fix
        What it says, and what to do.
    fires, silent
        The evidence that decides it, and what looks like it and is not.
    why
        Why it is as severe as that.
    """

    name: str
    group: str
    severity: str
    example: str
    fix: str
    fires: str
    silent: str
    why: str


@cache
def known_codes() -> dict[str, Code]:
    """Return every code by its name."""
    text = files("vantric.core.review").joinpath("codes.toml").read_text(encoding="utf-8")
    return {name: Code(name, **entry) for name, entry in tomllib.loads(text).items()}


def check_codes(names: Iterable[str]) -> None:
    """Raise `OptionError` for a code that there is not: a slip would ignore nothing, in silence."""
    for name in names:
        if name not in known_codes():
            raise unknown(OptionError, f"there is no finding '{name}' to ignore", name, list(known_codes()))
