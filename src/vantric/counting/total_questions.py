"""What is said of rows, columns and sheets that are derived from others: notes, warnings, and the question."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import NamedTuple

from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted, listed, number_text, one_line
from vantric.core.totals.row_sums import Amount, Outcome, Verdict
from vantric.errors import SourceError
from vantric.reading.settings import TOTALS

#: Rows that a note names, and that a question does.
_MOST_NOTED, _MOST_ASKED = 3, 12
#: Added where the user said so, not the rule.
_AS_ANSWERED = ", as keep_totals=False says"


class Derived(NamedTuple):
    """A row, a column or a sheet that is derived from others, or may be.

    Attributes
    ----------
    where
        Its place in words: ``"row 12"``; empty where it has none that people know.
    label
        What it is called, and by which `leave_out` names it.
    amount
        What is counted in it; None if nothing is.
    verdict
    """

    where: str
    label: str
    amount: Amount | None
    verdict: Verdict

    @property
    def name(self) -> str:
        """What it is called in a note: ``"row 12 ('Total')"``."""
        quoted_label = self._shown
        if self.where in ("column", "sheet"):
            return f"{self.where} {quoted_label}"
        return f"{self.where} ({quoted_label})" if self.where and quoted_label else self.where or quoted_label

    @property
    def clause(self) -> str:
        """What is said of it in a question: ``"row 12: 'Ergebnis' adds up the others (190)"``."""
        quoted_label = self._shown or "without a label"
        number = "" if self.amount is None else f" ({amount_text(self.amount)})"
        where = self.where
        colon = " " if where in ("column", "sheet") else ": " if where and quoted_label else ""
        return f"{where}{colon}{quoted_label} {self.verdict.reason}{number}"

    @property
    def _shown(self) -> str:
        return f"'{one_line(self.label, longest=40)}'" if self.label.strip() else ""


def amount_text(amount: Amount) -> str:
    """Return an exact amount as people read it."""
    return number_text(int(amount) if amount.denominator == 1 else float(Fraction(amount)))


def left_out_note(place: str, derived: Sequence[Derived], kind: str = "row") -> list[Note]:
    """Return the note on what is left out, and why; nothing if nothing is."""
    if not derived:
        return []
    texts = [f"{entry.name} {entry.verdict.reason}" for entry in derived[:_MOST_NOTED]]
    answered = any(entry.verdict.outcome == "ask" for entry in derived)
    if len(derived) == 1:
        text = f"{texts[0]}{'; it' if ', ' in derived[0].verdict.reason else ' and'} is left out"
    else:
        more = len(derived) - len(texts)
        text = f"{counted(len(derived), kind)} are left out: {', '.join(texts)}{f' and {more} more' if more else ''}"
    code = "total-row"
    if kind == "column":
        code = "total-column"
    elif kind == "sheet":
        code = "total-sheet"
    return [Note(code, f"{place}: {text}{_AS_ANSWERED if answered else ''}")]


def warnings_on(place: str, derived: Sequence[Derived]) -> list[Note]:
    """Return the warning on rows that are counted and may be totals; nothing if there are none."""
    if not derived:
        return []
    texts = [f"{entry.name} {entry.verdict.reason}" for entry in derived[:_MOST_NOTED]]
    more = len(derived) - len(texts)
    if len(derived) == 1:
        text, fix = f"{texts[0]}, and is counted", "if it is no category"
    else:
        listing = f"{', '.join(texts)}{f' and {more} more' if more else ''}"
        text, fix = f"{len(derived)} rows are counted, and may not be categories: {listing}", "if they are none"
    return [
        Note(
            "possible-total",
            f"{place}: {text}",
            "warning",
            f'{fix}, say leave_out="{one_line(derived[0].label)}"',
        )
    ]


def question(place: str, derived: Sequence[Derived], results: tuple[str, str] | None) -> SourceError:
    """Return the question what becomes of rows that may be totals; it names all of them.

    Parameters
    ----------
    place
        Where they are.
    derived
    results
        What is counted without them, and with everything; None if that is not known.
    """
    it, is_one = ("it", True) if len(derived) == 1 else ("them", False)
    if is_one:
        colon = ", " if derived[0].clause.startswith(("row", "line", "record")) else ": "
        what = f"{place}{colon}{derived[0].clause}: {_asks(derived[0].verdict)}"
    else:
        named = "columns" if all(entry.where.startswith("column") for entry in derived) else "rows"
        clauses = listed([entry.clause for entry in derived], most=_MOST_ASKED)
        what = f"{place}: {len(derived)} {named} may not be categories: {clauses}"
    if results:
        what += f"{' ' if is_one else '; '}{results[0]} without {it}, {results[1]} with {it};"
    return SourceError(
        f"{what} say keep_totals=False to leave {it} out, keep_totals=True to count {it}",
        hint=f"keep_totals=False leaves {it} out, keep_totals=True counts {it}",
        asks=TOTALS,
    )


def _asks(verdict: Verdict) -> str:
    return "is it a total?" if verdict.kind in ("total", "subtotal", "group") else "is it counted already?"


def with_outcome(derived: Iterable[Derived], outcome: Outcome) -> list[Derived]:
    """Return what has an outcome."""
    return [entry for entry in derived if entry.verdict.outcome == outcome]
