"""``vantric review``."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from vantric.cleaning import json_text
from vantric.cli.columns import TextOrJson
from vantric.cli.flags import Given
from vantric.cli.making import made
from vantric.cli.results import Reviewing, reading
from vantric.cli.terminal import hand_over, say, terminal
from vantric.core.reviewing import Finding
from vantric.errors import ColumnError
from vantric.masking import masked
from vantric.options import Options, known_options, option
from vantric.regular import check_regular
from vantric.report.findings import headline
from vantric.sources.options import Counting, FileReading, Opening

if TYPE_CHECKING:
    from vantric.api.reviews import Reviewed


class SheetColumns(Options, section="A sheet made elsewhere"):
    """The columns of a sheet whose arithmetic is checked."""

    percent_column: str | None = option(None, "Its column of percents: every cell is worked out again.", metavar="COL")
    cumulative_column: str | None = option(None, "Its column of cumulative percents.", metavar="COL")
    percent_base: float | None = option(None, "What its percents are of, where that is not the sum of the counts: "
                                        "units inspected.", metavar="NUMBER", above=0)  # fmt: skip


def run(source: str, given: Given) -> int:
    """Say what is wrong or risky, and the fix: in what is counted, in a sheet made elsewhere, or in a chart file.

    Nothing is changed or written.
    """
    wanted, reviewing = given.split(TextOrJson, Reviewing)
    with reading(source):
        found = _reviewed(source, given)
    findings = sorted(
        reviewing.wanted(found.findings), key=lambda one: ("error", "warning", "note").index(one.severity)
    )
    if wanted.format == "json":
        plain = {
            "format": "vantric/review", "version": 1, "source": masked(source), "relations": list(found.relations),
            "findings": [finding.to_dict() for finding in findings],
        }  # fmt: skip
        hand_over(json_text(plain))
    else:
        say("\n".join([headline(findings), *_explained(findings), *_wrapped(found.relations)]))
    return int(reviewing.refuses(findings))


def _reviewed(source: str, given: Given) -> Reviewed:
    from vantric.api.reach import Reach
    from vantric.api.reviews import is_book, review_book, review_file, review_sheet, review_source

    counting, opening, sheet, files = given.split(Counting, Opening, SheetColumns, FileReading)
    if is_chart_file(source):
        own = known_options(Counting, Opening, SheetColumns)
        strange = next(
            (own[name].flag for name in given if name in own and name not in known_options(FileReading)), None
        )
        if strange:
            raise click.UsageError(f"a chart file names its source and columns itself: leave {strange} out")
        return review_file(Path(source), Reach(Path(source).parent, files))
    if files.allow_source:
        raise click.UsageError("--allow-source is for chart files: leave it out")
    percent, cumulative = sheet.percent_column, sheet.cumulative_column
    if is_book(source) and not counting.changed() and percent is None and cumulative is None:
        return review_book(Path(source), opening)
    if percent is None and cumulative is None:
        return review_source(source, counting, opening)
    if counting.by is None or counting.count is None:
        raise ColumnError(
            "a sheet is checked by its columns: give --by and --count beside --percent-column and --cumulative-column"
        )
    return review_sheet(source, counting.by, counting.count, percent, cumulative, opening, sheet.percent_base)


def is_chart_file(source: str) -> bool:
    """Whether a source is a chart file: TOML, or a JSON object that says so."""
    path = Path(source)
    if path.suffix.casefold() == ".toml":
        return True
    if path.suffix.casefold() != ".json":
        return False
    try:
        check_regular(path)
        with path.open("rb") as file:
            return b'"vantric/chart"' in file.read(4096)
    except OSError:  # reading it as a source says why
        return False


def _explained(findings: list[Finding]) -> list[str]:
    """Return each finding with its code, and the fix below it."""
    lines = []
    for one in findings:
        lines += ["", *_wrapped([f"{one.severity} ({one.code}): {one.message}"])]
        if one.fix:
            lines += _wrapped([f"  Fix: {one.fix}"])
    return [*lines, ""] if lines else []


def _wrapped(texts: Iterable[Any]) -> list[str]:
    width = terminal()["width"]
    return [line for text in texts for line in textwrap.wrap(text, width, subsequent_indent="  ")]


command = made(
    "review", run, [click.Argument(["source"], metavar="SOURCE|CHARTFILE")],
    (Counting, Opening, FileReading, SheetColumns, TextOrJson, Reviewing),
    examples=(
        "review inspections.csv --by defect",
        "review flawed_sheet.csv --by defect --count count --percent-column percent --strict",
    ),
)  # fmt: skip
