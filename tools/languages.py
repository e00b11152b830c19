"""Write how each language writes numbers and dates, from the data of the Unicode locale project that Babel ships."""

from __future__ import annotations

from pathlib import Path

PATH = Path(__file__).parent.parent / "src/vantric/core/charts/words/cldr.toml"
_HEAD = "# How languages write numbers, percents and dates; made from CLDR by tools/languages.py, not edited.\n"


def codes() -> list[str]:
    """Return the languages that have a set of words."""
    return sorted(path.stem for path in PATH.parent.glob("*.toml") if path != PATH)


def text() -> str:
    """Return the file."""
    return _HEAD + "".join(map(_entry, codes()))


def _entry(code: str) -> str:
    from babel import Locale

    locale = Locale.parse(code)
    symbols = locale.number_symbols["latn"]
    months = locale.months["stand-alone"]["abbreviated"]
    percent = str(locale.percent_formats[None].pattern)
    sign = percent.partition("#,##0")[0] + "#" if percent.startswith("%") else percent.partition("#,##0")[2]
    said = {
        "name": locale.display_name,
        "show_numbers": f"1{symbols['group']}234{symbols['decimal']}56",
        "percent_sign": sign,
        "date": str(locale.date_formats["medium"].pattern),
    }
    lines = "".join(f"{name} = {_quoted(value)}\n" for name, value in said.items())
    listed = ", ".join(_quoted(_one_word(months[at])) for at in range(1, 13))
    return f"\n[{code}]\n{lines}months = [{listed}]\n"


def _one_word(month: str) -> str:
    return month.replace(" ", "\N{NO-BREAK SPACE}")


def _quoted(value: str) -> str:
    shown = "".join(sign if sign.isprintable() else f"\\u{ord(sign):04X}" for sign in value)
    return '"' + shown.replace('"', '\\"') + '"'
