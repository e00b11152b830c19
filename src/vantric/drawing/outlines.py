"""Text as outlines: in a picture of dots all lines of one color are one shape, drawn far sooner than letters."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

import numpy as np
from matplotlib.path import Path
from numpy.typing import NDArray

from vantric.core.planning.measure import is_measured
from vantric.core.planning.plan import TextMark
from vantric.drawing.fonts import BASE_FAMILY, outline, stride

_SHARES = {"left": 0.0, "center": 0.5, "right": 1.0}


class Outlines:
    """Lines of text that are drawn together, color by color.

    Parameters
    ----------
    families
        The families that draw the picture.
    """

    def __init__(self, families: tuple[str, ...]) -> None:
        self._plain = families == (BASE_FAMILY,)
        self._lines: dict[str, list[tuple[NDArray[Any], NDArray[Any]]]] = defaultdict(list)

    def takes(self, mark: TextMark, color: str, left: float = 0.0, bottom: float = 0.0) -> bool:
        """Take a line of text if its signs are all the base family's own, each beside the one before."""
        if not self._plain or not is_measured(mark.text):
            return False
        corners, codes, width = _line(mark.text, mark.bold)
        if len(codes):
            turn = math.radians(mark.rotation)
            across, up = math.cos(turn), math.sin(turn)
            placed = (corners - np.array([_SHARES[mark.ha] * width, 0.0])) * mark.size
            turned = placed @ np.array([[across, up], [-up, across]])
            self._lines[color].append((turned + np.array([mark.x + left, mark.y + bottom]), codes))
        return True

    def shapes(self) -> Iterator[tuple[str, Path]]:
        """Yield each color and the shape of all its lines."""
        for color, lines in self._lines.items():
            yield color, Path(np.concatenate([one for one, _ in lines]), np.concatenate([codes for _, codes in lines]))


@lru_cache(maxsize=2048)
def _line(text: str, bold: bool) -> tuple[NDArray[Any], NDArray[Any], float]:
    """Return the corners of a line of text in ems from its left end, their codes, and its width."""
    corners, codes, at = [np.empty((0, 2))], [np.empty(0, dtype=np.uint8)], 0.0
    before = ""
    for sign in text:
        shape, own, _ = outline(sign, bold)
        at += stride(before, sign, bold)
        corners.append(shape + np.array([at, 0.0]))
        codes.append(own)
        before = sign
    return np.concatenate(corners), np.concatenate(codes), at + (outline(before, bold)[2] if before else 0.0)
