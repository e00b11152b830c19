"""Who hears what a picture lacks."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from typing import TypeAlias

Telling: TypeAlias = Callable[[str], object]


def warn(message: str) -> None:
    """Tell what a caller in Python should know, as a `UserWarning`."""
    warnings.warn(message, stacklevel=3)
