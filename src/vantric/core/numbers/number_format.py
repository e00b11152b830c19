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
_MOST_DIGITS = 17  # that a float has
#: Blanks that folding removes: at the ends, and where there are several.
_IDENTIFIER = re.compile(r"[^\W\d][^\W]*_[^\W]*")
_NAMED_UNIT = re.compile(r"([^()\[\]]+)[(\[]([^()\[\]]{1,12})[)\]]")
_OUTER_BLANKS = re.compile(r"^\s+|\s+$|\s{2,}")
#: How near counts as there: of the ends only rounding noise, of a cutoff what its decision allows (DESIGN 3.1).
_END_NOISE = 1e-11
_MARK_NOISE = 1e-7
#: Below it a number is written with a power of ten.
_SMALL = 1e-6


def number_text(value: Number, *, most_decimals: int = 6) -> str:
    """Return a number with thousands separated and no more decimals than it has: ``"12,480"``, ``"0.25"``."""
    if isinstance(value, int):
        return f"{value:,}" if abs(value) < 10**21 else short_text(value)
    if not math.isfinite(value):
        return str(value)
    if value == math.floor(value) and abs(value) < 1e15:
        return f"{int(value):,}"
    if abs(value) < 10.0**-most_decimals or abs(value) >= 1e15:
        return _small_text(value) if _SMALL <= abs(value) < 1 else short_text(value)
    rounded = Decimal(repr(value)).quantize(Decimal(1).scaleb(-most_decimals), ROUND_HALF_EVEN)
    return without_zeros(f"{rounded:,f}")


def without_zeros(text: str) -> str:
    """Return a number without the zeros at the end of its decimals; those of its whole part stay."""
    return text.rstrip("0").rstrip(".") if "." in text else text


def _small_text(value: float) -> str:
    """Return a number below 1 in four significant digits: it is not rounded away."""
    exact = Decimal(repr(value))
    return without_zeros(f"{round(exact, 3 - exact.adjusted()):f}")


def decimals_of(value: Number) -> int:
    """Return how many decimals a number is written with: 2 of 13.25, none of 5.0."""
    if isinstance(value, int) or not math.isfinite(value) or value == math.floor(value):
        return 0
    return max(0, -int(Decimal(repr(float(value))).normalize().as_tuple().exponent))


def number_texts(values: Sequence[Number], *, most_decimals: int = 6) -> list[str]:
    """Return the numbers of one column or axis, all with the same number of decimals."""
    plain = [number_text(value, most_decimals=most_decimals) for value in values]
    places = [len(text.partition(".")[2]) for text in plain]
    decimals = max(
        (min(own, most_decimals) for text, own in zip(plain, places, strict=True) if "e" not in text), default=0
    )
    return [
        text if "e" in text or own >= decimals else text + ("" if own else ".") + "0" * (decimals - own)
        for text, own in zip(plain, places, strict=True)
    ]


def digits_text(value: Number, *, digits: int = 6) -> str:
    """Return a number in so many significant digits, its whole part whole: ``"1,226,250"``, ``"0.123457"``."""
    if not math.isfinite(value) or not value:
        return number_text(value)
    power = Decimal(value).adjusted()
    return short_text(value) if power < -digits else number_text(value, most_decimals=max(0, digits - 1 - power))


def ends_texts(one: Number, other: Number, *, digits: int = 4) -> tuple[str, str]:
    """Return two numbers with the same decimals, so many digits or as many as tell them apart: ``("12.1", "8.4")``.

    The whole part stays whole, and neither is further from its number than half of its last digit.
    """
    sizes = [Decimal(value).adjusted() for value in (one, other) if value and math.isfinite(value)]
    texts = [repr(one), repr(other)]
    for more in range(digits, _MOST_DIGITS + 1):
        decimals = max(0, more - 1 - min(sizes, default=0))
        texts = number_texts([_plainest(one), _plainest(other)], most_decimals=decimals)
        if one == other or texts[0] != texts[1]:
            return texts[0], texts[1]
    return (texts[0], texts[1]) if one == other else (repr(one), repr(other))


def _plainest(value: Number) -> Number:
    """Return a whole number as an integer: it is written to its last digit."""
    return int(value) if math.isfinite(value) and value == math.floor(value) else value


def short_text(value: Number) -> str:
    """Return a very large or small number in four significant digits: ``"1.235e+18"``."""
    mantissa, exponent = f"{Decimal(value):.3e}".lower().split("e")
    return f"{without_zeros(mantissa)}e{int(exponent):+d}"


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
            return f"{rounded:,.{places}f} %"
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


def readable(name: str) -> str:
    """Return the name of a column as a person would write it: ``rework_cost`` is ``"rework cost"``."""
    plain = one_line(name)
    return plain.replace("_", " ").strip() if _IDENTIFIER.fullmatch(plain) else plain


def unit_word(name: str) -> str:
    """Return what amounts of a column are called: the unit that its name ends with, else the name."""
    found = _NAMED_UNIT.fullmatch(name.strip())
    return found[2] if found else name


def without_unit(name: str) -> str:
    """Return the name of a column without the unit that it ends with; empty where it has none."""
    found = _NAMED_UNIT.fullmatch(name.strip())
    return found[1].strip() if found else ""


def headed(name: str) -> str:
    """Return the name of a column as the head of something: ``"Rework cost"``."""
    plain = readable(name)
    first = plain.partition(" ")[0]
    return plain[:1].upper() + plain[1:] if first.islower() and len(first) > 1 else plain


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
