"""The fixed words of a chart, so that it can speak any language."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from string import Formatter

from vantric.core.charts.languages import Language
from vantric.core.counts.provenance import Provenance
from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import PLAIN_STYLE, NumberStyle, one_line, readable
from vantric.errors import ChartError, unknown

#: Word -> what is in a chart; what is in braces is filled in.
WORDS: Mapping[str, str] = {
    "title": "Pareto chart of {subject}",
    "title without subject": "Pareto chart",
    "frequency chart": "Frequency chart of {subject}",
    "frequency chart without subject": "Frequency chart",
    "by": "{subject} by {split}",
    "frequency": "Frequency",
    "rate": "Rate",
    "percent": "Percent",
    "with unit": "{name} ({unit})",
    "axis starts at": "{title}, axis starts at {value}",
    "axis ends at": "{title}, axis ends at {value}",
    "cumulative percent": "Cumulative percent",
    "cumulative frequency": "Cumulative frequency",
    "cumulative rate": "Cumulative rate",
    "of total": "{name} of {total} {unit}",
    "total": "Total {total}",
    "vital few": "Vital few",
    "useful many": "Useful many",
    "cut": "{count} of {all} categories: {percent}",
    "cut of one": "{count} of {all} category: {percent}",
    "counted": "{number} {unit}",
    "records": "records",
    "record": "record",
    "without": "{number} without {label}",
    "counted without": "{number} of them without {label}",
    "a label": "a label",
    "a": "a {label}",
    "or": "{one} or {other}",
    "source": "Source: {source}",
    "days": "{first} to {last}",
    "where": "where {where}",
    "merged": "spellings merged",
    "grouped": "labels grouped in families",
    "total row": "a Total row left out",
    "sum of rates": "percents are of the sum of the rates",
    "rest": "“{rest}” holds the {number} smallest categories",
    "rest of one": "“{rest}” holds the smallest category",
    "rest label": "Other",
    "own total": "Percent of each side's own total",
    "before and after": "{subject}: {before} and {after}",
    "each total": "Percent of each panel's own total",
    "series by": "{names} by {subject}",
    "and": "{one} and {other}",
    "percent of category": "Percent of each category",
    "percent of": "Percent of {total} {unit}",
    "percent of each": "Percent of each {name}",
    "series": "series",
    "percent of all": "Percent of all",
    "below plan": "{name}, below plan",
    "not below plan": "{name}, at plan or above",
    "percent with base": "{percent} of {base}",
    "interval": "95 % interval",
    "trend": "{subject} over time",
    "center line": "Center line",
    "upper limit": "Upper limit of chance",
    "lower limit": "Lower limit of chance",
    "signal": "Signal",
    "control chart": "{kind} chart",
    "limits": "limits: {charts}, 3 sigma",
    "widened": ", widened (Laney) where counts vary more",
    "partial": "Partial period",
    "beyond chance": "{name}, changed beyond chance",
    "within chance": "{name}, within chance",
    "chance": "If all were equally likely",
    "shares": "Shares of {subject}",
    "shares without subject": "Shares",
    "months": "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec",
}


ENGLISH = Language()
_MONTHS = 12
#: A word, in any script.
_WORDS = re.compile(r"[^\W_]+")
#: Words of a name that say percent already.
_PERCENTS = frozenset({"percent", "pct", "percentage", "prozent", "pourcentage", "porcentaje"})


def _gaps_of(text: str) -> set[str] | None:
    """Return the gaps of a word; None if one is not a plain name: a width in it, or a part of a value, is no word."""
    try:
        values = [item for item in Formatter().parse(text) if item[1] is not None]
    except ValueError:  # a brace of the user's own is no gap
        return None
    plain = all(name and name.isidentifier() and not form and kind is None for _, name, form, kind in values)
    return {str(name) for _, name, _, _ in values} if plain else None


@dataclass(frozen=True)
class Wording:
    """The fixed words and number signs of a chart.

    Attributes
    ----------
    own
        The user's words, in place of those of `WORDS`.
    style
        How numbers are written.
    tongue
        The language, for its dates.
    """

    own: Mapping[str, str] = field(default_factory=dict)
    style: NumberStyle = PLAIN_STYLE
    tongue: Language = ENGLISH

    def __post_init__(self) -> None:
        """Refuse words that are nowhere, and gaps that nothing fills."""
        for name, text in self.own.items():
            if name not in WORDS:
                raise unknown(ChartError, f"no chart has the word '{name}'", name, WORDS, label="the words are")
            if name == "months" and len(text.split()) != _MONTHS:
                raise ChartError(f"the word for 'months' needs twelve names with blanks between them, not: {text}")
            gaps = _gaps_of(WORDS[name]) or set()
            named = _gaps_of(text)
            if named is None or not named <= gaps:
                gaps_there = f"; its gaps are: {', '.join(f'{{{gap}}}' for gap in sorted(gaps))}" if gaps else ""
                raise ChartError(f"the word for '{name}' has a gap that nothing fills: {text[:200]}{gaps_there}")

    @property
    def plain(self) -> bool:
        """Whether every word and sign is Vantric's own."""
        return not self.own and self.style == PLAIN_STYLE

    def say(self, word: str, /, **gaps: object) -> str:
        """Return a fixed word with its gaps filled."""
        return self.own.get(word, WORDS[word]).format_map(gaps)

    def titled(self, name: str, unit: str) -> str:
        """Return ``"Energy (kWh)"``; the unit is left out where the name says it already."""
        values = set(_WORDS.findall(name.casefold()))
        words = _WORDS.findall(unit.casefold())
        percent = unit.strip() == "%" and values & _PERCENTS
        if not unit or percent or unit.casefold() in name.casefold().split() or (words and values.issuperset(words)):
            return name
        return self.say("with unit", name=name, unit=unit)

    def base(self, tally: Tally) -> str:
        """Return the base of every percent, in the user's words."""
        if self.plain:
            return tally.base()
        origin = tally.origin
        words = self.counted(tally.records, origin)
        if origin.weight and not origin.per:
            words = f"{self.style.amount(tally.total)} {readable(origin.unit)} / {words}"
        elif origin.per:
            words = f"{readable(origin.unit)}: {words}"
        if origin.counted == "mentions":
            rows = self.say("counted", number=self.style.plain(origin.input_rows), unit=self.say("records"))
            words += f" / {rows}"
        lacking = self.lacking(origin)
        if origin.missing_as:
            words += ", " + self.say("counted without", number=self.style.plain(origin.missing_as), label=lacking)
        if tally.missing.records:
            words += ", " + self.say("without", number=self.style.plain(tally.missing.records), label=lacking)
        return words

    def counted(self, amount: Number, origin: Provenance) -> str:
        """Return ``"231 records"`` in the user's words."""
        unit = origin.counted_unit
        if unit == "records":
            unit = self.say("record" if amount == 1 else "records")
        return self.say("counted", number=self.style.plain(amount), unit=unit)

    def listed(self, names: Sequence[str]) -> str:
        """Return ``"a, b and c"``."""
        if len(names) < 2:
            return "".join(names)
        return self.say("and", one=", ".join(names[:-1]), other=names[-1])

    def lacking(self, origin: Provenance) -> str:
        """Return what a record without a label lacks."""
        if "a" not in self.own and "a label" not in self.own:
            return origin.without_words()
        named = [self.say("a", label=name) for name in (origin.by, origin.split) if name]
        if not named:
            return self.say("a label")
        return named[0] if len(named) == 1 else self.say("or", one=named[0], other=named[1])

    def note(self, origin: Provenance) -> str:
        """Return source, period, condition and what was done to the labels."""
        if self.plain:
            return origin.note()
        codes = {remark.code for remark in origin.remarks}
        days = ""
        if origin.days:
            first, last = origin.days
            first, last = self.tongue.day(first), self.tongue.day(last)
            days = first if first == last else self.say("days", first=first, last=last)
        parts = [
            self.say("source", source=origin.source) if origin.source else "",
            days,
            self.say("where", where=origin.where) if origin.where else "",
            origin.within or "",
            self.say("merged") if "merged-spellings" in codes else "",
            self.say("grouped") if origin.grouped else "",
            self.say("total row") if "total-row" in codes else "",
        ]
        return "; ".join(map(one_line, filter(None, parts)))


PLAIN_WORDING = Wording()
