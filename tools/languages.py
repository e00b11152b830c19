"""Write how each language writes numbers, dates and plurals, from the Unicode locale data that Babel ships."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

PATH = Path(__file__).parent.parent / "src/vantric/core/messages/catalogs/cldr.json"
_ABOUT = "How languages write numbers, percents, dates and plurals; made from CLDR by tools/languages.py, not edited."


def codes() -> list[str]:
    """Return the languages that have a catalog, but English, whose forms are those of the code."""
    return sorted(path.stem for path in PATH.parent.glob("*.json") if path.stem not in ("cldr", "en"))


def text() -> str:
    """Return the file."""
    forms = {code: _forms(code) for code in codes()}
    return json.dumps({"about": _ABOUT, **forms}, indent=1) + "\n"


def _forms(code: str) -> dict[str, Any]:
    from babel import Locale

    locale = Locale.parse(code)
    symbols = locale.number_symbols["latn"]
    months = locale.months["stand-alone"]["abbreviated"]
    percent = str(locale.percent_formats[None].pattern)
    sign = percent.partition("#,##0")[0] + "#" if percent.startswith("%") else percent.partition("#,##0")[2]
    return {
        "name": locale.display_name,
        "show_numbers": f"1{symbols['group']}234{symbols['decimal']}56",
        "percent_sign": sign,
        "date": str(locale.date_formats["medium"].pattern),
        "months": [months[at].replace(" ", "\N{NO-BREAK SPACE}") for at in range(1, 13)],
        "plurals": dict(locale.plural_form.rules),
    }
