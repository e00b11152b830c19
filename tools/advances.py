"""How wide the signs of the base font are, for plans that are made without it: from the font that Matplotlib ships."""

from __future__ import annotations

import json
import textwrap
from pathlib import Path

import matplotlib as mpl
from fontTools.ttLib import TTFont

PATH = Path(__file__).parents[1] / "src" / "vantric" / "core" / "layout" / "advances.py"
#: Latin, Greek, Cyrillic, Armenian; their extensions, punctuation, currencies; letter-like signs, arrows, mathematics.
_RANGES = ((0x20, 0x58F), (0x1E00, 0x20CF), (0x2100, 0x22FF))
_A_LINE = 16  # pairs
_HEAD = '''"""How wide the signs of the base font are, in 2048ths of an em.

Made by `make generated` from the font that Matplotlib ships; do not edit. Each run begins with the code of its first
sign; three hexadecimal digits a sign follow, ``fff`` for a sign that the font lacks. Pairs that kerning parts are two
signs and three digits.
"""

from __future__ import annotations

'''


def text() -> str:
    """Return the module: for both weights the advances in runs, and the pairs that kerning parts."""
    parts = [_HEAD]
    for name, file in (("REGULAR", "DejaVuSans.ttf"), ("BOLD", "DejaVuSans-Bold.ttf")):
        font = TTFont(Path(mpl.get_data_path()) / "fonts" / "ttf" / file)
        signs, widths = font.getBestCmap(), font["hmtx"]
        parts.append(f"{name} = (\n")
        for first, last in _RANGES:
            digits = "".join(
                f"{min(widths[signs[code]][0], 0xFFE) if code in signs else 0xFFF:03x}"
                for code in range(first, last + 1)
            )
            rows = "\n".join(f'        "{row}"' for row in textwrap.wrap(digits, 108))
            parts.append(f"    (\n        0x{first:04X},\n{rows},\n    ),\n")
        parts.append(")\n")
        codes = {glyph: code for code, glyph in sorted(signs.items(), reverse=True)}
        pairs = sorted(
            (chr(codes[left]) + chr(codes[right]), size)
            for table in font["kern"].kernTables
            for (left, right), size in table.kernTable.items()
            if size > 0
            and left in codes
            and right in codes
            and all(any(low <= codes[one] <= high for low, high in _RANGES) for one in (left, right))
        )
        parts.append(f"{name}_PARTED = (\n")
        for start in range(0, len(pairs), _A_LINE):
            row = "".join(f"{pair}{size:03x}" for pair, size in pairs[start : start + _A_LINE])
            parts.append(f"    {json.dumps(row)}\n")
        parts.append(")\n")
    return "".join(parts)


if __name__ == "__main__":
    PATH.write_text(text(), encoding="utf-8")
