"""Colors by number: what a user names, and how far one stands out from another."""

from __future__ import annotations

import colorsys

from vantric.errors import ChartError

_READABLE = 4.5  # WCAG 2.2, success criterion 1.4.3


def as_color(text: str) -> str:
    """Return ``#rrggbb`` for that, for ``#rgb``, or for a name of CSS Color Module Level 4.

    Raises
    ------
    ChartError
        If it is none of these.
    """
    plain = text.strip().casefold()
    digits = plain.removeprefix("#")
    if plain.startswith("#") and len(digits) in (3, 6) and all(sign in "0123456789abcdef" for sign in digits):
        return f"#{''.join(sign * 2 for sign in digits) if len(digits) == 3 else digits}"
    from matplotlib.colors import CSS4_COLORS, to_hex

    if plain in CSS4_COLORS:
        return str(to_hex(CSS4_COLORS[plain]))
    from vantric.errors import nearest

    hint = f"{nearest(plain, CSS4_COLORS).removeprefix('; ')} write #rrggbb or a CSS name".strip()
    raise ChartError(f"'{text}' is not a color; {hint}", value=text, known=CSS4_COLORS, hint=hint)


def luminance(color: str) -> float:
    """Return the relative luminance of ``#rrggbb`` (WCAG 2.2), from 0 to 1."""
    channels = (int(color[place : place + 2], 16) / 255 for place in (1, 3, 5))
    linear = [value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4 for value in channels]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """Return the contrast ratio of two colors, from 1 to 21 (WCAG 2.2)."""
    low, high = sorted((luminance(one), luminance(other)))
    return (high + 0.05) / (low + 0.05)


def readable(color: str, ground: str) -> str:
    """Return a color made darker or lighter until text in it can be read on its ground."""
    hue, light, saturation = colorsys.rgb_to_hls(*(int(color[place : place + 2], 16) / 255 for place in (1, 3, 5)))
    step = -0.02 if luminance(ground) > 0.2 else 0.02
    found = color
    while contrast(found, ground) < _READABLE and 0 < light < 1:
        light = min(1.0, max(0.0, light + step))
        found = "#" + "".join(f"{round(255 * part):02x}" for part in colorsys.hls_to_rgb(hue, light, saturation))
    return found
