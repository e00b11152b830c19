"""How numbers are written: marks, decimal sign, what stands around them, and the number formats of sheets."""

from __future__ import annotations

import re
from decimal import Decimal
from functools import lru_cache

from vantric.base.lazily import cached_property, compiled, dataclass
from vantric.errors import OptionError
from vantric.reading.durations import HOURS, LETTERS, MINUTES

#: Every blank that stands between the parts of a number, as a class of a regular expression.
BLANKS = "[ \t\r\n\u00a0\u2007\u2009\u200a\u202f]"
#: Signs of currencies.
_SYMBOLS = "$€£¥₹₽₺₩₪₫₴₦₱฿₡₲₸₵₿¢"
#: Codes and abbreviations of currencies that cells hold.
_CODES = [
    "EUR",
    "USD",
    "GBP",
    "CHF",
    "JPY",
    "CNY",
    "RMB",
    "INR",
    "AUD",
    "CAD",
    "NZD",
    "SEK",
    "NOK",
    "DKK",
    "PLN",
    "CZK",
    "HUF",
    "RON",
    "BGN",
    "TRY",
    "RUB",
    "UAH",
    "BRL",
    "MXN",
    "ZAR",
    "ILS",
    "KRW",
    "SGD",
    "HKD",
    "THB",
    "AED",
    "SAR",
    "Rs",
    "kr",
    "zł",
    "Kč",
    "Ft",
    "лв",
    "руб",
    "Fr",
]
_CURRENCY = rf"(?:[A-Z]{{1,3}})?[{_SYMBOLS}]|(?:{'|'.join(_CODES)})\.?"
#: Plus, and every sign that is typed for a minus.
_SIGNS = "+\\-\u2212\u2013"
_BEFORE = rf"{_CURRENCY}|%|‰"
_AFTER = rf"(?![¹²³⁰-⁹₀-₉¼-¾])(?:{_CURRENCY}|[%‰°‱]|[^\W\d_])(?:[^\s\d<>~=:;()]{{0,15}}[23²³]?)"
_CELL = compiled(
    rf"{BLANKS}*(?P<open>\()?{BLANKS}*(?P<sign>[{_SIGNS}])?{BLANKS}*(?P<before>{_BEFORE})?{BLANKS}*"
    rf"(?P<inner>[{_SIGNS}])?{BLANKS}*(?P<number>[.,]?[0-9](?:(?:[0-9.,'’]|{BLANKS})*[0-9.,])?)"
    rf"(?P<power>[eE][+-]?[0-9]{{1,4}}(?![0-9]))?{BLANKS}*(?P<after>{_AFTER})?{BLANKS}*(?P<behind>[{_SIGNS}])?"
    rf"{BLANKS}*(?P<close>\))?{BLANKS}*"
)
#: Marks between thousands.
_GROUPS = ("", ",", ".", " ", "'")
#: Spellings of one unit.
_SAME_UNIT = {
    "€": "EUR",
    "£": "GBP",
    "¥": "JPY",
    "₹": "INR",
    "rs": "INR",
    "$": "USD",
    "us$": "USD",
    "₽": "RUB",
    "руб": "RUB",
    "fr": "CHF",
    "zł": "PLN",
    "kč": "CZK",
    "₺": "TRY",
    "₴": "UAH",
}


@dataclass(frozen=True)
class DigitStyle:
    """How the digits of a number are divided.

    Attributes
    ----------
    group
        The mark between thousands; empty if there is none.
    decimal
        The decimal sign; empty where all numbers are whole and none is marked.
    indian
        Whether groups above the thousands are pairs.
    clock
        How times are meant, where the cells are times: ``"h:mm"``, ``"mm:ss"`` or ``"1h 20m"``.
    """

    group: str = ""
    decimal: str = ""
    indian: bool = False
    clock: str = ""

    @property
    def example(self) -> str:
        """A number in this style, as ``read_numbers`` takes it."""
        if self.clock:
            return self.clock
        decimal = self.decimal or ("," if self.group == "." else ".")
        return f"12{self.group}34{self.group}567{decimal}8" if self.indian else f"1{self.group}234{decimal}56"

    def pattern(
        self, *, most_whole: str = "+", most_decimals: str = "*", most_groups: str = "+", blank: str = BLANKS
    ) -> str:
        """Return the regular expression of its numbers, without sign and unit; it has no groups that capture.

        Parameters
        ----------
        most_whole, most_decimals, most_groups
            How many digits and groups, as the expression has them.
        blank
            The expression of a blank between thousands.
        """
        digits, point = "[0-9]", re.escape(self.decimal)
        fraction = f"(?:{point}{digits}{most_decimals})?" if self.decimal else ""
        forms = [f"{digits}{most_whole}{fraction}"]
        if self.decimal:
            forms.append(f"{point}{digits}{most_decimals.replace('*', '+').replace('{0,', '{1,')}")
        if self.group:
            mark = blank if self.group == " " else "['’]" if self.group == "'" else re.escape(self.group)
            head = rf"[1-9]{digits}?(?:{mark}{digits}{{2}})*" if self.indian else rf"[1-9]{digits}{{0,2}}"
            tail = rf"{mark}{digits}{{3}}" if self.indian else rf"(?:{mark}{digits}{{3}}){most_groups}"
            forms.append(f"{head}{tail}{fraction}")
        return f"(?:{'|'.join(forms)})"

    def fits(self, number: str) -> bool:
        """Whether a number without sign and unit is written so."""
        return self._compiled.fullmatch(number) is not None

    @cached_property
    def _compiled(self) -> re.Pattern[str]:
        return re.compile(self.pattern())

    def value(self, number: str, power: str = "") -> Decimal:
        """Return the value of a number that fits."""
        text = "".join(sign for sign in number if sign.isdigit() or sign == self.decimal)
        return Decimal((text.replace(self.decimal, ".") if self.decimal else text) + power)


#: Narrow ones first: of styles that read all cells alike, the first is taken.
STYLES: tuple[DigitStyle, ...] = (
    DigitStyle(),
    *(DigitStyle("", decimal) for decimal in ".,"),
    *(DigitStyle(group) for group in _GROUPS if group),
    *(DigitStyle(group, decimal) for decimal in ".," for group in _GROUPS if group and group != decimal),
    DigitStyle(",", "", indian=True),
    DigitStyle(",", ".", indian=True),
)


@dataclass(frozen=True)
class NumberCell:
    """A cell that holds a number, taken apart.

    Attributes
    ----------
    text
        The cell as it is.
    number, power
        Its digits and marks, and ``"e3"``.
    unit
        What stands before or behind: ``"%"``, ``"EUR"``, ``"kg"``; as it is written.
    negative, bracketed
        Its sign, and whether that is a pair of brackets.
    footnote
        A mark behind it that is no part of the number: ``"*"``, ``"(a)"``, the dash of ``"1'250.-"``.
    """

    text: str
    number: str
    power: str = ""
    unit: str = ""
    negative: bool = False
    bracketed: bool = False
    footnote: str = ""

    @property
    def is_zero(self) -> bool:
        """Whether it is zero in any style."""
        return not any(sign in "123456789" for sign in self.number)

    def value(self, style: DigitStyle) -> Decimal:
        """Return what it says in a style that it fits."""
        amount = style.value(self.number, self.power)
        return -amount if self.negative and amount else amount


def cell_of(text: str) -> NumberCell | None:
    """Return a cell taken apart; None if it is no number in any style."""
    if text.isdecimal() and text.isascii():
        return NumberCell(text, text)
    match = _CELL.fullmatch(text)
    if match is None or _WHOLE_AMOUNT.search(text) or not text.isascii():
        plain, footnote = _without_footnote(text)
        match = match if match is not None and not footnote and plain == text else _CELL.fullmatch(plain)
    else:
        footnote = ""
    if match is None or (match["open"] is None) != (match["close"] is None):
        return None
    signs = [sign for sign in (match["sign"], match["inner"], match["behind"]) if sign]
    units = [unit for unit in (match["before"], match["after"]) if unit]
    if len(signs) > 1 or len(units) > 1 or (signs and match["open"]):
        return None
    number = re.sub(BLANKS, " ", match["number"]).replace("’", "'")
    negative = bool(match["open"]) or any(sign != "+" for sign in signs)
    unit = units[0] if units else ""
    return NumberCell(text, number, match["power"] or "", unit, negative, bool(match["open"]), footnote)


#: Digits and marks as wide as the signs of East Asia.
_WIDE = {code: code - 0xFEE0 for code in range(0xFF01, 0xFF5F)} | {0x3000: 0x20}
#: The dash of amounts without a fraction: 1'250.- and 61,--
_WHOLE_AMOUNT = compiled(r"(?<=[0-9])[.,](?:[-–—]|--)\s*$")
_FOOTNOTE = compiled(r"(?<=[0-9%)])\s*(?:\*{1,3}|[†‡§¶]+|[¹²³⁴-⁹⁰]+|\(?[a-z]\)|\[(?:\d{1,2}|[a-z])\]|\s[a-z]\))\s*$")


def _without_footnote(text: str) -> tuple[str, str]:
    """Return a cell without a mark of a footnote, in digits of ordinary width, and what was taken from it."""
    plain = text.translate(_WIDE)
    match = _WHOLE_AMOUNT.search(plain) or _FOOTNOTE.search(plain)
    if match is None:
        return plain, "" if plain == text else "wide"
    return plain[: match.start()], match[0].strip()


@lru_cache(maxsize=1024)
def is_number(text: str) -> bool:
    """Whether a cell is a number in some style, with or without a unit."""
    cell = cell_of(text)
    return cell is not None and any(style.fits(cell.number) for style in STYLES)


def is_currency(unit: str) -> bool:
    """Whether a unit is a currency: written beside the first amount, it holds for all."""
    return same_unit(unit) in _CODES or any(sign in _SYMBOLS for sign in unit)


def same_unit(unit: str) -> str:
    """Return what spellings of one unit have in common."""
    plain = unit.rstrip(".").casefold()
    if len(plain) > 1 and unit.isupper() and plain[0] not in "mp" and plain.upper() not in _CODES:
        return plain  # KG, but not MW: mW is another unit
    return _SAME_UNIT.get(plain, plain.upper() if plain.upper() in _CODES else unit.rstrip("."))


def read_style(example: str) -> DigitStyle:
    """Return the style of a number that the user wrote as an example, such as ``1.234,56``.

    Raises
    ------
    OptionError
        If it is no number, or could be of several styles.
    """
    if example.strip() in (HOURS, MINUTES, LETTERS):
        return DigitStyle(clock=example.strip())
    cell = cell_of(example)
    if cell is None or cell.power:
        raise OptionError(
            f"read_numbers is an example of how numbers are written, such as 1.234,56 or 1,234.56, not '{example}'",
            value=example,
        )
    marked = [style for style in STYLES if style.fits(cell.number)]
    values = {style.value(cell.number) for style in marked}
    if len(values) > 1:
        raise OptionError(
            f"'{example}' could be written in two styles: give an example with both marks, such as 1.234,56 or "
            "1,234.56",
            value=example,
        )
    if not marked:
        raise OptionError(f"read_numbers: '{example}' is no number as people write them; write 1,234.56", value=example)
    digit_style = marked[0]
    if (
        not digit_style.decimal and digit_style.group
    ):  # 1 234 567: whole in the example, with a decimal sign in the cells perhaps
        digit_style = DigitStyle(digit_style.group, "," if digit_style.group == "." else ".", digit_style.indian)
    return digit_style if digit_style.decimal else DigitStyle("", ".")


#: Pieces of a number format: quoted text, escaped signs, currencies, digits, ...
_PARTS = compiled(
    r'"([^"]*)"|\\(.)|\[\$([^\]-]*)(?:-[^\]]*)?\]|\[[^\]]*\]|_.|\*.|'
    r"([0#?][0#?.,/ ]*(?:[eE][+-][0#?]+)?|General|@)|(.)",
    re.DOTALL,
)
#: Letters of a format by which a number is a date.
_DATE_SIGNS = frozenset("ymdhsYMDHS")
#: Signs that a format shows without quotes.
_SHOWN_BARE = frozenset("$€£¥+-() ")
#: Formats that have a number and no text in the file.
_BUILT_IN = {9: "0%", 10: "0.00%"}


@dataclass(frozen=True)
class FormatText:
    """What a format puts around a number.

    Attributes
    ----------
    percent
        Whether a hundredth is shown as 1.
    before, after
        Text in front of the number and behind it.
    """

    percent: bool = False
    before: str = ""
    after: str = ""

    def text(self, value: Decimal) -> str:
        """Return a number with its unit, as a reader sees it, with all its decimals."""
        number = plain_text(value.scaleb(2) if self.percent else value)
        return f"{self.before}{number}{'%' if self.percent else ''}{self.after}"


def plain_text(value: Decimal) -> str:
    """Return a number in digits, without zeros at its end."""
    text = format(value, "f")
    return text.rstrip("0").rstrip(".") if "." in text else text


def shown_by(code: str) -> FormatText | None:
    """Return what a format shows around a number; None if that is nothing, or no unit."""
    section = _first_section(code)
    before, after, has_number, percent = "", "", False, False
    for quoted, escaped, currency, digits, other in _PARTS.findall(section):
        if digits:
            if digits.rstrip().endswith(","):  # it shows thousands or millions, and the cell holds all of it
                return None
            has_number = True
            continue
        if other == "%":
            percent = True
            continue
        if other in _DATE_SIGNS:
            return None
        shown_text = quoted or escaped or currency or (other if other in _SHOWN_BARE else "")
        if has_number:
            after += shown_text
        else:
            before += shown_text
    if not has_number:
        return None
    unit = FormatText(percent, before.strip(" +-()"), after.strip(" +-()"))
    if not (percent or unit.before or unit.after):
        return None
    cell = cell_of(unit.text(Decimal(1)))
    if cell is None or not cell.unit:
        return FormatText(percent) if percent else None
    return unit


def _first_section(code: str) -> str:
    return re.split(r';(?=(?:[^"]*"[^"]*")*[^"]*$)', code)[0]


def built_in(number: int) -> str:
    """Return the code of a format that the file only numbers; empty where it shows nothing around a number."""
    return _BUILT_IN.get(number, "")
