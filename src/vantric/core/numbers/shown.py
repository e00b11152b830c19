"""How numbers and labels are shown to people."""

from __future__ import annotations

import math
import re
import unicodedata
from collections import Counter
from collections.abc import Iterable, Sequence
from decimal import ROUND_HALF_EVEN, Decimal

from vantric.core.numbers.amounts import Number

_MOST_DECIMALS = 6
#: Blanks that folding removes: at the ends, and where there are several.
_OUTER_BLANKS = re.compile(r"^\s+|\s+$|\s{2,}")
#: How near counts as there: of the ends only rounding noise, of a cutoff what its decision allows (DESIGN 3.1).
_END_NOISE = 1e-11
_MARK_NOISE = 1e-7


def number_text(value: Number, *, most_decimals: int = 6) -> str:
    """Return a number with thousands separated and no more decimals than it has: ``"12,480"``, ``"0.25"``."""
    if isinstance(value, int):
        return f"{value:,}" if abs(value) < 10**21 else short_text(value)
    if not math.isfinite(value):
        return str(value)
    if value == math.floor(value) and abs(value) < 1e15:
        return f"{int(value):,}"
    if abs(value) < 10.0**-most_decimals or abs(value) >= 1e15:
        return short_text(value)
    rounded = Decimal(repr(value)).quantize(Decimal(1).scaleb(-most_decimals), ROUND_HALF_EVEN)
    return f"{rounded:,f}".rstrip("0").rstrip(".")


def number_texts(values: Sequence[Number], *, most_decimals: int = 6) -> list[str]:
    """Return the numbers of one column or axis, all with the same number of decimals."""
    plain = [number_text(value, most_decimals=most_decimals) for value in values]
    decimals = max((len(text.partition(".")[2]) for text in plain if "e" not in text), default=0)
    return [
        text if "e" in text or not decimals else text + ("" if "." in text else ".") + "0" * (decimals - places)
        for text, places in ((text, len(text.partition(".")[2])) for text in plain)
    ]


def short_text(value: Number) -> str:
    """Return a very large or small number in four significant digits: ``"1.235e+18"``."""
    mantissa, exponent = f"{Decimal(value):.3e}".lower().split("e")
    mantissa = mantissa.rstrip("0").rstrip(".")
    return f"{mantissa}e{int(exponent):+d}"


def percent_text(value: float, *, decimals: int = 1, marks: Iterable[float] = ()) -> str:
    """Return a percent such as ``"83.5 %"``, rounded so that it never claims more than is so.

    Parameters
    ----------
    value
        The exact percent.
    decimals
        Decimals shown, more where they are needed: 99.96 is not shown as 100.0, nor 79.98 as 80.0 when 80 is
        one of the `marks`, nor 0.02 as 0.0.
    marks
        Values, such as cutoffs, that the rounded percent must not be mistaken for; 0 and 100 always are.
    """
    guarded = [(0.0, _END_NOISE), (100.0, _END_NOISE), *((mark, _MARK_NOISE) for mark in marks)]
    near = [mark for mark, noise in guarded if abs(value - mark) > noise]
    for places in range(decimals, _MOST_DECIMALS + 1):
        rounded = round(value, places)
        if rounded not in near:
            return f"{rounded:.{places}f} %"
    return f"{value!r} %"


def counted(amount: Number, singular: str, plural: str | None = None) -> str:
    """Return ``"1 record"`` or ``"231 records"``."""
    return f"{number_text(amount)} {singular if amount == 1 else plural or singular + 's'}"


def listed(words: Sequence[str], *, most: int = 8) -> str:
    """Return ``"a, b and c"``; beyond `most` words the rest is counted: ``"a, b and 7 more"``."""
    if len(words) > most:
        return f"{', '.join(words[:most])} and {len(words) - most} more"
    return " and ".join(filter(None, (", ".join(words[:-1]), *words[-1:])))


def quoted(labels: Sequence[str], *, most: int = 4, longest: int = 40) -> str:
    """Return labels in quotation marks, each in one line and cut short: ``"'a', 'b' and 'c'"``."""
    return listed([f"'{one_line(label, longest=longest)}'" for label in labels], most=most)


def with_article(noun: str) -> str:
    """Return the noun behind "a" or "an"."""
    return f"{'an' if noun[:1].casefold() in 'aeiou' else 'a'} {noun}" if noun else noun


def one_line(label: str, *, longest: int | None = None) -> str:
    """Return a label as it can be in one line: blanks folded, control characters dropped, too long cut short."""
    plain = label
    if not label.isprintable():
        plain = "".join(" " if _is_space(sign) else sign for sign in label if _is_space(sign) or _is_printed(sign))
    folded = " ".join(plain.split())
    if longest is not None and len(folded) > longest:
        folded = folded[: longest - 1].rstrip() + "…"
    return folded


def distinct_lines(labels: Sequence[str]) -> list[str]:
    """Return labels in one line each; where two would look the same, their blanks are made visible."""
    plain = [one_line(label) for label in labels]
    if len(set(plain)) == len(plain):
        return plain
    seen = Counter(plain)
    return [
        text if seen[text] == 1 or text == label else one_line(_OUTER_BLANKS.sub(_visible, label))
        for text, label in zip(plain, labels, strict=True)
    ]


def _visible(blanks: re.Match[str]) -> str:
    return "␣" * len(blanks[0])


def _is_space(sign: str) -> bool:
    return sign.isspace()


def _is_printed(sign: str) -> bool:
    """Keep what prints, and the joiners inside emoji and scripts; drop controls, surrogates and bidi overrides."""
    kind = unicodedata.category(sign)
    return kind not in {"Cc", "Cs", "Co", "Cn"} and not ("\u202a" <= sign <= "\u202e" or "\u2066" <= sign <= "\u2069")
