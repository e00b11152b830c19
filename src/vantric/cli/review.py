"""``vantric review``."""

from __future__ import annotations

import textwrap
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING

import click

from vantric.cleaning import json_text
from vantric.cli import output
from vantric.cli.sections import SectionedCommand, in_section
from vantric.cli.sourceoptions import ALLOW_SOURCE, Command, counting_options, decorated
from vantric.cli.terminal import hand_over, say, terminal
from vantric.core.numbers.shown import counted
from vantric.core.reviewing import Finding
from vantric.errors import ColumnError
from vantric.masking import masked
from vantric.regular import check_regular
from vantric.sources import Counting, Opening

if TYPE_CHECKING:
    from vantric.api.reviewing import Reviewed

_CHART_FILE = in_section("The source", ALLOW_SOURCE)
_SHEET = in_section(
    "A sheet made elsewhere",
    click.option("--percent", metavar="COL", help="Its column of percents: every cell is worked out again."),
    click.option("--cumulative", metavar="COL", help="Its column of cumulative percents."),
)
[_FORMAT] = in_section(
    "What is said",
    click.option(
        "--format", "form", type=click.Choice(["text", "json"]), default="text", show_default=True,
        help="What standard output gets.",
    ),
)  # fmt: skip


def _options(command: Command) -> Command:
    return decorated(command, (*_CHART_FILE, *_SHEET, _FORMAT), lambda values: values)


@click.command("review", cls=SectionedCommand)
@click.argument("source", metavar="SOURCE|CHARTFILE")
@counting_options
@_options
@output.reviews
def command(
    source: str, counting: Counting, opening: Opening, percent: str | None, cumulative: str | None, form: str,
    allow_source: bool, reviewing: output.Reviewing,
) -> int:  # fmt: skip
    """Say what is wrong or risky, and the fix: in what is counted, in a sheet made elsewhere, or in a chart file.

    Nothing is changed or written.
    """
    from vantric.api.reviewing import errors_first

    with output.reading(source):
        found = _reviewed(source, counting, opening, percent, cumulative, allow_source=allow_source)
    findings = errors_first(reviewing.kept(found.findings))
    if form == "json":
        plain = {
            "format": "vantric/review", "version": 1, "source": masked(source), "relations": list(found.relations),
            "findings": [finding.to_dict() for finding in findings],
        }  # fmt: skip
        hand_over(json_text(plain))
    else:
        say("\n".join([_headline(findings), *_told(findings), *_wrapped(found.relations)]))
    return reviewing.status(findings)


def _reviewed(
    source: str, counting: Counting, opening: Opening, percent: str | None, cumulative: str | None, *,
    allow_source: bool,
) -> Reviewed:  # fmt: skip
    from vantric.api.reach import Reach
    from vantric.api.reviewing import review_file, review_sheet, review_source

    if is_chart_file(source):
        limits = {name: getattr(opening, name) for name in ("timeout", "memory", "allow_functions")}
        if counting != Counting() or opening != Opening(**limits) or percent is not None or cumulative is not None:
            raise click.UsageError("a chart file names its source and columns itself: leave these options out")
        return review_file(Path(source), Reach(Path(source).parent, None, allow_source, limits))
    if allow_source:
        raise click.UsageError("--allow-source is for chart files: leave it out")
    if percent is None and cumulative is None:
        return review_source(source, counting, opening)
    if counting.by is None or counting.count is None:
        raise ColumnError("a sheet is checked by its columns: give --by and --count beside --percent and --cumulative")
    return review_sheet(source, counting.by, counting.count, percent, cumulative, opening)


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


def _told(findings: list[Finding]) -> list[str]:
    """Return each finding with its code, and the fix below it."""
    lines = []
    for one in findings:
        lines += ["", *_wrapped([f"{one.severity} ({one.code}): {one.message}"])]
        if one.fix:
            lines += _wrapped([f"  Fix: {one.fix}"])
    return [*lines, ""] if lines else []


def _wrapped(texts: Iterable[str]) -> list[str]:
    width = terminal()["width"]
    return [line for text in texts for line in textwrap.wrap(text, width, subsequent_indent="  ")]


def _headline(findings: list[Finding]) -> str:
    if not findings:
        return "Nothing was found."
    numbers = [(kind, sum(one.severity == kind for one in findings)) for kind in ("error", "warning", "note")]
    return ", ".join(counted(number, kind) for kind, number in numbers if number) + "."
