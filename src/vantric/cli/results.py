"""What every command with a result does, in one order: check, read, review, write, report."""

from __future__ import annotations

import contextlib
import sys
import threading
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

import click

from vantric.api.saving import ending
from vantric.cleaning import visible
from vantric.cli.terminal import hand_over, say, tell, terminal
from vantric.cli.wording import findings_in_flags
from vantric.core.numbers.shown import listed
from vantric.core.reviewing import Finding
from vantric.errors import TargetError
from vantric.masking import masked
from vantric.options import Options, option
from vantric.reports.local import PLAIN, Local
from vantric.reports.written import written
from vantric.sources.naming import check_no_input
from vantric.writing import HANDED, PICTURES, TABLES, check_target, ending_of, write_whole

if TYPE_CHECKING:
    from vantric.api.recipe import Recipe
    from vantric.reports.documents import Document
    from vantric.reports.sections import Section

Form: TypeAlias = Literal["text", "json", "csv", "markdown"]
#: Where a context holds what says in a sentence what the command shows.
SENTENCE = "vantric.sentence"
_MOST_TOLD = 6  # series whose labels are missing
_PATIENCE = 2.0  # seconds before a progress bar is shown
#: Format of standard output -> the ending of a file that holds the same.
_TEXTS = {"csv": "csv", "json": "json", "markdown": "md"}


class Outputs(Options, section="What is written"):
    """Where results go."""

    out: tuple[Path, ...] = option(
        (), "Write a file by its ending: .png .svg .pdf a picture; .html a page, .xlsx a live workbook, .pptx a slide "
        "and .md a text with chart and table; .csv .json the data.", metavar="FILE", short="-o",
    )  # fmt: skip
    format: Form = option("text", "What standard output gets.")
    save_chart: Path | None = option(None, "Write the chart as a file, .toml or .json, which vantric draw draws again.",
                                     metavar="FILE")  # fmt: skip
    slide_tables: bool = option(False, "Slides hold the table too.")

    @property
    def draws(self) -> bool:
        """Whether a chart is needed: for a picture, a page, a workbook, slides, or a chart file."""
        return self.save_chart is not None or any(ending_of(path) in (*PICTURES, *HANDED) for path in self.out)

    @property
    def pictures(self) -> list[Path]:
        """The targets that are pictures."""
        return [path for path in self.out if ending_of(path) in PICTURES]


class Reviewing(Options, section="What is said"):
    """What is wanted of the findings."""

    strict: bool = option(False, "If the review finds an error, write nothing and end with status 1.")
    ignore: tuple[str, ...] = option((), "The code of a finding that is not wanted.", metavar="CODE")

    def wanted(self, findings: Iterable[Finding]) -> list[Finding]:
        """Return the findings whose codes are not ignored."""
        if self.ignore:
            from vantric.core.reviewing.codes import check_codes

            check_codes(self.ignore)
        return [finding for finding in findings if finding.code not in self.ignore]

    def sorted(self, findings: Iterable[Finding]) -> list[Finding]:
        """Return the findings whose codes are not ignored, errors first."""
        return sorted(self.wanted(findings), key=lambda one: ("error", "warning", "note").index(one.severity))

    def refuses(self, findings: Iterable[Finding]) -> bool:
        """Whether an error among the findings stops the command."""
        return self.strict and any(finding.severity == "error" for finding in findings)


@dataclass(frozen=True, kw_only=True)
class Job:
    """What one command does with what it reads.

    Attributes
    ----------
    source
        What it reads, as it is shown.
    inputs
        Everything that is read, which no target may replace.
    read
        Returns the result.
    review
        Returns the findings over a result and its chart, if one is drawn.
    document
        Returns the table of a result, with its findings.
    view
        Returns the lines for a terminal.
    chart
        Returns the chart of a result.
    recipe
        Returns how it can be made again.
    section
        Returns what pages, workbooks and slides hold of a result and its chart.
    styled
        Whether the lines hold styles of their own.
    local
        The language of what people read.
    always_drawn
        Whether the chart is needed even if no picture is.
    """

    source: str
    read: Callable[[], Any]
    review: Callable[[Any, Any], Iterable[Finding]]
    document: Callable[[Any, Any, Sequence[Finding]], Document]
    view: Callable[[Any, Any, list[Finding]], str]
    chart: Callable[[Any], Any]
    recipe: Callable[[Any], Recipe]
    section: Callable[[Any, Any, Sequence[Finding]], Section]
    inputs: tuple[object, ...] = ()
    styled: bool = False
    always_drawn: bool = False
    local: Local = PLAIN
    endings: tuple[str, ...] = field(default=(*PICTURES, *TABLES))


def job_of(
    name: str, source: str, opening: Any, parts: Mapping[str, Any], inputs: tuple[object, ...], **how: Any
) -> Job:
    """Return what a command does whose result is of a kind that is known by name; more words say how it is shown."""
    from vantric.api.kinds import kind_named
    from vantric.api.kinds.kind import local_of

    kind, look = kind_named(name), parts["chart"]

    def read() -> Any:
        result = kind.make(source, opening, parts)
        kind.check(result)
        return result

    return Job(
        source=source, inputs=inputs, read=read, local=local_of(look), styled=kind.styled,
        review=lambda result, chart: kind.review(kind.shown(result, look)),
        document=lambda result, chart, findings: kind.document(result, look, findings, **how),
        view=lambda result, chart, findings: kind.view(kind.shown(result, look), look, findings, **how, **terminal()),
        chart=lambda result: kind.chart(result, look),
        section=lambda result, chart, findings: kind.section(result, look, findings, chart=chart, **how),
        recipe=lambda result: recipe_of(name, source, opening, **parts),
    )  # fmt: skip


def recipe_of(kind: str, source: Any, opening: Any, **parts: Any) -> Recipe:
    """Return how a result can be made again."""
    from vantric.api.recipe import Recipe  # after the arguments are checked

    return Recipe(kind, source, opening, parts)


def carry_out(job: Job, outputs: Outputs, reviewing: Reviewing) -> int:
    """Check the targets, read, review, write every file, and report; return the exit status."""
    kinds = [ending(target, job.endings) for target in outputs.out]
    check_targets(outputs, (job.source, *job.inputs))
    with reading(job.source):
        result = job.read()
    drawn_first = outputs.pictures or outputs.save_chart is not None or job.always_drawn
    chart = job.chart(result) if drawn_first else None
    findings = reviewing.wanted(job.review(result, chart))
    click.get_current_context().meta[SENTENCE] = lambda: job.section(result, chart, findings).sentence
    if reviewing.refuses(findings):
        tell_findings(findings)
        return 1
    _write(job, outputs, kinds, result, chart, findings)
    tell_wrong(findings, [path for path, kind in zip(outputs.out, kinds, strict=True) if kind in PICTURES])
    if outputs.format == "text":
        say(job.view(result, chart, findings_in_flags(findings)), end="", styled=job.styled)
    else:
        made = replace(job.document(result, chart, findings), local=job.local)
        hand_over(written(made, _TEXTS[outputs.format]).decode())
        tell_findings(findings)
    return 0


def _write(
    job: Job, outputs: Outputs, kinds: Sequence[str], result: Any, chart: Any, findings: Sequence[Finding]
) -> None:  # fmt: skip
    from vantric.api.handing.files import contents_of

    contents: list[tuple[Path, bytes]] = []
    document: Document | None = None
    for target, kind in zip(outputs.out, kinds, strict=True):
        if kind in PICTURES:
            contents.append((target, drawn(chart, kind)))
            continue
        if document is None:
            section = cache(lambda: job.section(result, chart, findings))
            made = job.document(result, chart, findings)
            document = replace(made, section=section, slide_tables=outputs.slide_tables, local=job.local)
        read = [str(one) for one in (job.source, *job.inputs) if isinstance(one, str | Path)]
        contents += contents_of(target, kind, document, pictures=outputs.pictures, sources=read)
    if outputs.save_chart is not None:
        contents.append((outputs.save_chart, job.recipe(result).file(outputs.save_chart)))
    write_all(contents)
    if outputs.pictures:
        tell_left_out(chart)


def refuse_without_picture(given: Iterable[str], flags: Iterable[str], outputs: Outputs) -> None:
    """Raise an error for an option of the chart where none is drawn, so that none is ignored in silence."""
    if outputs.draws:
        return
    looks = {str(name): name for name in given}
    for one in click.get_current_context().command.params:
        if one.name in looks and one.name in set(flags):
            raise click.UsageError(f"{one.opts[-1]} is for a chart: name a picture with --out, such as --out chart.png")


@contextlib.contextmanager
def reading(source: str) -> Iterator[None]:
    """Show that a long reading goes on: after two seconds, on a terminal only."""
    if sys.stderr is None or not sys.stderr.isatty():
        yield
        return
    done = threading.Event()
    shower = threading.Thread(target=_show_reading, args=(source, done), daemon=True)
    shower.start()
    try:
        yield
    finally:
        done.set()
        shower.join()


def _show_reading(source: str, done: threading.Event) -> None:
    if done.wait(_PATIENCE):
        return
    from rich.console import Console
    from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

    columns = (TextColumn("reading {task.description}", markup=False), BarColumn(), TimeElapsedColumn())
    with Progress(*columns, console=Console(stderr=True), transient=True) as progress:
        progress.add_task(visible(masked(source)), total=None)
        done.wait()


def check_targets(outputs: Outputs, inputs: Iterable[object]) -> None:
    """Raise `TargetError` for the first target that cannot or must not be written, before any work is done."""
    targets = [*outputs.out, *([outputs.save_chart] if outputs.save_chart else [])]
    read = [str(one) for one in inputs if isinstance(one, str | Path)]
    for place, target in enumerate(targets):
        check_target(target)
        check_no_input(target, read)
        if target in targets[:place]:
            raise TargetError(f"'{target}' is named twice; name each file once")


def write_all(contents: Iterable[tuple[Path, bytes]]) -> None:
    """Write files, each whole, and say so on standard error; nothing is written until all contents are made."""
    for path, content in list(contents):
        write_whole(path, content)
        tell(f"wrote {path}")


def lines(shown: Sequence[str], findings: Sequence[Finding]) -> str:
    """Return lines for the terminal, the findings under them, in the words of the command line."""
    from vantric.reports.terminal import finding_lines

    said = finding_lines(findings_in_flags(findings), terminal()["width"])
    return "\n".join([*shown, *(["", *said] if said else [])]) + "\n"


def tell_findings(findings: Iterable[Finding]) -> None:
    """Say warnings and errors of the review on standard error."""
    for finding in findings_in_flags(findings):
        if finding.severity != "note":
            tell(f"vantric: {finding.severity}: {finding.message}; {finding.fix}")


def tell_wrong(findings: Iterable[Finding], pictures: Sequence[Path]) -> None:
    """Say on standard error that pictures show a wrong number, and which."""
    wrong = [finding for finding in findings_in_flags(findings) if finding.severity == "error"]
    if wrong and pictures:
        names = listed([f"'{path}'" for path in pictures], most=_MOST_TOLD)
        verb = "shows" if len(pictures) == 1 else "show"
        tell(f"vantric: error: {names} {verb} a wrong number: {wrong[0].message}; {wrong[0].fix}")


def drawn(chart: Any, kind: str) -> bytes:
    """Return the picture of a chart; what drawing it warns of goes to standard error, one line each."""
    from vantric.drawing.save import picture

    said: list[str] = []
    made = picture(chart, kind, tell=said.append)
    for message in dict.fromkeys(said):
        tell(f"vantric: warning: {message}")
    return made


def tell_left_out(chart: Any) -> None:
    """Say which labels found no place in a picture, measured with the fonts that drew it."""
    from vantric.core.charting import PanelChart
    from vantric.drawing.save import planned

    if isinstance(chart, PanelChart):
        return
    _, plan = planned(chart)
    missing = plan.missing  # type: ignore[union-attr]
    if missing:
        number = sum(len(one.categories) for one in missing)
        words = "1 label is" if number == 1 else f"{number:,} labels are" if number else "some labels are"
        said = "; ".join(map(str, missing[:_MOST_TOLD]))
        more = f"; and of {len(missing) - _MOST_TOLD} series more" if len(missing) > _MOST_TOLD else ""
        tell(f"vantric: note: {words} left out of the picture for want of room: {said}{more}")
