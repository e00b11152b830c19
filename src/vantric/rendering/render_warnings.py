"""Who hears what a picture lacks, and whether Matplotlib is ready to draw it."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from typing import TypeAlias

from vantric.errors import ChartError

Telling: TypeAlias = Callable[[str], object]


def warn(message: str) -> None:
    """Tell what a caller in Python should know, as a `UserWarning`."""
    warnings.warn(message, stacklevel=3)


def check_settings() -> None:
    """Raise `ChartError` if Matplotlib refuses its own settings, such as the environment's MPLBACKEND."""
    try:
        import matplotlib  # noqa: F401
    except ValueError as error:
        message = f"Matplotlib does not accept its settings: {error}; correct MPLBACKEND or matplotlibrc"
        raise ChartError(message) from None
