"""Totals and subtotals, by what they are called and what they add up; and words that have an order."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Literal, TypeAlias

#: Whole labels that say so and nothing else.
STRONG = frozenset(
    """
total|totals|grand total|grand totals|sub total|sub-total|subtotal|subtotals|sub totals|sum total|overall total
total sum|total amount|total count|running total|column total|gesamt|gesamtsumme|gesamtergebnis|zwischensumme
teilsumme|endsumme|summe|insgesamt|gesamtzahl|zwischenergebnis|total général|total general|total generale
sous-total|sous total|total partiel|totale|totale generale|totale complessivo|subtotale|total geral
total parcial|suma total|suma|totaal|eindtotaal|subtotaal|totaalsom|algemeen totaal|totalt|totalsumma|delsumma
summa|slutsumma|i alt|ialt|sum i alt|hovedsum|delsum|yhteensä|välisumma|loppusumma|razem|łącznie|ogółem
suma końcowa|suma częściowa|celkem|součet|mezisoučet|celkový součet|spolu|medzisúčet|összesen|végösszeg
részösszeg|total parțial|ukupno|skupaj|σύνολο|γενικό σύνολο|μερικό σύνολο|toplam|genel toplam|ara toplam|итого
всего|итог|общий итог|промежуточный итог|общая сумма|разом|усього|всього|підсумок|общо|всичко|σ|∑|合计|总计
小计|合計|総計
小計|합계|총계|소계|المجموع|الإجمالي|סה"כ|סך הכל|รวม|tổng|tổng cộng|jumlah
""".strip()
    .replace("\n", "|")
    .split("|")
)
#: Labels that may say so, and may be the name of a category.
_WEAK = frozenset(
    """
all|sum|sums|overall|n|alle|alles|tous|toutes|todos|todas|tutti|tutte|everything|whole|entire|all together|altogether
combined|somme|net|aggregate|everyone|both
""".strip()
    .replace("\n", "|")
    .split("|")
)
#: Words of totals that may stand behind a name: "Kiln 3 total".
_BEHIND = (
    "total",
    "totals",
    "subtotal",
    "sub-total",
    "gesamt",
    "summe",
    "ergebnis",
    "zwischensumme",
    "totaal",
    "totale",
    "totalt",
    "итого",
    "razem",
    "celkem",
)
#: Words of totals that may stand before a name: "Total Kiln 3".
_IN_FRONT = (
    "total ",
    "totals ",
    "grand total ",
    "subtotal ",
    "sub-total ",
    "sum of ",
    "all ",
    "sum ",
    "gesamt ",
    "summe ",
    "totale ",
    "totaal ",
    "итого ",
    "всего ",
    "suma ",
    "overall ",
)
#: How many there are, said behind a total: "Total (n = 650)".
_SIZE = re.compile(r"[\s,:;–-]*[(\[]?\s*n\s*[=:]\s*[\d.,'  ]*\s*[)\]]?$|\s*[(\[]\s*(?:n|\d[\d.,' ]*)\s*[)\]]$")
#: A year before or behind a total: "Total 2026".
_YEAR = re.compile(r"[\s,:;–-]*[(\[]?(?:19|20)\d\d(?:\s*[/–-]\s*(?:\d{4}|\d{2}))?[)\]]?$|^(?:19|20)\d\d[\s,:;–-]+")
_ENDS = " \t\u00a0:.=*-–—_|#"


def plain_label(label: str) -> str:
    """Return a label without case, without what stands around it, without a year and a size such as ``(n = 116)``."""
    text = " ".join(label.casefold().split()).strip(_ENDS)
    for form in (_SIZE, _YEAR, _SIZE):
        text = form.sub("", text).strip(_ENDS)
    return text


def is_strong(label: str) -> bool:
    """Whether a whole label says that its row is a total, with or without a year, a size or the name of a group."""
    text = plain_label(label)
    return text in STRONG or any(text.endswith(f" {word}") or text.endswith(f"-{word}") for word in _BEHIND)


#: Rows that hold a mean of the others, which is no category either.
_MEANS = frozenset(
    {
        "average",
        "avg",
        "mean",
        "mittelwert",
        "durchschnitt",
        "mittel",
        "moyenne",
        "media",
        "promedio",
        "média",
        "gemiddelde",
        "среднее",
        "ø",
    }
)


def is_mean(label: str) -> bool:
    """Whether a label says that its row is the mean of others."""
    return plain_label(label) in _MEANS


def is_loose(label: str) -> bool:
    """Whether a label may say that its row is a total: ``All``, ``Total defects``."""
    text = plain_label(label)
    return text in _WEAK or text.startswith(_IN_FRONT)


#: Two letters by which most labels are passed over at once.
_FIRST = frozenset(word[:2] for word in (*STRONG, *_WEAK, *_MEANS, *(word.strip() for word in _IN_FRONT)))
#: A longer label is a sentence, not a total.
_LONGEST = 80


@lru_cache(maxsize=4096)
def may_be_total(label: str) -> bool:
    """Whether a label may be that of a total; of millions of labels most are decided by two letters."""
    if len(label) > _LONGEST:
        return False
    low = label.casefold().strip(_ENDS)
    if low[:2] in _FIRST or low[:2].isdigit() or low[-5:] in _TAILS:
        return is_strong(label) or is_loose(label) or is_mean(label)
    return False


#: The same for words behind a name.
_TAILS = frozenset(word[-5:] for word in _BEHIND)


#: A row is a total, or may be one and the user must say.
Verdict: TypeAlias = Literal["total", "ask"]
#: With fewer rows a sum of the others is chance: 1 + 2 = 3.
_FEWEST = 3
#: Things that are counted: "total defects" is a total, "total loss" is a defect.
_COUNTED = frozenset(
    {
        "defects",
        "count",
        "counts",
        "qty",
        "quantity",
        "number",
        "records",
        "pieces",
        "rejects",
        "scrap",
        "failures",
        "errors",
        "complaints",
        "cases",
        "incidents",
        "frequency",
    }
)


@dataclass(frozen=True)
class LabeledRow:
    """A row with its label and what is counted in it.

    Attributes
    ----------
    label
        None if it has none.
    amounts
        Of each counted column; None where there is no number.
    sums
        Whether a counted cell is a formula that adds up others.
    decimals
        How many decimals its numbers show.
    rounded
        Whether they are rounded though they are whole: percents.
    other
        What another column says that is a word for a total, beside a label that is none.
    """

    label: str | None
    amounts: tuple[Fraction | None, ...]
    sums: bool = False
    decimals: int = 0
    rounded: bool = False
    other: str | None = None


def totals_among(rows: Sequence[LabeledRow]) -> dict[int, Verdict]:
    """Return the place of every row that is a total, or may be one.

    Parameters
    ----------
    rows
        In their order.
    """
    kinds = [_kind(row) for row in rows]
    literals: dict[int, Verdict] = {}
    adding = _adding_up(rows, kinds)
    beside = [number for number, kind in enumerate(kinds) if kind == "beside"]
    if beside and not all(
        adding[position] or rows[position].sums for position in beside
    ):  # a column of its own, such as a scope
        kinds = ["" if kind == "beside" else kind for kind in kinds]
        adding = _adding_up(rows, kinds)
    literals |= {position: "total" for position in beside if kinds[position]}
    last = len(rows) - 1
    closed = any(
        position == last and (adding[position] or rows[position].sums) and kinds[position] == "strong"
        for position in adding
    )
    for index, kind in enumerate(kinds):
        if kind == "strong":
            counted = bool(rows[index].amounts)
            sure = counted and (rows[index].sums or (adding[index] and (closed or index in (0, last))))
            literals[index] = "total" if sure else "ask"
        elif kind == "loose":
            if rows[index].sums and rows[index].amounts:
                literals[index] = "total"
            elif adding[index] or (index == last and _counts_things(rows[index])):
                literals[index] = "ask"
        elif kind == "mean" and _is_mean(rows, kinds, index):
            literals[index] = "ask"
        elif kind == "blank" and index == last and (adding[index] or rows[index].sums):
            literals |= _blank_total(rows)
    return literals


def _kind(row: LabeledRow) -> str:
    if row.label is None or not row.label.strip():
        return "blank"
    if is_strong(row.label):
        return "strong"
    if row.other is not None:
        return "beside"
    return "mean" if is_mean(row.label) else "loose" if is_loose(row.label) else ""


def _is_mean(rows: Sequence[LabeledRow], kinds: Sequence[str], index: int) -> bool:
    """Whether a row that is called a mean is that of the records."""
    for place, stated in enumerate(rows[index].amounts):
        others = [row.amounts[place] for row, kind in zip(rows, kinds, strict=True) if not kind]
        values = [amount for amount in others if amount is not None]
        if (
            stated is not None
            and len(values) > 1
            and abs(stated - sum(values, Fraction()) / len(values)) <= Fraction(1, 2)
        ):
            return True
    return False


def _counts_things(row: LabeledRow) -> bool:
    return any(amount for amount in row.amounts) and plain_label(str(row.label)).split()[-1] in _COUNTED


def _blank_total(rows: Sequence[LabeledRow]) -> dict[int, Verdict]:
    """Return a last row without a label that adds up the others, where every other row has a label of its own."""
    labels = [row.label for row in rows[:-1]]
    named = [label for label in labels if label is not None and label.strip()]
    if len(named) < len(labels) or len(set(named)) < len(named):
        return {}
    return {len(rows) - 1: "total" if len(labels) >= _FEWEST else "ask"}


def _adding_up(rows: Sequence[LabeledRow], kinds: Sequence[str]) -> dict[int, bool]:
    """Return for each row that may be a total whether it is the sum of two rows or more."""
    values = {}
    every, since, labeled = _Sums(rows), _Sums(rows), _Sums(rows)
    for index, row in enumerate(rows):
        if kinds[index]:
            below = _Sums(rows)
            if not every.number:  # it stands first
                for other in range(index + 1, len(rows)):
                    if not kinds[other]:
                        below.add(rows[other])
            values[index] = any(sums.equal(row) for sums in (since, every, labeled, below))
            if values[index] or row.sums:
                since = _Sums(rows)
                continue
            if kinds[index] in ("strong", "mean"):
                continue
        every.add(row)
        since.add(row)
        if kinds[index] != "blank":
            labeled.add(row)
    return values


class _Sums:
    """What rows add up to, column by column."""

    def __init__(self, rows: Sequence[LabeledRow]) -> None:
        self.number = 0
        self._sums = [Fraction()] * (len(rows[0].amounts) if rows else 0)
        self._decimals = 0

    def add(self, row: LabeledRow) -> None:
        """Add a row."""
        self.number += 1
        self._decimals = max(self._decimals, row.decimals)
        self._sums = [value + (other or 0) for value, other in zip(self._sums, row.amounts, strict=True)]

    def equal(self, row: LabeledRow) -> bool:
        """Whether a row is the sum of two rows or more in a counted column, within what is shown."""
        if self.number < 2:
            return False
        decimals = max(self._decimals, row.decimals)
        slack = Fraction(self.number + 1, 2 * 10**decimals) if decimals or row.rounded else Fraction()
        return any(
            stated is not None and stated != 0 and abs(stated - total) <= max(slack, abs(total) * Fraction(1, 10**9))
            for stated, total in zip(row.amounts, self._sums, strict=True)
        )
