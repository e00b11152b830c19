"""``vantric review``."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Literal

import click

from vantric.base.safe_files import check_regular, check_target, write_whole
from vantric.base.safe_text import json_text
from vantric.cli.command import make_command
from vantric.cli.flags import FileArgument, OptionValues, findings_in_flags
from vantric.cli.results import ReviewSettings, reading
from vantric.cli.terminal import hand_over, say, terminal, warn
from vantric.engines.source_paths import check_no_input
from vantric.errors import ColumnError
from vantric.kinds import kind_named
from vantric.options import Options, known_options, option
from vantric.reading.settings import CountSettings, FileReading, ReadSettings

if TYPE_CHECKING:
    from vantric.api.reviews import ReviewResult
    from vantric.api.sheet_repairs import RepairResult


class SheetColumnSettings(Options, section="A sheet made elsewhere"):
    """The columns of a sheet whose arithmetic is checked."""

    percent_column: str | None = option(None, "Its column of percents: every cell is worked out again.", metavar="COL")
    cumulative_column: str | None = option(None, "Its column of cumulative percents.", metavar="COL")
    percent_base: float | None = option(
        None,
        "What its percents are of, where that is not the sum of the counts: units inspected.",
        metavar="NUMBER",
        above=0,
    )


class RepairSettings(Options, section="What is written"):
    """What a review writes."""

    format: Literal["text", "json", "markdown"] = option("text", "What standard output gets.")
    repair: Path | None = option(
        None, "Write the sheet with the right numbers, changes marked and listed: .xlsx or .csv.", metavar="FILE"
    )


def run(source: str, options: OptionValues) -> int:
    """Say what is wrong or risky, and the fix: in a source, a sheet or workbook made elsewhere, or a chart file.

    Of a workbook the sheets and the charts in them are read, of a sheet the columns are found by their headings.
    Nothing is changed; --repair writes another file.
    """
    output, reviewing = options.split(RepairSettings, ReviewSettings)
    target = output.repair
    if target is not None:
        _check_repair(source, target, strict=reviewing.strict)
    with reading(source):
        result = _reviewed(source, options)
        fixed = None if target is None else _repaired(source, options, target)
    findings = reviewing.sorted(result.findings)
    kind = kind_named("review")
    if output.format == "json":
        hand_over(json_text(kind.data(result, None, findings, source=source)))
    elif output.format == "markdown":
        hand_over(kind.verbs["markdown"](result, findings))
    else:
        width = terminal()["width"]
        say("\n".join(kind.view(result, None, findings=findings_in_flags(findings), width=width)))
    if target is not None:
        _write_repair(target, fixed)
    return int(reviewing.refuses(findings))


def _reviewed(source: str, options: OptionValues) -> ReviewResult:
    from vantric.api.reviews import is_book, review_book, review_file, review_sheet, review_source
    from vantric.kinds.access_policy import AccessPolicy

    counting, opening, sheet, files = options.split(CountSettings, ReadSettings, SheetColumnSettings, FileReading)
    if is_chart_file(source):
        own = known_options(CountSettings, ReadSettings, SheetColumnSettings)
        strange = next(
            (own[name].flag for name in options if name in own and name not in known_options(FileReading)), None
        )
        if strange:
            raise click.UsageError(f"a chart file names its source and columns itself: leave {strange} out")
        return review_file(Path(source), AccessPolicy(Path(source).parent, files))
    if files.allow_source:
        raise click.UsageError("--allow-source is for chart files: leave it out")
    percent, cumulative = sheet.percent_column, sheet.cumulative_column
    is_whole = is_book(source) and not counting.changed() and percent is None and cumulative is None
    if is_whole and ("cells" not in opening.changed() or opening.changed().keys() <= {"sheet", "cells"}):
        _check_of_book(opening)
        return review_book(Path(source), opening, sheet.percent_base)
    if percent is None and cumulative is None:
        return review_source(source, counting, opening, sheet.percent_base)
    by, count = _named_columns(counting)
    return review_sheet(source, by, count, percent, cumulative, opening, sheet.percent_base)


def _check_of_book(opening: ReadSettings) -> None:
    """Raise an error for an option that the review of a whole workbook cannot follow, so that none is passed over."""
    own = known_options(ReadSettings)
    strange = next((own[name].flag for name in opening.changed() if name not in ("sheet", "cells")), None)
    if strange:
        raise click.UsageError(f"{strange} is for a table that is counted: name its columns with --by and --count")


def _named_columns(counting: CountSettings) -> tuple[str, str]:
    if counting.by is None or not isinstance(counting.count, str):
        raise ColumnError(
            "a sheet is checked by its columns: give --by and --count beside --percent-column and --cumulative-column"
        )
    return counting.by, counting.count


def _check_repair(source: str, target: Path, *, strict: bool) -> None:
    from vantric.api.sheet_repairs import target_ending

    if strict:
        raise click.UsageError("--strict writes nothing when an error is found: leave --strict or --repair out")
    if is_chart_file(source) or "://" in source or source == "-":
        raise click.UsageError("--repair is for the file of a sheet or a workbook")
    target_ending(target)
    check_target(target)
    check_no_input(target, [source])


def _repaired(source: str, options: OptionValues, target: Path) -> RepairResult | None:
    from vantric.api.reviews import is_book
    from vantric.api.sheet_repairs import repairable, repaired, repaired_workbook
    from vantric.audit.sheet_rows import sheet_of

    counting, opening, sheet = options.split(CountSettings, ReadSettings, SheetColumnSettings)
    percent, cumulative = sheet.percent_column, sheet.cumulative_column
    if is_book(source) and not counting.changed() and percent is None and cumulative is None:
        return repaired_workbook(Path(source), opening, target, base=sheet.percent_base)
    if percent is None and cumulative is None:
        raw, stated = repairable(source, counting, opening)
    else:
        by, count = _named_columns(counting)
        raw, stated = sheet_of(source, by, count, percent, cumulative, opening), None
    if raw is None:
        raise ColumnError(
            f"'{source}' has no percents or running sums beside counts that could be repaired; name the columns with "
            "--by, --count, --percent-column, --cumulative-column"
        )
    return repaired(raw, target, base=sheet.percent_base, stated=stated)


def _write_repair(target: Path, fixed: RepairResult | None) -> None:
    from vantric.audit.repairs import change_lines

    if fixed is None:
        warn(f"vantric: note: there is nothing to repair: '{target}' is not written")
        return
    write_whole(target, fixed.content)
    warn(f"wrote {target}")
    for line in change_lines(fixed.corrections):
        warn(f"  {line}")
    if fixed.lost:
        warn(f"vantric: warning: '{target}' does not hold {', '.join(fixed.lost)}: the source does")


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


review_command = partial(
    make_command,
    "review",
    run,
    [FileArgument(["source"], metavar="SOURCE|CHARTFILE")],
    (CountSettings, ReadSettings, FileReading, SheetColumnSettings, RepairSettings, ReviewSettings),
    first="by count percent-column cumulative-column repair cells sheet strict ignore format",
    examples=(
        "review inspections.csv --by defect",
        "review flawed_sheet.csv --repair right_sheet.csv",
    ),
)
