"""Logs as plants, hospitals, call centers, shops and workshops keep them: right first, then with one flaw of many kinds.

A log is made by code of its own, with labels, amounts and words that look odd and are right; a flaw is put in afterwards,
of which the code and a word of the finding are known.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from random import Random
from typing import Any

Records = list[list[Any]]
#: Changes the records of a log in place; returns a word that the finding says.
FREQUENT = 10  # records of a label that is mistyped in some
NOTHING = "\0"  # said of a log in which this cannot go wrong
Change = Callable[["Log", Random], str]


@dataclass(frozen=True)
class Log:
    """Records under headings; `by` is the place of what is ranked, `amount` that of a number beside it.

    Attributes
    ----------
    counted, measured
        Whether that number is how many there are; whether the flaw shows only where it is added up.
    codes, words
        Of a log with a flaw: the codes that tell it, and what the finding says.
    """

    name: str
    headings: tuple[str, ...]
    records: Records
    by: int
    amount: int | None = None
    counted: bool = False
    measured: bool = False
    codes: tuple[str, ...] = ()
    words: str = ""

    @property
    def text(self) -> str:
        """The log as CSV."""
        return "".join(",".join(_cell(value) for value in row) + "\n" for row in [self.headings, *self.records])

    def most(self, place: int = 0) -> str:
        """Return the label that is the most frequent but some."""
        labels = [row[self.by] for row in self.records if row[self.by]]
        return sorted(set(labels), key=lambda label: (-labels.count(label), label))[place]


def _cell(value: Any) -> str:
    text = str(value)
    return '"{}"'.format(text.replace('"', '""')) if any(sign in text for sign in ',"\n') else text


def often(labels: Sequence[str], number: int, draw: Random) -> list[str]:
    """Return labels as they come, the first ones far more often."""
    picked = draw.choices(labels, [0.62**place for place in range(len(labels))], k=number)
    picked[: len(labels)] = labels
    draw.shuffle(picked)
    return picked


def rejects(draw: Random) -> Log:
    """A plant: labels that differ by a number or a word."""
    labels = ("Crack, drying", "Crack, cooling", "Chip on edge", "Chip on foot", "Pinhole", "Glaze too thin", "Other")
    start = date(2026, 1, 5)
    rows = [
        [start + timedelta(days=n // 9), f"Kiln {draw.randint(1, 12)}", label, draw.randint(1, 14), draw.choice("ABC")]
        for n, label in enumerate(often(labels, draw.randint(240, 420), draw))
    ]
    return Log("rejects", ("Date", "Kiln", "Defect", "Pieces", "Shift"), rows, 2, 3)


def incidents(draw: Random) -> Log:
    """A hospital: long texts, a rest, some without a cause."""
    labels = (
        "Fall from bed",
        "Fall in bathroom",
        "Wrong dose",
        "Wrong patient",
        "Pressure sore",
        "Infusion late",
        "Others",
    )
    rows = [
        [f"W{number:05}", f"Ward {draw.randint(1, 7)}", label if draw.random() > 0.02 else "", draw.randint(1, 72)]
        for number, label in enumerate(often(labels, draw.randint(180, 300), draw), start=draw.randint(100, 999))
    ]
    return Log("incidents", ("Report", "Ward", "Incident", "Hours until closed"), rows, 2, 3)


def calls(draw: Random) -> Log:
    """A call center: times of a day, waits in seconds, words that look like totals and tests."""
    labels = (
        "Sum on invoice wrong",
        "Test device not returned",
        "All channels down",
        "No signal",
        "OK button broken",
        "Slow",
    )
    moment = datetime(2026, 3, 2, 7, 0)
    rows = []
    for label in often(labels, draw.randint(220, 380), draw):
        moment += timedelta(seconds=draw.randint(60, 2400))
        rows.append([moment.isoformat(sep=" "), f"A{draw.randint(10, 29)}", label, draw.randint(5, 640)])
    return Log("calls", ("Opened", "Agent", "Reason", "Wait s"), rows, 2, 3)


def returns(draw: Random) -> Log:
    """A shop: money with decimals, articles by number, reasons of one word."""
    labels = ("Size", "Color", "Late", "Broken", "Wrong article", "Changed mind", "Double order")
    rows = [
        [draw.randint(100_000, 999_999), f"{draw.randint(1000, 1040)}", label, f"{draw.randint(499, 24999) / 100:.2f}"]
        for label in often(labels, draw.randint(200, 400), draw)
    ]
    return Log("returns", ("Order", "Article", "Return reason", "Value EUR"), rows, 2, 3)


def stops(draw: Random) -> Log:
    """A workshop: codes that differ by a digit, minutes, machines."""
    labels = ("E101", "E102", "E110", "E201", "E210", "E999", "Total loss of pressure")
    start = datetime(2026, 2, 2, 6, 0)
    rows = [
        [(start + timedelta(minutes=47 * n)).isoformat(sep=" "), f"M{draw.randint(1, 6)}", label, draw.randint(2, 180)]
        for n, label in enumerate(often(labels, draw.randint(200, 360), draw))
    ]
    return Log("stops", ("Start", "Machine", "Fault", "Minutes"), rows, 2, 3)


def findings_of_audits(draw: Random) -> Log:
    """Clauses with points, an owner, days until done, some still open."""
    labels = ("7.5.3", "8.4.1", "8.5.1", "7.1.5", "9.1.3", "10.2", "6.1")
    rows = [
        [
            f"NC-{number}",
            label,
            draw.choice(("Major", "Minor")),
            draw.choice(("", draw.randint(3, 90), draw.randint(3, 90))),
        ]
        for number, label in enumerate(often(labels, draw.randint(160, 280), draw), start=1)
    ]
    return Log("audit findings", ("No", "Clause", "Grade", "Days until done"), rows, 1, None)


def daily_counts(draw: Random) -> Log:
    """Counts of a day: many records of one label, whole numbers, two amounts."""
    labels = ("Scratch", "Dent", "Paint run", "Gap", "Squeak", "Leak")
    rows = [
        [date(2026, 4, 1) + timedelta(days=day), label, draw.randint(0, 8) + 40 // (place + 1), draw.randint(5, 90)]
        for day in range(draw.randint(40, 60))
        for place, label in enumerate(labels)
    ]
    return Log("daily counts", ("Day", "Defect", "Count", "Minutes"), rows, 1, 2, counted=True)


def letters(draw: Random) -> Log:
    """A town hall: languages, umlauts, quotation marks."""
    labels = (
        "Müllabfuhr zu spät",
        "Straße gesperrt",
        "Lärm nachts",
        "Lärm tagsüber",
        'Schild "Halt" fehlt',
        "Laterne dunkel",
    )
    rows = [
        [f"2026/{number}", draw.choice(("Brief", "Telefon", "E-Mail")), label]
        for number, label in enumerate(often(labels, draw.randint(180, 320), draw), start=1)
    ]
    return Log("letters", ("Nr", "Weg", "Beschwerde"), rows, 2)


LOGS = (rejects, incidents, calls, returns, stops, findings_of_audits, daily_counts, letters)


def _to_some(log: Log, draw: Random, number: int, text: str) -> str:
    """Give some records another label."""
    for row in draw.sample(log.records, number):
        row[log.by] = text
    return text


def good_first(log: Log, draw: Random) -> str:
    words = ("OK", "No defect", "i.O.", "No fault found", "none", "Pass", "without findings")
    return _to_some(log, draw, int(0.6 * len(log.records)), draw.choice(words))


def typed_to_try(log: Log, draw: Random) -> str:
    return _to_some(
        log, draw, draw.randint(1, 3), draw.choice(("TEST", "test123", "asdf", "xxx", "Dummy", "Test entry", "qwertz"))
    )


def code_for_not_known(log: Log, draw: Random) -> str:
    assert log.amount is not None
    code = draw.choice((9999, 99999))
    for row in draw.sample(log.records, draw.randint(1, 3)):
        row[log.amount] = code
    return log.headings[log.amount]


def joined(log: Log, draw: Random) -> str:
    """Repeat the records of some label, as a join to a table with two rows a key does."""
    label = log.most()
    again = [list(row) for row in log.records if row[log.by] == label]
    log.records.extend(again)
    log.records.sort(key=lambda row: str(row[0]))
    return ""


def joined_to_another(log: Log, draw: Random) -> str:
    """Repeat some records beside another name, as a join to a table of two names a key does."""
    if len({row[0] for row in log.records}) < len(log.records):
        return NOTHING  # no column numbers the records
    again = [[*row, "Lee"] for row in draw.sample(log.records, len(log.records) // 6)]
    for row in log.records:
        row.append("Kim")
    log.records.extend(again)
    log.records.sort(key=lambda row: str(row[0]))
    return f"the '{log.headings[0]}' of another"


def signs_misread(log: Log, draw: Random) -> str:
    """Write a label of some records as a program shows it that reads its signs as others."""
    pairs = [
        (label, change(label))
        for label in sorted({row[log.by] for row in log.records if row[log.by]})
        for change in (lambda text: text.encode().decode("cp1252", "replace"), lambda text: text.replace('"', "&quot;"))
    ]
    strange = [pair for pair in pairs if pair[0] != pair[1]]
    if not strange:
        return NOTHING
    label, written = draw.choice(strange)
    for row in [row for row in log.records if row[log.by] == label][::4]:
        row[log.by] = written
    return "saved"


def total_at_the_end(log: Log, draw: Random) -> str:
    assert log.amount is not None
    whole = sum(float(row[log.amount] or 0) for row in log.records)
    label = draw.choice(("Total", "TOTAL:", "Grand total", "Summe", "Totals"))
    row: list[Any] = [""] * len(log.headings)
    row[log.by], row[log.amount] = label, f"{whole:g}" if whole == int(whole) else f"{whole:.2f}"
    log.records.append(row)
    return label.rstrip(":")


def _word_at(label: str, place: int) -> set[int]:
    """Return the places of the letters of the word that one stands in."""
    start = end = place
    while start and label[start - 1].isalpha():
        start -= 1
    while end < len(label) and label[end].isalpha():
        end += 1
    return set(range(start, end)) if label[place].isalpha() else set()


def mistyped(log: Log, draw: Random) -> str:
    labels = [row[log.by] for row in log.records]
    label = max(sorted({label for label in labels if labels.count(label) >= FREQUENT}), key=len)
    places = [
        place for place in range(2, len(label) - 2) if len(_word_at(label, place) & _word_at(label, place + 1)) > 4
    ]
    if not places:
        return NOTHING  # codes of digits and short words have no spelling
    place = draw.choice(places)
    wrong = label[:place] + label[place + 1] + label[place] + label[place + 2 :]
    if wrong == label:
        wrong = label[:place] + label[place + 1 :]
    rows = [row for row in log.records if row[log.by] == label]
    for row in rows[: max(1, len(rows) // 10)]:
        row[log.by] = wrong
    return wrong if '"' not in wrong else ""


def other_case(log: Log, draw: Random) -> str:
    label = next((label for label in map(log.most, range(3)) if label.upper() != label), "")
    if not label:
        return NOTHING
    change = draw.choice((str.upper, str.lower, lambda text: f"{text}.", lambda text: text.replace(" ", "  ") + " "))
    for row in [row for row in log.records if row[log.by] == label][::3]:
        row[log.by] = change(label)
    return label if change(label).strip() != label else ""


def not_known_first(log: Log, draw: Random) -> str:
    return _to_some(log, draw, len(log.records) // 2, draw.choice(("n/a", "unknown", "tbd", "not specified", "-")))


def two_in_a_cell(log: Log, draw: Random) -> str:
    first, second = log.most(), log.most(1)
    _to_some(log, draw, 12, f"{first}; {second}")
    return first


def decimal_lost(log: Log, draw: Random) -> str:
    assert log.amount is not None
    row = draw.choice(log.records)
    row[log.amount] = int(2 * sum(float(row[log.amount] or 0) for row in log.records))
    return ""


def blank_for_many(log: Log, draw: Random) -> str:
    _to_some(log, draw, int(0.45 * len(log.records)), "")
    return "blank"


def two_units(log: Log, draw: Random) -> str:
    assert log.amount is not None
    for row in log.records:
        row.append("pcs")
    for row in draw.sample(log.records, len(log.records) // 5):
        row[-1] = "kg"
    return "kg"


#: What is put in -> whether it needs an amount, and the codes that tell it.
FLAWS: dict[str, tuple[Change, bool, tuple[str, ...]]] = {
    "good as the first": (good_first, False, ("good-as-defect", "unknown-first", "missing-code")),
    "typed to try": (typed_to_try, False, ("test-entries",)),
    "a code as an amount": (code_for_not_known, True, ("code-amount", "one-record")),
    "repeated by a join": (joined, False, ("repeated-records",)),
    "joined to another table": (joined_to_another, False, ("repeated-records",)),
    "signs misread": (signs_misread, False, ("similar-labels",)),
    "a total at the end": (total_at_the_end, True, ("total-row", "total-as-category")),
    "mistyped": (mistyped, False, ("near-labels", "similar-labels")),
    "in another case": (other_case, False, ("similar-labels",)),
    "not known first": (not_known_first, False, ("unknown-first", "missing-code")),
    "two in a cell": (two_in_a_cell, False, ("several-labels",)),
    "an amount that is far too large": (decimal_lost, True, ("one-record",)),
    "blank for many": (blank_for_many, False, ("more-missing",)),
    "two units": (two_units, True, ("mixed-units",)),
}
ROWS = "rows that are counted, not what they hold"


def options(log: Log) -> list[str]:
    """Return how a log is counted on the command line: what it holds, where its flaw is one of amounts."""
    chosen = ["--by", log.headings[log.by]]
    if log.amount is None or not (log.counted or log.measured):
        return chosen
    return [*chosen, "--count" if log.counted else "--weight", log.headings[log.amount]]


def good_logs(seeds: Sequence[int]) -> Iterator[Log]:
    """Yield logs in which nothing is wrong."""
    for seed in seeds:
        for make in LOGS:
            yield replace(log := make(Random(seed)), name=f"{log.name} {seed}")


def flawed_logs(seeds: Sequence[int]) -> Iterator[Log]:
    """Yield logs with one flaw each."""
    for seed in seeds:
        for make in LOGS:
            for kind, (change, measured, codes) in FLAWS.items():
                draw = Random(seed)
                log = make(draw)
                if measured and log.amount is None:
                    continue
                words = change(log, draw)
                if words == NOTHING:
                    continue
                more = {"two units": ("Unit",), "joined to another table": ("Checked by",)}.get(kind, ())
                headings = (*log.headings, *more)
                name = f"{log.name} {seed}: {kind}"
                yield replace(log, name=name, headings=headings, codes=codes, words=words, measured=measured)
        daily = daily_counts(Random(seed))
        words = f"once for each '{daily.headings[0]}'"
        yield replace(daily, name=f"{daily.name} {seed}: {ROWS}", counted=False, codes=("counts-beside",), words=words)
