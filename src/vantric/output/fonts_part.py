"""The letters that the charts of a page use, as a font inside the page: texts are as wide as they were measured."""

from __future__ import annotations

import base64
import io
from collections.abc import Iterable
from functools import lru_cache
from importlib.util import find_spec
from pathlib import Path

#: What the style of a page calls the font; its letters are those of the font that ships with Matplotlib.
FAMILY = "Chart Sans"
_FILES = {False: "DejaVuSans.ttf", True: "DejaVuSans-Bold.ttf"}
#: What a page may write into a chart by itself.
_ALWAYS = frozenset("0123456789.,% -–")


def font_faces(texts: Iterable[tuple[str, bool]]) -> str:
    """Return the ``@font-face`` rules for texts, each with whether it is bold."""
    signs: dict[bool, set[str]] = {False: set(_ALWAYS), True: set()}
    for text, bold in texts:
        signs[bold].update(text)
    return "".join(_face(bold, "".join(sorted(found))) for bold, found in signs.items() if found)


def _face(bold: bool, signs: str) -> str:
    data = base64.b64encode(_subset(_FILES[bold], signs)).decode()
    weight = 700 if bold else 400
    source = f'src:url(data:font/woff;base64,{data}) format("woff")'
    return f'@font-face{{font-family:"{FAMILY}";font-weight:{weight};{source}}}'


@lru_cache(maxsize=16)
def _subset(name: str, signs: str) -> bytes:
    """Return a font with these signs only, as WOFF 1.0 (W3C Recommendation, 2012)."""
    from fontTools.subset import Options, Subsetter
    from fontTools.ttLib import TTFont

    options = Options(
        hinting=False,
        layout_features=[],
        name_IDs=[0, 1, 2, 13],
        notdef_outline=True,
        recalc_timestamp=False,
        drop_tables=["FFTM", "GDEF", "GPOS", "GSUB", "kern", "gasp"],
        desubroutinize=False,
        glyph_names=False,
    )
    font = TTFont(_path(name), recalcTimestamp=False)
    cut = Subsetter(options)
    cut.populate(text=signs)
    cut.subset(font)
    font.flavor = "woff"
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


def _path(name: str) -> Path:
    """Return where the font is, without loading the library that it ships with."""
    found = find_spec("matplotlib")
    assert found is not None
    assert found.origin is not None
    return Path(found.origin).parent / "mpl-data" / "fonts" / "ttf" / name
