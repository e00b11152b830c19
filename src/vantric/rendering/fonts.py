"""Fonts: one that we ship, others for the signs that it lacks, and the width of text in them."""

from __future__ import annotations

import contextlib
import os
import threading
from collections.abc import Callable, Iterable
from dataclasses import replace
from functools import cache, lru_cache
from itertools import repeat
from typing import Any

from matplotlib.backends.backend_agg import RendererAgg
from matplotlib.font_manager import FontProperties, findfont, findSystemFonts, fontManager
from matplotlib.ft2font import FT2Font, Kerning, LoadFlags

from vantric.core.layout.text_layout import TextMeasure, is_measured, kerning, table_measure
from vantric.errors import ChartError, nearest
from vantric.rendering.drawing_guards import Telling, warn
from vantric.rendering.web_font import BOLD_WEIGHT, FAMILY, face_path

#: Ships with us, so that a picture is the same on every machine; and what ships with Matplotlib, for other signs.
BASE_FAMILY, SECOND_FAMILY = FAMILY, "DejaVu Sans"
#: The weight of bold text in other families.
_OTHER_BOLD = 700
#: Pixels of a plan to an inch of a figure.
PER_INCH = 100.0
#: Bitmap color fonts cannot be drawn as outlines; last-resort fonts hold a placeholder for every sign there is.
_NOT_LETTERS = ("Color", "Last Resort")
#: Units of an em in which widths are kept.
_EM = 1000.0
#: What stands for a sign that no font has; the base family has it.
_PLACEHOLDER = "\ufffd"
#: Signs that are never drawn, so no font need have them.
_NO_INK = frozenset("\u200b\u200c\u200d\u200e\u200f\ufe0e\ufe0f")


def families_for(texts: Iterable[str], wished: str = "", *, tell: Telling = warn) -> tuple[str, ...]:
    """Return the font families that together hold every sign of the texts, the wanted or the base family first.

    What no installed font has is reported once.

    Raises
    ------
    ChartError
        If the wanted family is not installed.
    """
    base = installed(wished) if wished else BASE_FAMILY
    lacking = {sign for text in texts if wished or not text.isascii() for sign in text} - _NO_INK
    lacking = {sign for sign in lacking if ord(sign) not in _signs(_file(base, False))}
    families = [base]
    lacking = _filled(families, lacking) if lacking else lacking
    if lacking:
        _look_again()
        lacking = _filled(families, lacking)
    if lacking:
        codes = " ".join(f"U+{ord(sign):04X}" for sign in sorted(lacking)[:8])
        tell(f"no installed font has {len(lacking)} of the characters in the labels: {codes}")
        families += [] if SECOND_FAMILY in families else [SECOND_FAMILY]
    return tuple(families)


def drawable(families: tuple[str, ...]) -> Callable[[str, bool], str]:
    """Return what makes of a text, bold or not, one that the families hold: a placeholder for what none of them has."""

    @cache
    def drawn(sign: str, bold: bool) -> str:
        if any(ord(sign) in _signs(_file(family, bold)) for family in families):
            return sign
        return "" if sign in _NO_INK else _PLACEHOLDER

    def shown(text: str, bold: bool) -> str:
        plain = families[0] == BASE_FAMILY and text.isascii() and text.isprintable()
        return text if plain else "".join(drawn(sign, bold) for sign in text)

    return shown


@cache
def _register() -> None:
    """Tell Matplotlib of our font: a text in several fonts names them by their families."""
    for bold in (False, True):
        fontManager.addfont(face_path(bold))
    # Beside other families ours is asked for in their weight, which is bold.
    own = [entry for entry in fontManager.ttflist if entry.name == BASE_FAMILY and entry.weight == BOLD_WEIGHT]
    fontManager.ttflist += [replace(entry, weight=_OTHER_BOLD) for entry in own]


def installed(wished: str) -> str:
    """Return the name of an installed family, in its own capitals."""
    if wished.casefold() == BASE_FAMILY.casefold():
        return BASE_FAMILY
    names = {entry.name.casefold(): entry.name for entry in fontManager.ttflist}
    if wished.casefold() not in names:
        hint = nearest(wished, names.values()) or "; leave it out for the theme's own"
        raise ChartError(f"no font '{wished}' is installed{hint}")
    return names[wished.casefold()]


def _filled(families: list[str], lacking: set[str]) -> set[str]:
    """Add families that hold what is lacking, and return what none of them holds."""
    for family, path in _others():
        names = {sign for sign in lacking if ord(sign) in _signs(path)}
        if names:
            families.append(family)
            lacking = lacking - names
        if not lacking:
            break
    return lacking


@cache
def _look_again() -> None:
    """Add fonts that were installed after Matplotlib made its list; once a process, where a sign is lacking."""
    names = {entry.fname for entry in fontManager.ttflist}
    for path in findSystemFonts():
        if path not in names:
            with contextlib.suppress(OSError, RuntimeError, KeyError, ValueError):  # a file that is no font
                fontManager.addfont(path)


def _others() -> list[tuple[str, str]]:
    """Return the other installed vertical families."""
    regular = [
        (entry.name != SECOND_FAMILY, entry.name, entry.fname)
        for entry in fontManager.ttflist
        if entry.style == "normal"
        and entry.weight in (400, "normal", "regular")
        and not any(word in entry.name for word in _NOT_LETTERS)
    ]
    return [(name, path) for _, name, path in sorted(set(regular))]


@lru_cache(maxsize=256)
def _signs(path: str) -> frozenset[int]:
    try:
        return frozenset(FT2Font(path).get_charmap())  # a face of its own: shared ones abort under threads
    except (OSError, RuntimeError):
        return frozenset()  # a font file that cannot be opened holds no signs


def linear_measure(families: tuple[str, ...]) -> TextMeasure:
    """Return the width of text set without hinting, as pictures are saved: the sum of the signs' own advances.

    Kerning of the base font is that of its table; of another it is counted where it parts signs, not where it brings
    them nearer: a line is never wider than it is measured.
    """

    @cache
    def holder(sign: str, bold: bool) -> str | None:
        paths = [_file(family, bold) for family in families]
        return next((path for path in paths if ord(sign) in _signs(path)), None)

    @cache
    def advance(before: str, sign: str, bold: bool) -> float:
        path = holder(sign, bold)
        if path is None:  # a base family without the placeholder
            return 1.0
        moved = 0.0
        if before and holder(before, bold) == path:
            own = path == str(face_path(bold))
            moved = kerning(before, sign, bold) if own else _parting(path, before, sign)
        return _advance(path, sign) + moved

    drawn, base = drawable(families), families == (BASE_FAMILY,)

    def measure(text: str, size: float, bold: bool) -> float:
        if base and is_measured(text):
            return table_measure(text, size, bold)
        text = drawn(text, bold)
        return size * sum(map(advance, ("", *text), text, repeat(bold)))

    return measure


@lru_cache(maxsize=64)
def _file(family: str, bold: bool) -> str:
    if family == BASE_FAMILY:
        return str(face_path(bold))
    return str(findfont(FontProperties(family=family, weight=_OTHER_BOLD if bold else 400)))


@lru_cache(maxsize=4096)
def _advance(path: str, sign: str) -> float:
    """Return the width of a sign in ems."""
    glyph = _face(path).load_char(ord(sign), flags=LoadFlags.NO_HINTING)
    return float(glyph.linearHoriAdvance) / 65536 / _EM


def _parting(path: str, before: str, sign: str) -> float:
    """Return how far kerning parts two signs of another font, in ems; zero if it brings them nearer."""
    face = _face(path)
    left, right = face.get_char_index(ord(before)), face.get_char_index(ord(sign))
    return max(0.0, face.get_kerning(left, right, Kerning.UNFITTED) / 64 / _EM)


@lru_cache(maxsize=2048)
def outline(sign: str, bold: bool) -> tuple[Any, Any, float]:
    """Return the corners of a sign of the base family in ems, their codes as Matplotlib has them, and its advance."""
    face = _face(_file(BASE_FAMILY, bold))
    glyph = face.load_char(ord(sign), flags=LoadFlags.NO_HINTING)
    corners, codes = face.get_path()
    return corners / _EM, codes, float(glyph.linearHoriAdvance) / 65536 / _EM


def stride(before: str, sign: str, bold: bool) -> float:
    """Return how far a sign stands from the one before it, in ems, kerning included."""
    if not before:
        return 0.0
    return outline(before, bold)[2] + kerning(before, sign, bold)


class _Faces(threading.local):
    """The open faces of one thread: a face that two threads use at once aborts the process."""

    def __init__(self) -> None:
        self.opened: dict[str, FT2Font] = {}


_FACES = _Faces()


def _face(path: str) -> FT2Font:
    face = _FACES.opened.get(path)
    if face is None:
        face = FT2Font(path)
        face.set_size(_EM, 72)
        _FACES.opened[path] = face
    return face


def _forget_faces() -> None:
    """Have the child of a fork open faces of its own."""
    _FACES.opened = {}


if hasattr(os, "register_at_fork"):
    os.register_at_fork(after_in_child=_forget_faces)


def renderer_measure(families: tuple[str, ...]) -> TextMeasure:
    """Return the renderer's own measure of text, with whatever hinting the caller's settings ask for."""
    renderer, drawn = RendererAgg(1, 1, PER_INCH), drawable(families)

    def measure(text: str, size: float, bold: bool) -> float:
        font = font_properties(families, size, bold=bold)
        return float(renderer.get_text_width_height_descent(drawn(text, bold), font, False)[0])

    return measure


def font_properties(families: tuple[str, ...], size: float, *, bold: bool) -> FontProperties:
    """Return Matplotlib's name for a font of a size in plan pixels; naming one by its file spares a search a use."""
    points, weight = size * 72 / PER_INCH, BOLD_WEIGHT if bold else 400
    if len(families) == 1:
        return FontProperties(fname=_file(families[0], bold), size=points, weight=weight)
    _register()
    return FontProperties(family=list(families), size=points, weight=_OTHER_BOLD if bold else 400)
