"""The font that we ship: its files, and rules that give a page or an image the characters that it uses."""

from __future__ import annotations

import base64
import io
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

#: What the font is called; the weight of bold text.
FAMILY, BOLD_WEIGHT = "Vantric Sans", 600
#: Characters of most pictures: a font that holds them is shipped ready, since cutting one takes long.
_LATIN = frozenset(map(chr, range(32, 127))) | frozenset("–—…“”‘’·×≥≤±°−␣\u202f\u00a0")
_STYLES = {False: "Regular", True: "Semibold"}


def face_path(bold: bool) -> Path:
    """Return the file of the font that we ship."""
    return Path(__file__).parent / "typeface" / f"VantricSans-{_STYLES[bold]}.ttf"


def font_css(texts: Iterable[str] | None = None) -> str:
    """Return CSS that gives a page the font of the pictures, once for all that it holds.

    Parameters
    ----------
    texts
        What the page shows, such as its pictures themselves: the font then holds their characters only. The whole font
        if not given: 72 KB.
    """
    signs = _every_sign() if texts is None else "".join(texts)
    return font_faces((("", False), (signs, True)), always=signs)


@lru_cache(maxsize=1)
def _every_sign() -> str:
    from fontTools.ttLib import TTFont

    return "".join(map(chr, TTFont(face_path(False)).getBestCmap()))


def picture_faces(texts: Iterable[tuple[str, bool]]) -> str:
    """Return the rules for the texts of a picture: plain Latin letters and signs come ready, at a tenth of the time."""
    signs: dict[bool, set[str]] = {False: set(), True: set()}
    for text, bold in texts:
        signs[bold].update(text)
    used = {bold: sign for bold, sign in signs.items() if sign}
    if not all(sign <= _LATIN for sign in used.values()):
        return "".join(_face(bold, "".join(sorted(sign))) for bold, sign in used.items())
    return "".join(_rule(bold, latin_path(bold).read_text(encoding="ascii")) for bold in used)


def latin_path(bold: bool) -> Path:
    """Return the file of the characters of most pictures, in base 64."""
    return face_path(bold).with_suffix(".latin.txt")


def latin_face(bold: bool) -> str:
    """Return what is in that file: it is made with the package."""
    return base64.b64encode(_subset(bold, "".join(sorted(_LATIN)))).decode()


def font_faces(texts: Iterable[tuple[str, bool]], always: str = "") -> str:
    """Return the ``@font-face`` rules for texts, each with whether it is bold; plain text has `always`."""
    signs: dict[bool, set[str]] = {False: set(always), True: set()}
    for text, bold in texts:
        signs[bold].update(text)
    return "".join(_face(bold, "".join(sorted(sign))) for bold, sign in signs.items() if sign)


def _face(bold: bool, signs: str) -> str:
    return _rule(bold, base64.b64encode(_subset(bold, signs)).decode())


def _rule(bold: bool, data: str) -> str:
    source = f'src:url(data:font/woff;base64,{data}) format("woff")'
    return f'@font-face{{font-family:"{FAMILY}";font-weight:{BOLD_WEIGHT if bold else 400};{source}}}'


@lru_cache(maxsize=16)
def _subset(bold: bool, signs: str) -> bytes:
    """Return the font with these characters only, as WOFF 1.0 (W3C Recommendation, 2012)."""
    from fontTools.subset import Options, Subsetter
    from fontTools.ttLib import TTFont

    options = Options(
        hinting=False,
        layout_features=["kern"],
        name_IDs=[0, 1, 2, 13],
        notdef_outline=True,
        recalc_timestamp=False,
        glyph_names=False,
    )
    font = TTFont(face_path(bold), recalcTimestamp=False)
    cut = Subsetter(options)
    cut.populate(text=signs)
    cut.subset(font)
    font.flavor = "woff"
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()
