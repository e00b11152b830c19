"""A finding of the review, the codes of all findings, and what the headings of columns say.

What each code says, when, and why it is as severe as that, stands in ``codes.toml`` beside this file: the documentation
is made of it, and `check_codes` knows codes by it.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import asdict, replace
from functools import cache
from importlib.resources import files
from typing import Any, Literal

from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.provenance import Note
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.message import Remark
from vantric.errors import OptionError, unknown


@dataclass(frozen=True)
class Code:
    """A kind of finding.

    Attributes
    ----------
    name
    group
        ``"counting"``, ``"pareto"``, ``"axes"``, ``"marks"``, ``"sheets"`` or ``"books"``.
    severity
    example, fix
        What it says, and what to do.
    fires, silent
        The evidence that decides it, and what looks like it and is not.
    why
        Why it is as severe as that.
    """

    name: str
    group: str
    severity: str
    example: str
    fix: str
    fires: str
    silent: str
    why: str


@cache
def known_codes() -> dict[str, Code]:
    """Return every code by its name."""
    text = files("vantric.core.review").joinpath("codes.toml").read_text(encoding="utf-8")
    import tomllib

    return {name: Code(name, **entry) for name, entry in tomllib.loads(text).items()}


def check_codes(names: Iterable[str]) -> None:
    """Raise `OptionError` for a code that there is not: a slip would ignore nothing, in silence."""
    for name in names:
        if name not in known_codes():
            raise unknown(OptionError, f"there is no finding '{name}' to ignore", name, list(known_codes()))


#: Headings of running sums, in the languages that sheets were seen in.
_RUNNING = compiled(
    r"\bcum|cumul|\brunning|\bkum|kumul|aufsum|\bakk|acumul|accum|narast|накоп|кумул|\bcf\b|c%|Σ|\bsum %|累"
    r"|pareto line",
    re.IGNORECASE,
)
#: Headings of rates to date, which fall and rise on purpose.
_RUNNING_RATE = compiled(
    r"average|mean|median|\brate|yield|ratio|completion|progress|utili[sz]ation|index|mittel|moyen|media\b|promedio"
    r"|running (?:hours|time|cost|in\b)|средн",
    re.IGNORECASE,
)
#: Headings of rates, which must not be added up.
_RATE = compiled(r"rate\b|rates\b|ratio|quote|yield|taux|tasa|tasso|доля|per 1,?000|ppm|availability", re.IGNORECASE)
#: Headings of percents.
_PERCENT = compiled(
    r"%|\bper ?cents?\b|\bpercent|\bpct\b|\bshares?\b|proportion|\banteil|prozent|pour ?cent|porcent|percentu"
    r"|дол[яи]|процент",
    re.IGNORECASE,
)
#: Columns that measure: hours add up to 100.1 and are below one with nothing wrong.
_MEASURED = compiled(
    r"hour|\bh\b|\bhrs?\b|minute|\bmins?\b|second|\bsecs?\b|\btime\b|duration|downtime|stoppage|\bdays?\b|cost|price|amount"
    r"|value|weight|mass|length|width|area|volume|energy|power|litre|liter|gallon|\bkg\b|\bg\b|\bt\b|tons?\b|\bm[²³23]?\b"
    r"|\bmm\b|\bcm\b|\bkm\b|\bl\b|kwh|mwh|eur|usd|gbp|[$€£¥]|money|spend|sales|revenue|margin|stunde|dauer|zeit|kosten"
    r"|gewicht|menge|tage|heure|durée|coût|poids|hora|tiempo|costo|ore\b|tempo|час|врем|стоим",
    re.IGNORECASE,
)


def says_running(heading: str) -> bool:
    """Whether a heading says that its numbers are running sums; running means and rates are none."""
    return bool(_RUNNING.search(heading)) and not _RUNNING_RATE.search(heading.replace("_", " "))


def says_rate(heading: str) -> bool:
    """Whether a heading says that its numbers are rates, each of a base of its own."""
    return bool(_RATE.search(heading.replace("_", " ")))


def says_percent(heading: str) -> bool:
    """Whether a heading says that its column holds percents or shares."""
    return bool(_PERCENT.search(heading))


def is_measured(heading: str) -> bool:
    """Whether a heading says that its column measures: hours, cost, weight."""
    return bool(_MEASURED.search(heading.replace("_", " ")))


@dataclass(frozen=True)
class WrongCell:
    """A cell that is wrong.

    Attributes
    ----------
    place
        Where it is: ``"row 5"``, ``"Sheet1!C5"``.
    label
        The category of its row.
    column
        What its column holds: ``"percent"``.
    says, should
        What it says, and what it should be.
    """

    place: str
    label: str
    column: str
    says: str
    should: str


@dataclass(frozen=True)
class Finding:
    """A remark on what is wrong or risky.

    Attributes
    ----------
    code
        A short name in plain words, the same for every finding of its kind.
    severity
        ``"error"`` (the result is wrong), ``"warning"`` (it may mislead) or ``"note"`` (good to know).
    message
        What was found.
    fix
        What to do about it.
    where
        The column, category or axis it is about.
    cells : tuple of WrongCell
        Every cell that is wrong for this one reason, in the order of the sheet; empty where it is about none.
    """

    code: str
    severity: Literal["error", "warning", "note"]
    message: str
    fix: str
    where: str
    cells: tuple[WrongCell, ...] = ()

    def in_language(self, formatter: Formatter) -> Finding:
        """Return the finding with its numbers as a language writes them; its words stay English."""
        message, fix = (formatter.text(Remark.of(text)) for text in (self.message, self.fix))
        return replace(self, message=message, fix=fix)

    def to_dict(self) -> dict[str, Any]:
        """Return the finding as the JSON object of the contract; ``cells`` are there only if there are any."""
        plain = asdict(self)
        if not self.cells:
            del plain["cells"]
        return plain


def error(code: str, *, message: str, fix: str, where: str, cells: Sequence[WrongCell] = ()) -> Finding:
    """Return a finding of severity error: the result is wrong."""
    return Finding(code, "error", message, fix, where, tuple(cells))


def warning(code: str, *, message: str, fix: str, where: str, cells: Sequence[WrongCell] = ()) -> Finding:
    """Return a finding of severity warning: the result may mislead."""
    return Finding(code, "warning", message, fix, where, tuple(cells))


def note(code: str, *, message: str, fix: str, where: str) -> Finding:
    """Return a finding of severity note: it is good to know."""
    return Finding(code, "note", message, fix, where)


def remarked(remark: Note, where: str) -> Finding:
    """Return what was remarked in reading or counting as a finding."""
    return Finding(remark.code, remark.severity, remark.message, remark.fix, where)
