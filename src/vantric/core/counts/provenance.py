"""Where a tally comes from, what was missing, and what was done on the way."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Literal, cast

from vantric.base.lazily import compiled, dataclass
from vantric.core.messages.formatter import Composed
from vantric.core.messages.message import Day, Joined, Message, Shown, Written
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import CLOCK_UNITS, ClockUnit, clock_text, headed, one_line, readable, unit_word


@dataclass(frozen=True)
class Note:
    """A note on reading or counting: a row left out, a spelling merged, a column chosen.

    Attributes
    ----------
    code
        A short name in plain words.
    message
        What was done.
    severity
        ``"warning"`` where the reading may be wrong.
    fix
        What to do then.
    """

    code: str
    message: str
    severity: Literal["note", "warning"] = "note"
    fix: str = ""


@dataclass(frozen=True)
class Missing:
    """What was left out because it had no label.

    Attributes
    ----------
    records
        How many occurrences had no label.
    frequency
        Their count times weight.
    """

    records: Number = 0
    frequency: Number = 0


@dataclass(frozen=True)
class Provenance:
    """Where a tally comes from, so that every result can say so.

    Attributes
    ----------
    source, where, by, count, weight
        The source, the condition its records meet, the columns of labels, counts and weights, as the user named them.
    input_rows
        How many records were read.
    counted
        What is counted: ``"records"``, ``"mentions"`` (several labels a record), or the name of the units.
    grouped
        Whether labels stand for families.
    remarks
        What was left out, merged or chosen on the way.
    weight, split
        The column of weights, and the second column that a record must have a label in.
    missing_as
        How many occurrences without a label are counted as the category "(missing)".
    within
        What part of the records this is, in words (``"kiln is Kiln 2"``), beyond the condition.
    days
        The first and the last day of the records, if a column of dates was named.
    per
        What frequencies are divided by, in words (``"per 1,000 pieces"``), where they are rates.
    spans
        Whether the counts are those of several columns, added up.
    quantity
        The unit of amounts that are no counts (``"%"``, ``"min"``), empty if it is not known; None for counts.
    unit_name
        What is added up, as the user calls it; empty if nothing was said.
    lot
        The column that names what belongs together: its rows are one record.
    rows
        What the user says that rows are: ``"records"`` or ``"totals"``; None if nothing.
    ready
        Whether the counts came added up, as in a sheet with one row per category: which records they are made of is not
        known.
    """

    source: str | None = None
    by: str | None = None
    count: str | None = None
    input_rows: int = 0
    where: str | None = None
    counted: str = "records"
    grouped: bool = False
    remarks: tuple[Note, ...] = ()
    weight: str | None = None
    split: str | None = None
    missing_as: Number = 0
    within: str | None = None
    days: tuple[str, str] | None = None
    per: str | None = None
    ready: bool = False
    spans: bool = False
    quantity: str | None = None
    unit_name: str = ""
    lot: str = ""
    rows: str | None = None

    def note(self) -> Joined:
        """Return source, period, condition and what was done to the labels, for the small line under a picture."""
        merged = sum(remark.code == "merged-spellings" for remark in self.remarks)
        parts = [
            Message("source", source=one_line(self.source)) if self.source else "",
            self.days_text(),
            Message("where", where=one_line(self.where)) if self.where else "",
            one_line(self.within or ""),
            Message("merged", count=merged) if merged else "",
            Message("grouped") if self.grouped else "",
            Message("total row") if any(remark.code == "total-row" for remark in self.remarks) else "",
        ]
        return Joined(parts, "; ")

    def days_text(self) -> str:
        """Return the first and the last day; empty if they are not known."""
        if not self.days:
            return ""
        first, last = map(Day, self.days)
        return Shown(first) if first == last else Message("days", first=first, last=last)

    @property
    def clock(self) -> ClockUnit | None:
        """The unit that times are written in; None where amounts are no times."""
        is_time = self.quantity in CLOCK_UNITS and not (self.per or self.weight or self.unit_name)
        return cast(ClockUnit, self.quantity) if is_time else None

    @property
    def counted_unit(self) -> str:
        """What one occurrence is: the count column's name, or "records", "mentions" or the units' name."""
        if self.unit_name and not self.weight:
            return self.unit_name
        if self.spans and self.quantity is None:
            return "occurrences"
        if self.quantity is not None and self.quantity in CLOCK_UNITS:
            return CLOCK_UNITS[self.quantity]
        if self.quantity and self.count:
            return unit_word(self.count if self.quantity in self.count else f"{self.count} ({self.quantity})")
        return unit_word(self.count) if self.count else self.quantity or self.counted

    @property
    def amount_unit(self) -> str:
        """What is added up: that of the weight if there is one, else the counts' unit."""
        return self.unit_name or (unit_word(self.weight) if self.weight else self.counted_unit)

    @property
    def unit(self) -> str:
        """What the frequency is in: what is added up, over the exposure."""
        return f"{self.amount_unit} {self.per}" if self.per else self.amount_unit

    @property
    def measure(self) -> Message | str:
        """What is added up, as the head of a column: a frequency, a rate, or the name of a sum of costs or minutes."""
        if self.per:
            return Message("rate")
        if self.weight is None and (self.quantity is None or not (self.quantity or self.count)):
            return Message("frequency")
        return headed(self.unit_name or self.weight or self.count or self.counted_unit)

    def amount_text(self, amount: Number) -> Number | Shown:
        """Return an amount as it is put into a message: a time as people write times."""
        return amount if self.clock is None else Shown(Written(clock_text(amount, self.clock)))

    def unit_text(self) -> str:
        """Return what the frequency is in as people read it."""
        name = named_unit(self.amount_unit)
        return Message("unit per", unit=name, per=self.per) if self.per else name

    def blank(self) -> Message:
        """Return what is blank in a record without a label: ``"“defect”"``, ``"“defect” or “kiln”"``."""
        named = [Message("a", label=one_line(name)) for name in (self.by, self.split) if name]
        if not named:
            return Message("a label")
        return named[0] if len(named) == 1 else Message("or", one=named[0], other=named[1])


def named_unit(name: str) -> str:
    """Return a unit as people read it: records in their language, the name of a column without its underscores.

    A name that says but how many is no unit: what it counts are occurrences.
    """
    if isinstance(name, Composed):
        return name
    if says_how_many(name):
        return Message("occurrences", count=2)
    return Message("records") if name == "records" else readable(counted_noun(name))


#: Headings that say but how many.
_HOW_MANY = frozenset(
    (
        *("frequency", "frequencies", "freq", "freq.", "count", "counts", "n", "no", "no.", "number", "num", "nr"),
        *("qty", "quantity", "amount", "total", "sum", "times", "tally", "occurrences", "#", "counted"),
        *("anzahl", "menge", "häufigkeit", "summe", "nombre", "effectif", "fréquence", "quantité", "cantidad"),
        *("frecuencia", "número", "numero", "quantidade", "frequência", "contagem", "frequenza", "conteggio"),
        *("quantità", "liczba", "ilość", "częstość", "adet", "sayı", "sıklık", "количество", "частота", "число"),
        *("кол-во", "数量", "件数", "頻度", "度数", "次数", "频数", "频率"),
    )
)


#: Words for how many before a noun, in the languages that have them there; and behind one, which is then singular.
_BEFORE = compiled(
    r"(?:#\s*|(?:total\s+)?(?:number|count|no\.?|nr\.?|num\.?|qty\.?|quantity)\s+(?:of\s+)?|(?:total|sum)\s+(?:of\s+)?"
    r"|anzahl\s+(?:der\s+|an\s+)?|nombre\s+(?:de\s+|d['’])|número\s+de\s+|numero\s+di\s+|liczba\s+|количество\s+|число\s+)"
    r"(?=\w)",
    re.IGNORECASE,
)
_BEHIND = compiled(r"\w\s+(?:count|counts|qty|quantity|frequency|freq|number)$", re.IGNORECASE)


def says_how_many(heading: str) -> bool:
    """Whether a heading names no things in the plural: it is a word for how many, or ends with one."""
    plain = readable(counted_noun(heading)).strip()
    return plain.casefold() in _HOW_MANY or _BEHIND.search(plain) is not None


def counted_noun(heading: str) -> str:
    """Return what is counted, where a heading says how many of it: ``"defects"`` of ``"Number of defects"``."""
    plain = readable(heading)
    noun = _BEFORE.sub("", plain, count=1) if not is_quantity_name(heading) and _BEFORE.match(plain) else ""
    return noun or heading


#: Units in which things are counted.
_COUNTED = frozenset(
    (
        *(
            "pcs",
            "pc",
            "pcs.",
            "piece",
            "pieces",
            "stk",
            "stk.",
            "stück",
            "st",
            "st.",
            "ea",
            "each",
            "nos",
            "unit",
            "units",
        ),
        *(
            "item",
            "items",
            "pz",
            "pza",
            "pzas",
            "pièces",
            "adet",
            "szt",
            "szt.",
            "ks",
            "db",
            "шт",
            "шт.",
            "個",
            "件",
            "个",
        ),
        *("records", "cases", "defects"),
    )
)
#: Headings of sums of time and money, of means, percents and rates.
_QUANTITY = compiled(
    r"hour|\bhrs?\b|minute|\bmins?\b|\bsec(?:ond)?s?\b|downtime|duration|stoppage|cost|price|revenue|sales|spend|turnover"
    r"|stunde|dauer|kosten|umsatz|durée|coût|costo|coste|tiempo|percent|prozent|\bpct\b|%|\bshare\b|anteil|proportion"
    r"|average|\bavg\b|\bmean\b|median|mittel|schnitt|moyenne|promedio|\brate\b|\bratio\b|\bppm\b|weight\b|gewicht",
    re.IGNORECASE,
)


def is_quantity_name(heading: str) -> bool:
    """Whether a heading is that of sums of time or money, of means, percents or rates."""
    return bool(_QUANTITY.search(heading.replace("_", " ")))


def quantity_unit(heading: str | None, unit: str, values: Iterable[Number], *, ready: bool) -> str | None:
    """Return the unit of numbers that are no counts, empty if it is not known; None for counts.

    Parameters
    ----------
    heading
        Of the column; None if there is none.
    unit
        Of its cells or its heading.
    values
    ready
        Whether they came added up: a fraction among these is no count.
    """
    if unit and unit.casefold() not in _COUNTED:
        return unit
    if heading is not None and is_quantity_name(heading) and not unit:
        return ""
    numbers = list(values) if ready else []
    is_whole = set(map(type, numbers)) <= {int} or all(value == int(value) for value in numbers)
    return None if is_whole else ""
