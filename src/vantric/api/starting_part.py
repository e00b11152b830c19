"""A first report file, written from what a source holds: to be read, and changed."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from vantric.base.masking_part import is_url
from vantric.core.numbers.number_format import counted, one_line
from vantric.counting import look
from vantric.errors import SourceError
from vantric.files.writing import seen_from
from vantric.reading.profile import ColumnProfile
from vantric.reading.settings import Opening

_MOST_LABELS, _FEWEST = 200, 2
_MOST_PARTS = 12
#: What the source is called.
NAME = "log"


def first_report(source: str, target: Path, opening: Opening) -> str:
    """Return a report file as TOML, with comments, for a source.

    Parameters
    ----------
    source
        A file, a pattern of files, or the URL of a database.
    target
        Where it will be written: the source is named as seen from there.
    opening
        How the source is opened.

    Raises
    ------
    VantricError
        If the source cannot be read, or holds nothing that could be counted.
    """
    seen = look(source, opening, 1)
    columns = seen.columns
    labels = [one for one in columns if _is_label(one)]
    if not labels:
        held = ", ".join(f"'{one.name}' ({one.kind})" for one in columns[:20])
        raise SourceError(
            f"'{source}' has no column of labels that recur, so that there is nothing to count; it has {held}"
        )
    by = max(labels, key=lambda one: (one.distinct > _FEWEST + 1, _told(one), -columns.index(one)))
    parts = [one for one in labels if one is not by and one.distinct <= _MOST_PARTS]
    dates = [one for one in columns if one.kind == "date" and not one.problem]
    amounts = [one for one in columns if one.kind == "number" and not one.problem and not _is_number_of_rows(one)]
    return "\n".join(_lines(source, target, opening, by, parts, dates, amounts))


def beside(source: str, target: Path) -> bool:
    """Whether a report file may read a source without being allowed to: it is in its folder or below."""
    seen = seen_from(source, target.parent)
    return source == "-" or not (is_url(source) or Path(seen).is_absolute() or seen.startswith(".."))


def _is_label(one: ColumnProfile) -> bool:
    return one.countable and _FEWEST <= one.distinct <= max(_MOST_LABELS, one.valid // 20)


def _told(one: ColumnProfile) -> float:
    """Return how much a column of labels tells: many labels, each of them often."""
    return min(one.distinct, 30) * min(1.0, one.valid / (5 * one.distinct))


def _is_number_of_rows(one: ColumnProfile) -> bool:
    """Whether numbers only number the records."""
    return one.distinct == one.valid and one.valid > _MOST_PARTS and one.name.casefold() in ("id", "no", "nr", "number")


def _lines(
    source: str,
    target: Path,
    opening: Opening,
    by: ColumnProfile,
    parts: Sequence[ColumnProfile],
    dates: Sequence[ColumnProfile],
    amounts: Sequence[ColumnProfile],
) -> Iterator[str]:
    yield "# A report of Vantric. Make it with"
    named = "" if beside(source, target) else f" --data {NAME}={seen_from(source, target.parent)}"
    yield f"#   vantric report {target.name}{named} --out report.html"
    yield "# and next month, with other data and beside what this one said, with"
    yield f"#   vantric report {target.name} --data {NAME}=NEXT.csv --previous report.json --out report.html"
    yield "# (write report.json with --out report.json each time). docs/report.md says what else a report can hold."
    yield 'format = "vantric/report"'
    yield "version = 2"
    yield f"title = {_text(f'{_headed(by.name)}: report')}"
    yield '# text = "Markdown under the title."'
    yield ""
    yield f"[sources.{NAME}]"
    yield f"source = {_text(seen_from(source, target.parent))}"
    for name, value in opening.for_file().changed().items():
        yield f"{name} = {_text(list(value) if isinstance(value, tuple) else value)}"
    yield '# where = "..."   # a condition that all sections meet'
    yield ""
    yield "[shared.counting]   # what all sections have that count; a section's own options come first"
    yield "merge_spellings = true   # labels that differ only in case or blanks are one"
    yield from _pareto(by, amounts)
    yield from _crosstab(by, parts)
    yield from _over_time(by, dates)


def _pareto(by: ColumnProfile, amounts: Sequence[ColumnProfile]) -> Iterator[str]:
    yield from (
        "",
        f"# {_headed(by.name)}: {counted(by.distinct, 'label')}, most often {_common(by)}.",
        "[[sections]]",
        'kind = "pareto"',
        f"data = {_text(NAME)}",
        "[sections.counting]",
        f"by = {_text(by.name)}",
    )
    for one in amounts[:3]:
        yield f"# count = {_text(one.name)}   # if a record stands for several occurrences; or weight = ... for a cost"
    yield from ("[sections.analysis]", "cut = 80")
    yield "# keep = 12   # the others become Other"


def _crosstab(by: ColumnProfile, parts: Sequence[ColumnProfile]) -> Iterator[str]:
    if parts:
        one = parts[0]
        yield from (
            "",
            f"# By {one_line(one.name)}: {_common(one)}.",
            "[[sections]]",
            'kind = "crosstab"',
            f"data = {_text(NAME)}",
            "[sections.counting]",
            f"by = {_text(by.name)}",
            "[sections.crossing]",
            f"split = {_text(one.name)}",
        )
        yield from (f"# split = {_text(other.name)}" for other in parts[1:4])


def _over_time(by: ColumnProfile, dates: Sequence[ColumnProfile]) -> Iterator[str]:
    if dates:
        yield from (
            "",
            "# Which rise or fall, month by month, beyond chance?",
            "[[sections]]",
            'kind = "trend"',
            f"data = {_text(NAME)}",
            "[sections.counting]",
            f"by = {_text(by.name)}",
            f"date = {_text(dates[0].name)}",
        )
        yield from (
            "",
            "# Records a month.",
            "[[sections]]",
            'kind = "combine"',
            f"data = {_text(NAME)}",
            "[sections.combine]",
            f"x = {_text(dates[0].name)}",
            'period = "month"',
            'bars = ["count=Records"]',
        )
    yield ""


def _common(one: ColumnProfile) -> str:
    return ", ".join(f"{one_line(label, longest=30)} ({number:,})" for label, number in one.commonest[:3])


def _headed(name: str) -> str:
    plain = one_line(name, longest=60).replace("_", " ")
    return f"{plain[:1].upper()}{plain[1:]}"


def _text(value: Any) -> str:
    """Return a value as TOML has it, whose basic strings are those of JSON."""
    return json.dumps(value, ensure_ascii=False).replace("\x7f", "\\u007F")
