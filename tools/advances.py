"""How wide the characters of the base font are, for plans that are made without it: from the fonts that we ship."""

from __future__ import annotations

import json
import textwrap
from pathlib import Path

from fontTools.ttLib import TTFont

from tools.font import FOLDER, RANGES, kerning

PATH = Path(__file__).parents[1] / "src" / "vantric" / "core" / "layout" / "advances.py"
_A_LINE = 16  # pairs
#: What is added to an amount of kerning, so that none is below zero.
_ZERO = 0x800
_HEAD = '''"""How wide the characters of the base font are, in thousandths of an em.

Made by `make generated` from the fonts in `rendering/typeface`; do not edit. Each run begins with the code of its
first character; three hexadecimal digits a character follow, ``fff`` for one that the font lacks. Pairs that kerning
moves are two characters and three digits, from which ``800`` is to be subtracted.
"""

from __future__ import annotations

'''


def text() -> str:
    """Return the module: for both weights the advances in runs, and the pairs that kerning moves."""
    parts = [_HEAD]
    for name, style in (("REGULAR", "Regular"), ("BOLD", "Semibold")):
        font = TTFont(FOLDER / f"VantricSans-{style}.ttf")
        signs, widths = font.getBestCmap(), font["hmtx"]
        parts.append(f"{name} = (\n")
        for first, last in RANGES:
            digits = "".join(
                f"{min(widths[signs[code]][0], 0xFFE) if code in signs else 0xFFF:03x}"
                for code in range(first, last + 1)
            )
            rows = "\n".join(f'        "{row}"' for row in textwrap.wrap(digits, 108))
            parts.append(f"    (\n        0x{first:04X},\n{rows},\n    ),\n")
        parts.append(")\n")
        pairs = list(kerning(font).items())
        parts.append(f"{name}_KERNED = (\n")
        for start in range(0, len(pairs), _A_LINE):
            row = "".join(f"{left}{right}{size + _ZERO:03x}" for (left, right), size in pairs[start : start + _A_LINE])
            parts.append(f"    {json.dumps(row)}\n")
        parts.append(")\n")
    return "".join(parts)


if __name__ == "__main__":
    PATH.write_text(text(), encoding="utf-8")
