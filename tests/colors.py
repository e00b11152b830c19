"""Colors by number: contrast, and how they look without one kind of cone."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

#: G. M. Machado, M. M. Oliveira and L. A. F. Fernandes, "A physiologically-based model for simulation of color
#: vision deficiency", IEEE TVCG 15(6), 2009: full severity, on linear RGB.
_DEFICIENCIES = {
    "protanopia": [
        [0.152286, 1.052583, -0.204868],
        [0.114503, 0.786281, 0.099216],
        [-0.003882, -0.048116, 1.051998],
    ],
    "deuteranopia": [
        [0.367322, 0.860646, -0.227968],
        [0.280085, 0.672501, 0.047413],
        [-0.011820, 0.042940, 0.968881],
    ],
    "tritanopia": [
        [1.255528, -0.076749, -0.178779],
        [-0.078411, 0.930809, 0.147602],
        [0.004733, 0.691367, 0.303900],
    ],
}
_TO_XYZ = np.array(
    [[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041]]
)
_WHITE = np.array([0.95047, 1.0, 1.08883])


def linear_rgb(color: str) -> NDArray[np.float64]:
    """Return the linear RGB of ``"#rrggbb"`` (IEC 61966-2-1), from 0 to 1."""
    channels = np.array([int(color[place : place + 2], 16) for place in (1, 3, 5)]) / 255
    return np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)


def contrast(one: str, other: str) -> float:
    """Return the contrast ratio of two colors, from 1 to 21 (WCAG 2.2, success criterion 1.4.3)."""
    lights = sorted((float(_TO_XYZ[1] @ linear_rgb(color)) + 0.05 for color in (one, other)), reverse=True)
    return lights[0] / lights[1]


def distance(one: str, other: str, *, deficiency: str | None = None) -> float:
    """Return the difference of two colors in CIELAB (CIE 1976), as seen with a color vision deficiency or without.

    Parameters
    ----------
    one, other
        Colors as ``"#rrggbb"``.
    deficiency
        ``"protanopia"``, ``"deuteranopia"``, ``"tritanopia"`` or None.
    """
    return float(np.linalg.norm(_lab(one, deficiency) - _lab(other, deficiency)))


def _lab(color: str, deficiency: str | None) -> NDArray[np.float64]:
    light = linear_rgb(color)
    if deficiency:
        light = np.clip(np.array(_DEFICIENCIES[deficiency]) @ light, 0, 1)
    x, y, z = _TO_XYZ @ light / _WHITE
    fx, fy, fz = (np.cbrt(v) if v > (6 / 29) ** 3 else v * (29 / 6) ** 2 / 3 + 4 / 29 for v in (x, y, z))
    return np.array([116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)])
