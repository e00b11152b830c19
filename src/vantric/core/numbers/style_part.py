"""How a reader wants numbers written: marks, decimals, what is before and after them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import fields
from decimal import Decimal
from functools import cache
from typing import Self

from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import number_text, number_texts, percent_text
from vantric.errors import OptionError
from vantric.options import Options, option

_MOST_STYLE_DECIMALS = 12
_PLAIN_MARKS = "1,234.56"
_PLAIN_PERCENT = " %"
_EXAMPLE = r"\d{1,3}(?:(?P<mark>\D)\d{3}(?:(?P=mark)\d{3})*)?(?P<decimal>\D)(?:\d{1,2}|\d{4,})"
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

    found = re.fullmatch(_EXAMPLE, example, re.ASCII) or re.fullmatch(_WITHOUT_THOUSANDS, example, re.ASCII)
    marks = ("", "") if found is None else (found["mark"] or "", found["decimal"])
    if found is None or marks[0] == marks[1]:
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
        "Text after percents, or with a # where the number is: %#; that of the "
        "language if not given, a blank and % in English.",
        metavar="TEXT",
    )
    si: bool = option(False, "Write amounts with a prefix of the International System of Units: 150 k, 2.5 M.")

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
        said = {one.name: getattr(options, one.name) for one in fields(NumberOptions)}
        found = {"show_numbers": said["show_numbers"] or marks, "percent_sign": percent}
        if said["percent_sign"] is not None:
            found["percent_sign"] = said["percent_sign"]
        plain = {"show_numbers": _PLAIN_MARKS, "percent_sign": _PLAIN_PERCENT}
        return cls(**said | {name: None if value == plain[name] else value for name, value in found.items()})

    @property
    def percent_unit(self) -> str:
        """What is written at percents: a text behind them, or one with a # where they are."""
        return _PLAIN_PERCENT if self.percent_sign is None else self.percent_sign

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

    def plain(self, value: Number) -> str:
        """Return a number that is no amount: a count of categories."""
        return self.signed(number_text(value))

    def percents(self, value: float, marks: Iterable[float] = (), *, decimals: int = 1) -> str:
        """Return a percent; see `percent_text`."""
        text = percent_text(value, decimals=decimals, marks=marks).removesuffix(" %")
        return with_unit(self.signed(text), self.percent_unit)


def _fixed(value: Number, decimals: int) -> str:
    plain = number_text(value)
    if "e" in plain:
        return plain
    if isinstance(value, int):
        return plain + ("." + "0" * decimals if decimals else "")
    text = f"{value:,.{decimals}f}"
    return text.removeprefix("-") if not text.strip("-0.") else text


#: Prefixes of the International System of Units (BIPM, 9th edition), by power of ten.
_PREFIXES = {
    -12: "p",
    -9: "n",
    -6: "µ",
    -3: "m",
    0: "",
    3: "k",
    6: "M",
    9: "G",
    12: "T",
    15: "P",
}


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
