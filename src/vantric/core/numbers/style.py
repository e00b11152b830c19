"""The signs and decimals in which a reader wants numbers."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal

from vantric.core.numbers.amounts import Number
from vantric.core.numbers.shown import number_text, number_texts, percent_text
from vantric.errors import ChartError

_MOST_DECIMALS = 12


@dataclass(frozen=True)
class NumberStyle:
    """How numbers are written.

    Attributes
    ----------
    thousands, decimal
        The signs between thousands and before decimals; no sign between thousands if empty.
    decimals
        How many decimals every amount has; as many as it needs if None.
    before, after
        What stands before and behind an amount: a currency sign.
    percent
        What stands behind a percent.
    si
        Whether amounts are written with a prefix of the International System of Units: ``"150 k"``, ``"2.5 M"``.
    """

    thousands: str = ","
    decimal: str = "."
    decimals: int | None = None
    before: str = ""
    after: str = ""
    percent: str = " %"
    si: bool = False

    def __post_init__(self) -> None:
        """Refuse signs that would make numbers unreadable."""
        if self.thousands == self.decimal or not self.decimal:
            raise ChartError(
                f"thousands and decimals need different signs, not '{self.thousands}' and '{self.decimal}'"
            )
        if any(sign.isdigit() for sign in self.thousands + self.decimal):
            raise ChartError("the signs of numbers are no digits")
        if self.decimals is not None and not 0 <= self.decimals <= _MOST_DECIMALS:
            raise ChartError(f"decimals are from 0 to {_MOST_DECIMALS}, not {self.decimals}")

    def signed(self, text: str) -> str:
        """Return a number written as ``12,480.5`` in this style's signs."""
        if (self.thousands, self.decimal) == (",", "."):
            return text
        return text.translate({ord(","): self.thousands, ord("."): self.decimal})

    def amount(self, value: Number) -> str:
        """Return one amount."""
        return self.amounts([value])[0]

    def amounts(self, values: Sequence[Number], *, most_decimals: int = 6) -> list[str]:
        """Return the amounts of one series or axis, all with the same number of decimals."""
        prefix = ""
        if self.si:
            values, prefix = _prefixed(values)
        if self.decimals is None:
            texts = number_texts(values, most_decimals=most_decimals)
        else:
            texts = [_fixed(value, self.decimals) for value in values]
        return [f"{self.before}{self.signed(text)}{prefix}{self.after}" for text in texts]

    def plain(self, value: Number) -> str:
        """Return a number that is no amount: a count of categories."""
        return self.signed(number_text(value))

    def percents(self, value: float, marks: Iterable[float] = ()) -> str:
        """Return a percent; see `percent_text`."""
        return self.signed(percent_text(value, marks=marks).removesuffix(" %")) + self.percent


def _fixed(value: Number, decimals: int) -> str:
    plain = number_text(value)
    if "e" in plain:
        return plain
    if isinstance(value, int):
        return plain + ("." + "0" * decimals if decimals else "")
    return f"{value:,.{decimals}f}"


#: Prefixes of the International System of Units (BIPM, 9th edition), by power of ten.
_PREFIXES = {
    -12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G", 12: "T", 15: "P",
}  # fmt: skip


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
