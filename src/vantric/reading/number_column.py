"""A column of numbers as text: one style and one unit for all its cells, or a question that says why not."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from decimal import Decimal
from enum import Enum

from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.provenance import Note
from vantric.core.counts.relabeling import is_missing_code
from vantric.errors import AmountError
from vantric.reading.durations import MARKS, UNITS, clock_styles, minutes_of
from vantric.reading.number_style import STYLES, DigitStyle, NumberCell, cell_of, is_currency, same_unit

#: A cell of a dash alone says that there is nothing.
DASHES = frozenset({"-", "–", "—", "−", "--"})
PLAIN = DigitStyle()
#: A number of one reading only, whatever the style.
_PLAIN = compiled(r"[+-]?[0-9]+(\.[0-9]*)?|[+-]?\.[0-9]+")
_PLAIN_CELL = compiled(r"[+-]?[0-9]+(\.[0-9]*)?")
#: Whether a point can only be a decimal sign.
_DECIMALS = compiled(r"[+-]?([0-9]+\.([0-9]{1,2}|[0-9]{4,})|(0[0-9]*|[0-9]{4,})\.[0-9]+)")
#: Units that say by how much the number is multiplied: beside them a bare number is another thing.
_MULTIPLIERS = frozenset(
    [
        "k",
        "m",
        "t",
        "mn",
        "mm",
        "bn",
        "b",
        "tsd",
        "mio",
        "mrd",
        "mil",
        "thousand",
        "million",
        "billion",
        "lakh",
        "crore",
        "lac",
        "cr",
    ]
)
#: A minus before a number, with spaces.
_LEADING = compiled(r"\s*-\s*[0-9.,]")


class Doubt(Enum):
    """Why a column cannot be read."""

    NO_NUMBER = "no number"
    CODE = "missing code"
    STYLES = "no common style"
    UNITS = "different units"
    BRACKETS = "bracketed integers"
    PERCENTS = "percents beside bare numbers"
    AMBIGUOUS = "two readings"
    LETTERS = "letters for digits"
    CLOCK = "hours or minutes"


class DoubtError(ValueError):
    """A column cannot be read in one way; `cells` show why."""

    def __init__(self, doubt: Doubt, *cells: str, styles: Sequence[DigitStyle] = ()) -> None:
        super().__init__(doubt.value)
        self.doubt, self.cells, self.styles = doubt, cells, tuple(styles)


@dataclass(frozen=True)
class NumberReading:
    """How the cells of a column are read.

    Attributes
    ----------
    style
    units
        Every spelling of the column's unit, none if it has none.
    signs
        Whether there are brackets, or signs behind or other than ``-``.
    powers
        Whether there are exponents.
    before
        An example: a cell as it is that this reading changes; empty if it changes none.
    supposed
        Of a style that was chosen among several: what it was chosen for.
    dashes
        Whether a dash alone stands for a missing number.
    blanks
        Every kind of blank that is in the cells.
    footnotes
        Whether there are marks of footnotes, or digits of another width.
    """

    style: DigitStyle = PLAIN
    units: tuple[str, ...] = ()
    signs: bool = False
    powers: bool = False
    before: str = ""
    supposed: str = ""
    dashes: bool = False
    blanks: str = ""
    footnotes: bool = False

    @property
    def unit(self) -> str:
        """The unit of the column; empty if it has none."""
        return same_unit(self.units[0]) if self.units else ""

    @property
    def is_plain(self) -> bool:
        """Whether digits and a point are all there is."""
        marked = self.style.group or self.style.decimal == "," or self.style.clock or self.footnotes
        return not (marked or self.units or self.signs or self.powers or self.dashes or self.blanks)

    def value(self, text: str) -> Decimal | None:
        """Return what a cell says; None for a dash.

        Raises
        ------
        ValueError
            With the reason as its message, if it does not fit.
        """
        if self.dashes and text.strip() in DASHES:
            return None
        if self.style.clock:
            return minutes_of(text, self.style.clock)
        cell = cell_of(text)
        if cell is None:
            raise ValueError(f"is not a number: '{text.strip()[:40]}'")
        if not self.style.fits(cell.number) and not (cell.power and replace(self.style, decimal=".").fits(cell.number)):
            raise ValueError(f"is not written like the others ({self.style.example}): '{text.strip()[:40]}'")
        if cell.unit and same_unit(cell.unit) != self.unit:
            raise ValueError(f"is in another unit: '{text.strip()[:40]}'")
        return cell.value(self.style)

    def pattern(self, *, whole: str = "{1,18}", decimals: str = "{0,9}", free: bool = False) -> str:
        """Return the regular expression of cells that fit and that an engine can add up."""
        if self.style.clock:
            return "vantric: no engine adds up times"
        if self.is_plain:  # the shortest, since most columns are so
            fraction = rf"(\.[0-9]{decimals})?" if self.style.decimal else ""
            return f"[+-]?[0-9]{whole}{fraction}" if free else f"[+]?[0-9]{whole}{fraction}"
        blank = f"[{self.blanks}]" if self.blanks else ""
        number = self.style.pattern(most_whole=whole, most_decimals=decimals, most_groups="{1,5}", blank=blank or " ")
        sign = "[+-]?" if free else "[+]?"
        gap = f"{blank}*" if blank else ""
        if not (self.units or self.signs):
            return f"{gap}{sign}{number}{gap}"
        unit = f"(?:{'|'.join(_escaped(unit) for unit in sorted(self.units, key=len, reverse=True))})?"
        inner = f"{unit}{gap}{number}{gap}{unit}" if self.units else number
        forms = [f"{sign}{gap}{inner}"]
        if self.signs and free:
            forms += [f"{inner}{gap}[-+−–]", rf"[−–]{gap}{inner}", rf"\({gap}{inner}{gap}\)"]
            forms += [f"{unit}{gap}[-+−–]{gap}{number}"] if self.units else []
        return f"{gap}(?:{'|'.join(forms)}){gap}"

    @property
    def removed(self) -> tuple[str, ...]:
        """Every text that is taken out of a cell, in this order, before what is left is a number."""
        units = sorted(self.units, key=len, reverse=True)
        group = {"'": ("'", "’"), "": (), " ": ()}.get(self.style.group, (self.style.group,))
        return (*units, *self.blanks, *group, *("()+-−–" if self.signs else ""))


def _escaped(text: str) -> str:
    return "".join(f"\\{sign}" if sign in r"\.^$*+?()[]{}|/-" else sign for sign in text)


def decide(cells: Iterable[str], *, digit_style: DigitStyle | None = None, heading: str = "") -> NumberReading:
    """Return how a column is read, from its different cells.

    Parameters
    ----------
    cells
        Different texts; blank ones are passed over.
    digit_style
        The style that the user says, if any.
    heading
        Of the column.

    Raises
    ------
    DoubtError
        If there is no reading, or several that differ.
    """
    texts = list(cells)
    plain = None if digit_style is not None else _plainly(texts)
    if plain is not None:
        return plain
    clock = _clock(texts, digit_style, heading)
    if clock is not None:
        return clock
    number_cells: list[NumberCell] = []
    dashes = False
    for text in texts:
        if not text.strip():
            continue
        if text.strip() in DASHES:
            dashes = True
            continue
        cell = cell_of(text)
        if cell is None:
            raise DoubtError(Doubt.CODE if is_missing_code(text) else Doubt.NO_NUMBER, text.strip())
        number_cells.append(cell)
    units = _one_unit(number_cells, is_answered=digit_style is not None)
    _check_brackets(number_cells)
    style = _one_style(number_cells, digit_style)
    changed = next((cell.text.strip() for cell in number_cells if not _PLAIN.fullmatch(cell.text.strip())), "")
    signs = any(cell.bracketed or (cell.negative and not _LEADING.match(cell.text)) for cell in number_cells)
    blanks = "".join(sorted({sign for cell in number_cells for sign in cell.text if sign.isspace()}))
    powers, footnotes = any(cell.power for cell in number_cells), any(cell.footnote for cell in number_cells)
    return NumberReading(style, units, signs, powers, changed, "", dashes, blanks, footnotes)


def _clock(texts: Sequence[str], digit_style: DigitStyle | None, heading: str) -> NumberReading | None:
    """Return the reading of a column of times; None if it is none."""
    cells = [text for text in texts if text.strip() and text.strip() not in DASHES]
    styles = clock_styles(cells, heading)
    if styles and digit_style is not None and digit_style.clock:
        styles = (digit_style.clock,)
    if len(styles) > 1:
        raise DoubtError(Doubt.CLOCK, cells[0].strip(), styles=[DigitStyle(clock=style) for style in styles])
    if not styles:
        return None
    dashes = len(cells) < sum(bool(text.strip()) for text in texts)
    units = () if styles[0] == MARKS else (UNITS[styles[0]],)
    return NumberReading(DigitStyle(clock=styles[0]), units, before=cells[0].strip(), dashes=dashes)


def _plainly(texts: Sequence[str]) -> NumberReading | None:
    """Return the reading of digits, or of digits and points that nothing but decimals have; of millions in a moment."""
    if not all(map(_PLAIN_CELL.fullmatch, texts)):
        return None
    if not any("." in text for text in texts):
        return NumberReading()
    return NumberReading(DigitStyle("", ".")) if any(map(_DECIMALS.fullmatch, texts)) else None


def _one_unit(cells: Sequence[NumberCell], *, is_answered: bool = False) -> tuple[str, ...]:
    """Return the spellings of the one unit that cells have."""
    spelled: dict[str, str] = {}
    for cell in cells:
        if cell.unit:
            spelled.setdefault(cell.unit, cell.text)
    first: dict[str, str] = {}
    for unit, text in spelled.items():
        first.setdefault(same_unit(unit), text)
    if len(first) > 1:
        raise DoubtError(Doubt.UNITS, *(text.strip() for text in list(first.values())[:2]))
    if first and (unit := next(iter(first))) and not is_currency(unit):
        bare = next((cell for cell in cells if not cell.unit and _may_be_share(cell, unit)), None)
        if bare is not None and unit in _LIKE_DIGITS:
            raise DoubtError(Doubt.LETTERS, next(iter(first.values())).strip())
        if bare is not None and (not is_answered or unit.casefold() in _MULTIPLIERS):
            raise DoubtError(Doubt.PERCENTS, next(iter(first.values())).strip(), bare.text.strip())
    return tuple(spelled)


#: Letters that are typed for the digits 0 and 1.
_LIKE_DIGITS = frozenset("OoQlIiSB")


def _may_be_share(cell: NumberCell, unit: str) -> bool:
    """Whether a bare number beside others in a unit may be another thing: 0.45 beside 62%, 300 beside 1.2k."""
    if cell.is_zero:
        return False
    return unit not in {"%", "‰"} or cell.number.lstrip(" ")[0] in "0.," or cell.number == "1"


def _check_brackets(cells: Sequence[NumberCell]) -> None:
    """Refuse integers that are all in brackets: negative numbers, or numbers of footnotes and of a list."""
    number_cells = [cell for cell in cells if not cell.is_zero]
    if number_cells and all(cell.bracketed and cell.number.isdigit() and not cell.unit for cell in number_cells):
        raise DoubtError(Doubt.BRACKETS, number_cells[0].text.strip())


def _one_style(cells: Sequence[NumberCell], digit_style: DigitStyle | None) -> DigitStyle:
    marked = [cell for cell in cells if cell.number.strip("0123456789")]
    powers = [cell for cell in cells if cell.power]
    if digit_style is not None:
        odd = next((cell for cell in marked if not digit_style.fits(cell.number)), None)
        if odd is not None:
            raise DoubtError(Doubt.STYLES, odd.text.strip(), styles=(digit_style,))
        return digit_style
    fitting = [style for style in STYLES if all(style.fits(cell.number) for cell in marked)]
    if powers:  # scientific notation is plain, whatever the others are
        fitting = [style for style in fitting if all(style.fits(cell.number) for cell in powers)]
    if not fitting:
        raise DoubtError(Doubt.STYLES, *_apart(marked))
    readings: dict[tuple[Decimal, ...], DigitStyle] = {}
    for style in fitting:
        readings.setdefault(tuple(style.value(cell.number) for cell in marked), style)
    if len(readings) > 1:
        raise DoubtError(Doubt.AMBIGUOUS, marked[0].text.strip(), styles=tuple(readings.values()))
    return next(iter(readings.values()))


def _apart(marked: Sequence[NumberCell]) -> tuple[str, ...]:
    """Return a cell that fits no style, or two that fit no common one."""
    fits: list[tuple[NumberCell, frozenset[DigitStyle]]] = []
    for cell in marked:
        here = frozenset(style for style in STYLES if style.fits(cell.number))
        if not here:
            return (cell.text.strip(),)
        fits.append((cell, here))
    kinds = {here: cell for cell, here in reversed(fits)}
    pair = next(
        (
            (a, b)
            for index, (styles, a) in enumerate(kinds.items())
            for other, b in list(kinds.items())[index + 1 :]
            if not styles & other
        ),
        None,
    )
    cells = pair or tuple(kinds.values())[:3]
    return tuple(cell.text.strip() for cell in cells)


def chosen(doubt: DoubtError, cells: Iterable[str], *, counted: bool, delimiter: str) -> NumberReading | None:
    """Return the reading that is supposed, with a warning, where several remain; None where the user must say.

    For counts it is the one that makes all cells whole; else decimals, where every cell is marked with a point before
    three digits and the file has commas between its columns: there the readings differ by a factor only.
    """
    texts = [text for text in cells if text.strip()]
    plain = [style for style in doubt.styles if not style.group]
    grouped = [style for style in doubt.styles if style.group]
    if counted and grouped:
        whole = [style for style in grouped if all(_is_whole(text, style) for text in texts)]
        if len(whole) == 1:
            return replace(decide(texts, digit_style=whole[0]), supposed="whole", before=doubt.cells[0])
    if delimiter == "," and plain and plain[0].decimal == "." and all("." in text for text in texts):
        return replace(decide(texts, digit_style=plain[0]), supposed="decimals", before=doubt.cells[0])
    return None


def _is_whole(text: str, style: DigitStyle) -> bool:
    cell = cell_of(text)
    if cell is None:
        return text.strip() in DASHES
    amount = cell.value(style)
    return amount == amount.to_integral_value()


#: Where a cell stands, in words such as "record 3"; empty where the source has no order.
Locate = Callable[[str], str]


def doubtful(place: str, column: str, doubt: DoubtError, locate: Locate) -> AmountError:
    """Return the error for a column whose cells have no one reading.

    Parameters
    ----------
    place
        What messages call the source.
    column
    doubt
    locate
        Tells where the first cell of a text is.
    """
    texts = [f"'{text[:40]}'{_in_brackets(locate(text))}" for text in doubt.cells]
    both = " and ".join(texts)
    where = f"{place}, column '{column}'"
    if doubt.doubt is Doubt.AMBIGUOUS:
        style, other = (doubt.styles[0], doubt.styles[-1])
        low, high = _values(doubt)
        return _error(
            f"{where}: {both} can be read as {low} or as {high}",
            f'say how numbers are written there with read_numbers="{style.example}" or read_numbers="{other.example}"',
            asks=[("read_numbers", style.example), ("read_numbers", other.example)],
        )
    if doubt.doubt is Doubt.STYLES and len(doubt.styles) == 1:
        return _error(f"{where}: {both} is not written as {doubt.styles[0].example}", "say how with read_numbers")
    if doubt.doubt is Doubt.STYLES and len(doubt.cells) == 1:
        return _error(f"{where}: {both} is no number in any style", "correct that cell")
    if doubt.doubt is Doubt.STYLES:
        return _error(f"{where}: {both} are not written in one style", "write all cells in one style")
    if doubt.doubt is Doubt.UNITS:
        return _error(f"{where}: {both} are in different units", "give the column one unit")
    if doubt.doubt is Doubt.PERCENTS:
        return _error(
            f"{where}: {both} are side by side: is the second one in the unit of the first?",
            f'write the unit in every cell, or in none; if it is, say read_numbers="{doubt.cells[0]}"',
            asks=[("read_numbers", doubt.cells[0])],
        )
    if doubt.doubt is Doubt.LETTERS:
        return _error(f"{where}: {both} ends in a letter that may stand for a digit", "correct that cell")
    if doubt.doubt is Doubt.CLOCK:
        return _error(
            f"{where}: {both} can be hours and minutes, or minutes and seconds",
            'say which with read_numbers="h:mm" or read_numbers="mm:ss"',
            asks=[("read_numbers", "h:mm"), ("read_numbers", "mm:ss")],
        )
    if doubt.doubt is Doubt.BRACKETS:
        plain = doubt.cells[0].strip("() ")
        return _error(
            f"{where}: {both}, like all others, is a whole number in brackets: negative, or a mere number?",
            f"write negative numbers as -{plain}, or take the brackets away",
        )
    cell = doubt.cells[0]
    return _error(f"{where}: {both} is not a number", way_on(cell), asks=code_asks(cell))


def _error(what: str, fix: str, asks: Iterable[tuple[str, object]] = ()) -> AmountError:
    return AmountError(f"{what}; {fix}", hint=fix, asks=asks)


def _values(doubt: DoubtError) -> tuple[str, str]:
    from vantric.reading.number_style import cell_of

    cell = cell_of(doubt.cells[0])
    assert cell is not None
    texts = [str(cell.value(style)) for style in (doubt.styles[0], doubt.styles[-1])]
    return texts[0], texts[1]


def _in_brackets(place: str) -> str:
    return f" ({place})" if place else ""


def code_asks(cell: object) -> list[tuple[str, object]]:
    """Return what can be answered to a cell that may be a code for what is missing; nothing for another cell."""
    code = cell.strip() if isinstance(cell, str) else ""
    return [("na", code)] if code and not code.startswith(("#", "=")) and is_missing_code(code) else []


def way_on(text: str) -> str:
    """Return how to go on from a cell that is no number."""
    plain = text.strip()
    if plain.startswith("="):
        return "its result was never saved: open the workbook in the program that made it, and save it there"
    if plain.startswith("#") and is_missing_code(plain):
        return "the formula there failed: correct it in the sheet, or name the code with na to call it missing"
    if is_missing_code(plain):
        return f'if it means missing, say so with na="{plain}"'
    if re.match(r"\d{4}-\d{2}-\d{2}", plain):
        return "a date is no number: name another column"
    if re.fullmatch(r"\d{1,3}:\d{2}(:\d{2})?", plain):
        return "write times as minutes, or as decimal hours"
    if re.fullmatch(r"\d+([.,]\d+)?\s*(-|–|to|bis|\.\.)\s*\d+([.,]\d+)?.*", plain):
        return "a range is no number: give one number"
    if re.match(r"[<>~≈≤≥]|ca\.?\s", plain):
        return "give the number that is meant"
    return ""


def supposition(place: str, column: str, reading: NumberReading) -> Note:
    """Return the warning that a style was chosen."""
    what = "whole numbers, since they are counts" if reading.supposed == "whole" else "decimals"
    value = reading.value(reading.before)
    other = "1,234.56" if reading.style.group != "," else "1.234,56"
    return Note(
        "number-style",
        f"{place}: the numbers of '{column}' could be written in two styles; they were read as {what}: "
        f"'{reading.before}' is {value}",
        "warning",
        f'say how they are written with read_numbers="{reading.style.example}" (or "{other}")',
    )


def style_note(place: str, column: str, reading: NumberReading) -> Note:
    """Return the note on how the cells of a column were read."""
    value = reading.value(reading.before)
    unit = "min" if reading.style.clock in UNITS else reading.unit
    within = f", in {unit}" if unit else ""
    return Note("read-numbers", f"{place}: column '{column}': '{reading.before}' was read as {value}{within}")
