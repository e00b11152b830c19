"""How numbers and labels are shown to people: digits, marks, decimals, and what is before and after them."""

from __future__ import annotations

import math
import re
import unicodedata
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import fields, replace
from decimal import ROUND_HALF_EVEN, Decimal
from fractions import Fraction
from functools import cache
from typing import Literal, Self, TypeAlias, cast

from vantric.base.lazily import compiled
from vantric.core.numbers.amounts import Number
from vantric.errors import OptionError
from vantric.options import Options, option

#: Beyond so many decimals a number is read no more; a float has so many digits.
_MOST_DECIMALS, _MOST_DIGITS = 6, 17
#: Blanks that folding removes: at the ends, and where there are several.
_IDENTIFIER = compiled(r"[^\W\d][^\W]*_[^\W]*")
#: A unit in brackets behind a name.
_NAMED_UNIT = compiled(r"([^()\[\]]+)[(\[]([^()\[\]]{1,12})[)\]]")
_OUTER_BLANKS = compiled(r"^\s+|\s+$|\s{2,}")
#: Spaces at which no line ends: between the thousands of a number, before its percent sign.
NO_BREAK = "\u00a0\u202f"
#: How near counts as there: of the ends only rounding noise; of a cutoff what its decision allows, so a percent this
#: near is shown as equal to it.
_END_NOISE, _MARK_NOISE = 1e-11, 1e-7
#: So many hours or minutes have an axis in whole ones.
_SEVERAL = 4
#: Below the one and above the other a whole percent tells too little.
_FINE, _NEARLY_ALL = 1.0, 99.5
#: From it on the numbers at marks are in thousands, millions or billions.
_SHORTENED, _TOO_LARGE = 10_000, 10**15
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


def ends_texts(item: Number, other: Number, *, digits: int = 4) -> tuple[str, str]:
    """Return two numbers with the same decimals, so many digits or as many as tell them apart: ``("12.1", "8.4")``.

    The whole part stays whole, and neither is further from its number than half of its last digit. Numbers of different
    magnitude have the digits of their own: ``("90", "0.05833")``.
    """
    sizes = [Decimal(value).adjusted() for value in (item, other) if value and math.isfinite(value)]
    if len(sizes) > 1 and max(sizes) - min(sizes) > 1:
        own = [digits_text(_plainest(value), digits=digits) for value in (item, other)]
        if own[0] != own[1]:
            return own[0], own[1]
    texts = [repr(item), repr(other)]
    for more in range(digits, _MOST_DIGITS + 1):
        decimals = max(0, more - 1 - min(sizes, default=0))
        texts = number_texts([_plainest(item), _plainest(other)], most_decimals=decimals)
        if item == other or texts[0] != texts[1]:
            return texts[0], texts[1]
    return (texts[0], texts[1]) if item == other else (repr(item), repr(other))


def _plainest(value: Number) -> Number:
    """Return a whole number as an integer: it is written to its last digit."""
    return int(value) if math.isfinite(value) and value == math.floor(value) else value


ClockUnit: TypeAlias = Literal["h:mm", "mm:ss"]
#: Units of times that are held in minutes and written as people write them, each with the name of its larger part.
CLOCK_UNITS: Mapping[str, str] = {"h:mm": "h", "mm:ss": "min"}


def clock_text(minutes: Number, unit: str) -> str:
    """Return minutes as a time: ``"6:35"`` for 395 in h:mm, ``"3:20"`` for 3.3333 in mm:ss."""
    if not math.isfinite(minutes):
        return str(minutes)
    parts = int((Decimal(str(minutes)) * (60 if unit == "mm:ss" else 1)).to_integral_value(ROUND_HALF_EVEN))
    whole, part = divmod(abs(parts), 60)
    return f"{'-' if parts < 0 else ''}{whole:,}:{part:02}"


def clock_step(unit: str | None, span: float) -> Fraction:
    """Return what the nice steps of an axis are multiples of: hours for times of some hours, one for plain amounts."""
    if unit == "h:mm":
        return Fraction(60 if span >= _SEVERAL * 60 else 1)
    return Fraction(1, 60) if unit == "mm:ss" and span < _SEVERAL else Fraction(1)


def rounded(value: float, *, digits: int = 3) -> Number:
    """Return a number with so many significant digits, its whole part whole: a mean says no more."""
    if not math.isfinite(value) or not value:
        return value
    decimals = max(0, digits - 1 - math.floor(math.log10(abs(value))))
    return round(value, decimals) if decimals else round(value)


def short_text(value: Number) -> str:
    """Return a very large or small number in four significant digits: ``"1.235e+18"``."""
    mantissa, exponent = f"{Decimal(value):.3e}".lower().split("e")
    return f"{without_zeros(mantissa)}e{int(exponent):+d}"


def percent_text(value: float, *, decimals: int = 1, marks: Iterable[float] = ()) -> str:
    """Return a percent such as ``"83.5%"``, rounded so that it never claims more than is so.

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
            return f"{rounded:,.{places}f}%"
    return f"{value!r}%"


def whole_percent_text(value: float, *, marks: Iterable[float] = ()) -> str:
    """Return a whole percent, ``"82%"``; with a decimal below 1, above 99.5, or where rounding would meet a mark."""
    decimals = 1 if 0 < abs(value) < _FINE or _NEARLY_ALL < value < 100 - _END_NOISE else 0
    return percent_text(value, decimals=decimals, marks=marks)


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


def one_line(label: str, *, longest: int | None = None) -> str:
    """Return a label as it can be in one line: spaces folded, control characters dropped, too long cut short."""
    return _in_one_line(label, longest, "")


def text_line(text: str, *, longest: int | None = None) -> str:
    """Return a text of ours in one line; its no-break spaces stay: they hold numbers together."""
    return _in_one_line(text, longest, NO_BREAK)


def _in_one_line(text: str, longest: int | None, keep: str) -> str:
    if not text.isprintable():
        text = "".join(
            " " if _is_space(sign) and sign not in keep else sign
            for sign in text
            if _is_space(sign) or _is_printed(sign)
        )
    folded = text
    if "  " in text or text.startswith(" ") or text.endswith(" "):
        folded = " ".join(filter(None, text.split(" ")))
    if longest is not None and len(folded) > longest:
        folded = folded[: longest - 1].rstrip() + "…"
    return folded


def readable(name: str) -> str:
    """Return the name of a column as a person would write it: ``rework_cost`` is ``"rework cost"``."""
    plain = one_line(name)
    return plain.replace("_", " ").strip() if _IDENTIFIER.fullmatch(plain) else plain


def unit_word(name: str) -> str:
    """Return what amounts of a column are called: the unit that its name ends with, else the name."""
    match = _NAMED_UNIT.fullmatch(name.strip())
    return match[2] if match else name


def without_unit(name: str) -> str:
    """Return the name of a column without the unit that it ends with; empty where it has none."""
    match = _NAMED_UNIT.fullmatch(name.strip())
    return match[1].strip() if match else ""


def headed(name: str) -> str:
    """Return the name of a column as the head of something: ``"Rework cost"``."""
    plain = readable(name)
    first = plain.partition(" ")[0]
    return plain[:1].upper() + plain[1:] if first.islower() and len(first) > 1 else plain


def distinct_lines(labels: Sequence[str]) -> list[str]:
    """Return labels in one line each; where two would look the same, their spaces are made visible."""
    plain = [
        label if label.isprintable() and "  " not in label and label.strip(" ") == label else one_line(label)
        for label in labels  # a call for each of millions takes its time
    ]
    if len(set(plain)) == len(plain):
        return plain
    occurrences = Counter(plain)
    return [
        text if occurrences[text] == 1 or text == label else one_line(_OUTER_BLANKS.sub(_visible, label))
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


#: More decimals than a float has behind a number of some size.
_MOST_STYLE_DECIMALS = 12
#: An example that shows the marks of English.
_PLAIN_MARKS = "1,234.56"
_PLAIN_PERCENT = "%"
#: An example by which users say how numbers are written: 1.234,56.
_EXAMPLE = r"\d{1,3}(?:(?P<mark>\D)\d{3}(?:(?P=mark)\d{3})*)?(?P<decimal>\D)(?:\d{1,2}|\d{4,})"
#: The same without marks between thousands: 1234,56.
_WITHOUT_THOUSANDS = r"\d+(?P<mark>)(?P<decimal>\D)(?:\d{1,2}|\d{4,})"


@cache
def marks_of(example: str) -> tuple[str, str]:
    """Return the marks between thousands and before decimals that an example shows; the first may be empty.

    Raises
    ------
    OptionError
        If the example does not show both, or can be read in two ways.
    """
    import re

    match = re.fullmatch(_EXAMPLE, example, re.ASCII) or re.fullmatch(_WITHOUT_THOUSANDS, example, re.ASCII)
    marks = ("", "") if match is None else (match["mark"] or "", match["decimal"])
    if match is None or marks[0] == marks[1]:
        hint = "write a number with decimals, such as '1,234.56', '1.234,56', '1 234,56' or '1234.56'"
        raise OptionError(
            f"show_numbers='{example}' does not show which mark is which: {hint}", value=example, hint=hint
        )
    return marks


def with_unit(number: str, unit: str) -> str:
    """Return a number with a unit behind it, or in the place of the # of the unit: ``"%12"`` of ``"%#"``."""
    if "#" not in unit:
        return number + unit
    minus = number[: len(number) - len(number.lstrip("-−"))]
    return minus + unit.replace("#", number[len(minus) :])


class NumberOptions(Options, section="How the chart writes numbers"):
    """The options of how numbers are written."""

    show_numbers: str | None = option(
        None,
        "The marks of numbers, shown by an example: 1.234,56 or 1 234,56; those of the language if not given.",
        metavar="EXAMPLE",
    )
    decimals: int | None = option(
        None,
        "How many decimals every amount has; as many as it needs if not given.",
        metavar="N",
        least=0,
        most=_MOST_STYLE_DECIMALS,
    )
    prefix: str = option("", "Text before amounts: a currency sign.", metavar="TEXT")
    suffix: str = option("", "Text after amounts: a unit.", metavar="TEXT")
    percent_sign: str | None = option(
        None,
        "Text after percents, or with a # where the number is: %#; that of the language if not given, % in English.",
        metavar="TEXT",
    )
    si: bool = option(False, "Write amounts with a prefix of the International System of Units: 150 k, 2.5 M.")

    clock: ClockUnit | None = option(
        None, "Write amounts, which are minutes, as times: 6:35; as the column writes them if not given."
    )

    def __post_init__(self) -> None:
        """Check the example of the marks too."""
        super().__post_init__()
        if self.show_numbers is not None:
            marks_of(self.show_numbers)


class NumberStyle(NumberOptions):
    """How numbers are written; the options are those of a chart.

    Examples
    --------
    >>> import vantric as vt
    >>> vt.NumberStyle(show_numbers="1.234,56", prefix="€ ").amount(12480.5)
    '€ 12.480,5'
    """

    @classmethod
    def of(cls, options: NumberOptions, *, marks: str | None = None, percent: str | None = None) -> Self:
        """Return the style that the options of a chart describe; marks and percents where these say nothing."""
        settings = {field.name: getattr(options, field.name) for field in fields(NumberOptions)}
        values = {"show_numbers": settings["show_numbers"] or marks, "percent_sign": percent}
        if settings["percent_sign"] is not None:
            values["percent_sign"] = settings["percent_sign"]
        plain = {"show_numbers": _PLAIN_MARKS, "percent_sign": _PLAIN_PERCENT}
        return cls(**settings | {name: None if value == plain[name] else value for name, value in values.items()})

    @property
    def percent_unit(self) -> str:
        """What is written at percents: a text behind them, or one with a # where they are."""
        return _PLAIN_PERCENT if self.percent_sign is None else self.percent_sign

    def of_unit(self, unit: str | None) -> NumberStyle:
        """Return the style for amounts in a unit: times are written as times."""
        is_time = self.clock is None and unit in CLOCK_UNITS
        return replace(self, clock=cast(ClockUnit, unit)) if is_time else self

    def bare(self) -> NumberStyle:
        """Return a style with the same marks and percent sign, and nothing else."""
        return NumberStyle(show_numbers=self.show_numbers, percent_sign=self.percent_sign)

    def signed(self, text: str) -> str:
        """Return a number written as ``12,480.5`` with the marks of this style."""
        if self.show_numbers is None or self.show_numbers == _PLAIN_MARKS:
            return text
        thousands, decimal = marks_of(self.show_numbers)
        return text.translate({ord(","): thousands, ord("."): decimal})

    def amount(self, value: Number) -> str:
        """Return one amount."""
        return self.amounts([value])[0]

    def amounts(self, values: Sequence[Number], *, most_decimals: int = 6) -> list[str]:
        """Return the amounts of one series or axis, all with the same number of decimals."""
        si = ""
        if self.clock is not None:
            return [self._around(clock_text(value, self.clock), "") for value in values]
        if self.si:
            values, si = _prefixed(values)
        if self.decimals is None:
            texts = number_texts(values, most_decimals=most_decimals)
        else:
            texts = [_fixed(value, self.decimals) for value in values]
        return [self._around(self.signed(text), si) for text in texts]

    def _around(self, text: str, si: str) -> str:
        """Return a number with its signs; a minus is in front of the currency."""
        minus = "-" if text.startswith("-") else ""
        return f"{minus}{self.prefix}{text.removeprefix('-')}{si}{self.suffix}"

    def scaled(self, values: Sequence[Number]) -> list[Number]:
        """Return amounts as they are counted when they are written: in thousands, if that is their prefix."""
        return _prefixed(values)[0] if self.si else list(values)

    def short(self, values: Sequence[Number]) -> list[str]:
        """Return the amounts at marks: exact below 10,000, else in thousands or more with two digits at least.

        Where the user asked for decimals or for prefixes, and in languages without such letters, they are exact.
        """
        if not self.is_shortened(values):
            return self.amounts(values)
        largest = max(abs(value) for value in values)
        power, letter = next((power, letter) for power, letter in _LETTERS if largest >= 10**power)
        return [self._around(_two_digits(value, power) + (letter if value else ""), "") for value in values]

    def is_shortened(self, values: Sequence[Number]) -> bool:
        """Whether the amounts at marks are in thousands or more."""
        is_plain = self.decimals is None and not (self.si or self.clock) and self.show_numbers in (None, _PLAIN_MARKS)
        return is_plain and _SHORTENED <= max((abs(value) for value in values), default=0) < _TOO_LARGE

    def is_exact(self, values: Sequence[Number]) -> bool:
        """Whether short amounts are exact, with one decimal at most."""
        largest = max((abs(value) for value in values), default=0)
        if not self.is_shortened(values):
            return True
        power = next(power for power, _ in _LETTERS if largest >= 10**power)
        return all(scaled == round(scaled, 1) for scaled in (Decimal(str(value)).scaleb(-power) for value in values))

    def whole_percent(self, value: float, marks: Iterable[float] = ()) -> str:
        """Return a percent at a mark or in a title; see `whole_percent_text`."""
        text = whole_percent_text(value, marks=marks).removesuffix("%")
        return with_unit(self.signed(text), self.percent_unit)

    def plain(self, value: Number) -> str:
        """Return a number that is no amount: a count of categories."""
        return self.signed(number_text(value))

    def percents(self, value: float, marks: Iterable[float] = (), *, decimals: int = 1) -> str:
        """Return a percent; see `percent_text`."""
        text = percent_text(value, decimals=decimals, marks=marks).removesuffix("%")
        return with_unit(self.signed(text), self.percent_unit)


#: Powers of ten of short amounts, the largest first.
_LETTERS = ((9, "bn"), (6, "M"), (3, "k"))


def _two_digits(value: Number, power: int) -> str:
    """Return an amount in units of a power of ten with two digits at least: ``"135"``, ``"8.5"``."""
    scaled = Decimal(str(value)).scaleb(-power)
    decimals = max(0, 1 - scaled.adjusted()) if scaled else 0
    rounded = scaled.quantize(Decimal(1).scaleb(-min(decimals, 3)), ROUND_HALF_EVEN)
    return without_zeros(f"{rounded:,f}")


def _fixed(value: Number, decimals: int) -> str:
    plain = number_text(value)
    if "e" in plain:
        return plain
    if isinstance(value, int):
        return plain + ("." + "0" * decimals if decimals else "")
    text = f"{value:,.{decimals}f}"
    return text.removeprefix("-") if not text.strip("-0.") else text


#: Prefixes of the International System of Units (BIPM, 9th edition), by power of ten.
_PREFIXES = dict(zip(range(-12, 16, 3), ("p", "n", "µ", "m", "", "k", "M", "G", "T", "P"), strict=True))


def _prefixed(values: Sequence[Number]) -> tuple[list[Number], str]:
    """Return amounts in the unit of one prefix, that of the largest, and the prefix behind a blank."""
    largest = max((abs(value) for value in values), default=0)
    if not largest:
        return list(values), ""
    power = 3 * ((Decimal(largest).adjusted()) // 3)
    power = min(max(power, min(_PREFIXES)), max(_PREFIXES))
    if not power:
        return list(values), ""
    scaled = [float(Decimal(repr(value)).scaleb(-power)) for value in values]
    return [int(value) if value.is_integer() else value for value in scaled], f" {_PREFIXES[power]}"


PLAIN_STYLE = NumberStyle()
