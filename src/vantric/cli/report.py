"""``vantric report``."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from functools import partial
from pathlib import Path
from time import monotonic
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

import click

from vantric.base.safe_files import check_target
from vantric.base.safe_text import is_url, json_text, visible, without_secrets
from vantric.cli.command import make_command
from vantric.cli.flags import OptionValues
from vantric.cli.results import SENTENCE, ReviewSettings, open_all, reading, tell_findings, write_all
from vantric.cli.terminal import hand_over, say, terminal, warn
from vantric.engines.source_paths import check_no_input
from vantric.errors import TargetError
from vantric.kinds import kind_named
from vantric.kinds.kind import ending
from vantric.options import Options, option
from vantric.reading.settings import FileReading, ReadSettings

if TYPE_CHECKING:
    from vantric.api.reports import Report

Form: TypeAlias = Literal["text", "json", "markdown"]
_PATIENCE = 2.0  # seconds before it is said which section is made


class SourceSettings(Options, section="The source"):
    """What is read in place of what the report file says."""

    data: tuple[str, ...] = option(
        (), "Read this file or URL for a source of the report file; it may be anywhere.", metavar="NAME=FILE"
    )
    previous: str | None = option(
        None,
        "Say what changed since then: the last report as .json, a file of data, or the name of a source.",
        metavar="FILE|NAME",
    )


class ReportOutputs(Options, section="What is written"):
    """Where the report goes."""

    out: tuple[Path, ...] = option(
        (),
        "Write the report by its ending: .html a page, .xlsx a workbook, .pptx slides, .md a text with pictures, "
        ".json the results.",
        metavar="FILE",
        short="-o",
    )
    format: Form = option("text", "What standard output gets.")
    partial: bool = option(False, "Leave out sections that fail; the report says which, and why.")
    slide_tables: bool = option(False, "Slides hold the tables too.")
    open: bool = option(False, "Show what was written, in the program that this system has for it.")


def _print_schema(context: click.Context, parameter: click.Parameter, value: bool) -> None:
    if value:
        from vantric.files.models import report_schema_text

        hand_over(report_schema_text())
        context.exit()


def run(report_file: Path | None, options: OptionValues, new: Path | None = None, source: str | None = None) -> int:
    """Make a report of several sections from a report file, the same again every month.

    REPORTFILE is TOML or JSON. Its sources are seen from its own folder; without --allow-source it reads what is beside
    it, and what --data names. With --new a first report file is written from what a source holds.
    """
    sources, outputs, reviewing, files = options.split(SourceSettings, ReportOutputs, ReviewSettings, FileReading)
    if new is not None or source is not None:
        if new is None or source is None or report_file is not None or options:
            raise click.UsageError("a first report file is written with --new REPORTFILE --from SOURCE, and no more")
        return _start(new, source)
    if report_file is None:
        raise click.UsageError("name a report file; or write a first one: --new monthly.toml --from inspections.csv")
    from vantric.api.report_sections import ReportRequest
    from vantric.api.reports import REPORTS

    data = dict(_pair(item) for item in sources.data)
    kinds = [ending(target, REPORTS) for target in outputs.out]
    _check_targets(outputs.out, [str(report_file), *data.values(), sources.previous])
    request = ReportRequest(data, sources.previous or "", files, outputs.partial, _progress())
    with reading(str(report_file)):
        report = kind_named("report").make(report_file, ReadSettings(), {"asked": request})
    for target in outputs.out:
        check_no_input(target, list(report.inputs))
    findings = reviewing.wanted(report.review())
    if reviewing.refuses(findings):
        tell_findings(findings)
        return 1
    click.get_current_context().meta[SENTENCE] = report.headline
    contents = []
    for target, kind in zip(outputs.out, kinds, strict=True):
        contents += report.contents(target, kind, slide_tables=outputs.slide_tables)
    write_all(contents)
    open_all(outputs.out, is_wanted=outputs.open)
    for failed in report.failed:
        warn(f"vantric: warning: {visible(failed)}")
    _print(report, outputs.format)
    return 0


def _start(target: Path, source: str) -> int:
    from vantric.api.reports import NAME, beside, first_report
    from vantric.files.models import ENDINGS

    if target.suffix.casefold() != ENDINGS[0]:
        raise TargetError(f"a first report file is TOML: end the name of '{target}' in .toml")
    check_target(target)
    if target.exists():
        raise TargetError(f"'{target}' is there already, and may hold your changes: name another file")
    check_no_input(target, [source])
    with reading(source):
        text = first_report(source, target, ReadSettings())
    write_all([(target, text.encode())])
    named = "" if beside(source, target) else f" --data {NAME}={without_secrets(source) if is_url(source) else source}"
    say(
        f"Look at '{target}', change what you like, and make the report: "
        f"vantric report {target}{named} --out report.html"
    )
    return 0


def _pair(text: str) -> tuple[str, str]:
    name, sign, file = text.partition("=")
    if not sign or not name or not file:
        raise click.UsageError(f"--data is NAME=FILE, such as --data log=november.csv, not '{text}'")
    return name, file


def _check_targets(targets: Sequence[Path], inputs: Sequence[str | None]) -> None:
    """Refuse a target that cannot be written, or is read, before any work is done."""
    for place, target in enumerate(targets):
        check_target(target)
        check_no_input(target, [text for text in inputs if text])
        if target in targets[:place]:
            raise TargetError(f"'{target}' is named twice; name each file once")


def _progress() -> Any:
    """Return what says on a terminal which section is made, if it takes long."""
    start = monotonic()

    def said(text: str) -> None:
        if sys.stderr is not None and sys.stderr.isatty() and monotonic() - start > _PATIENCE:
            warn(text)

    return said


def _print(report: Report, form: Form) -> None:
    if form == "json":
        hand_over(json_text(report.to_dict()))
    elif form == "markdown":
        hand_over(report.markdown())
    else:
        say("\n".join(_lines(report)))


def _lines(report: Report) -> list[str]:
    import textwrap

    width = terminal()["width"]
    texts = [report.title, ""]
    for section in report.sections:
        if section.kind == "text" and not section.findings:
            continue
        texts += [section.title, *textwrap.wrap(section.sentence, width, initial_indent="  ", subsequent_indent="  ")]
        for message in section.changed:
            texts += textwrap.wrap(message, width, initial_indent="  since last time: ", subsequent_indent="    ")
        worst = [finding for finding in section.findings if finding.severity != "note"]
        for finding in worst:
            text = f"{finding.severity}: {finding.message}"
            texts += textwrap.wrap(text, width, initial_indent="  ", subsequent_indent="    ")
        texts.append("")
    return texts[:-1]


_SCHEMA = click.Option(
    ["--schema"],
    is_flag=True,
    is_eager=True,
    expose_value=False,
    callback=_print_schema,
    help="Print the JSON Schema of report files, and do nothing else.",
)
_NEW = click.Option(
    ["--new"],
    type=click.Path(path_type=Path),
    metavar="REPORTFILE",
    help="Write a first report file, with comments; with --from.",
)
_FROM = click.Option(["--from", "source"], metavar="SOURCE", help="The source that --new looks at.")
report_command = partial(
    make_command,
    "report",
    run,
    [click.Argument(["report_file"], required=False, type=click.Path(path_type=Path), metavar="[REPORTFILE]")],
    (SourceSettings, FileReading, ReportOutputs, ReviewSettings),
    more=(_NEW, _FROM, _SCHEMA),
    first="data previous partial out new from strict format",
    examples=(
        "report --new monthly.toml --from inspections.csv",
        "report monthly.toml --data log=inspections.csv --out report.html --out report.json",
    ),
)
