"""What every command with a result does, in one order: check, read, review, write, report."""

from __future__ import annotations

import contextlib
import sys
import threading
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, TypeAlias, TypeVar

import click

from vantric.base.lazily import dataclass
from vantric.base.safe_files import HANDED, PICTURES, check_target, ending_of, write_whole
from vantric.base.safe_text import masked, visible
from vantric.cli.flags import OptionValues, findings_in_flags
from vantric.cli.terminal import hand_over, opened, say, terminal, warn
from vantric.core.charts.settings import ChartSettings
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.numbers.number_format import listed
from vantric.core.review import Finding
from vantric.engines.source_paths import check_no_input
from vantric.errors import TargetError
from vantric.kinds import kind_named
from vantric.kinds.kind import ending
from vantric.options import Options, known_options, option

if TYPE_CHECKING:
    from vantric.kinds.kind import Kind
    from vantric.kinds.recipe import Recipe
    from vantric.output.writers import Content

Form: TypeAlias = Literal["text", "json", "csv", "markdown"]
#: Where a context holds what says in a sentence what the command shows.
SENTENCE = "vantric.sentence"
_MOST_TOLD = 6  # series whose labels are missing
_PATIENCE = 2.0  # seconds before a progress bar is shown
#: Format of standard output -> the ending of a file that holds the same.
_TEXTS = {"csv": "csv", "json": "json", "markdown": "md"}


class OutputSettings(Options, section="What is written"):
    """Where results go."""

    out: tuple[Path, ...] = option(
        (),
        "Write a file by its ending: .png .svg .pdf a picture; .html a page, .xlsx a live workbook, .pptx a slide "
        "and .md a text with chart and table; .csv .json the data; .vl.json the chart as Vega-Lite.",
        metavar="FILE",
        short="-o",
    )
    format: Form = option("text", "What standard output gets.")
    save_chart: Path | None = option(
        None, "Write the chart as a file, .toml or .json, which vantric draw draws again.", metavar="FILE"
    )
    slide_tables: bool = option(False, "Slides hold the table too.")
    open: bool = option(False, "Show what was written, in the program that this system has for it.")
    pager: bool = option(False, "Show the result screen by screen.")

    @property
    def draws(self) -> bool:
        """Whether a chart is needed: for a picture, a page, a workbook, slides, or a chart file."""
        return self.save_chart is not None or any(ending_of(path) in (*PICTURES, *HANDED) for path in self.out)

    @property
    def pictures(self) -> list[Path]:
        """The targets that are pictures."""
        return [path for path in self.out if ending_of(path) in PICTURES]


class ReviewSettings(Options, section="What is said"):
    """What is wanted of the findings."""

    strict: bool = option(False, "If the review finds an error, write nothing and end with status 1.")
    ignore: tuple[str, ...] = option((), "The code of a finding that is not wanted.", metavar="CODE")

    def wanted(self, findings: Iterable[Finding]) -> list[Finding]:
        """Return the findings whose codes are not ignored."""
        if self.ignore:
            from vantric.core.review.finding import check_codes

            # Loaded only if a code is ignored: most commands need no codes.
            check_codes(self.ignore)
        return [finding for finding in findings if finding.code not in self.ignore]

    def sorted(self, findings: Iterable[Finding]) -> list[Finding]:
        """Return the findings whose codes are not ignored, errors first."""
        return sorted(self.wanted(findings), key=lambda finding: ("error", "warning", "note").index(finding.severity))

    def refuses(self, findings: Iterable[Finding]) -> bool:
        """Whether an error among the findings stops the command."""
        return self.strict and any(finding.severity == "error" for finding in findings)


@dataclass(frozen=True)
class _CommandRun:
    """One result of a command: what was read, how it is shown, what the review says of it."""

    kind: Kind
    result: Any
    look: Any
    chart: Any
    findings: list[Finding]
    how: Mapping[str, Any]

    def content(self, *, slide_tables: bool = False) -> Content:
        """Return what files are written from."""
        return self.kind.content(
            self.result,
            self.look,
            self.findings,
            chart=self.chart,
            local=self.look.formatter.bare(),
            slide_tables=slide_tables,
            **self.how,
        )

    def view(self) -> str:
        """Return what a terminal shows, the findings in the words of the command line."""
        local = self.look.formatter.bare()
        findings = findings_in_flags([finding.in_language(local) for finding in self.findings])
        more = {**self.how, "chart": self.chart} if self.kind.drawn else self.how
        drawn_result = self.kind.shown(self.result, self.look)
        if self.kind.styled:
            return str(self.kind.view(drawn_result, self.look, findings=findings, **more, **terminal()))
        return lines(self.kind.view(drawn_result, self.look, **more, **terminal()), findings, local)


def run_command(
    name: str,
    source: Any,
    opening: Any,
    parts: Mapping[str, Any],
    outputs: OutputSettings,
    reviewing: ReviewSettings,
    *,
    inputs: tuple[object, ...] = (),
    check: Callable[[Any], object] = lambda chart: None,
    **how: Any,
) -> int:
    """Check the targets, read, review, write every file, and report; return the exit status.

    Parameters
    ----------
    name
        The kind of result.
    source, opening, parts
        What it is made of, and how.
    outputs, reviewing
        Where it goes, and what is wanted of the findings.
    inputs
        What else is read, and no target may replace.
    check
        Refuses a chart before anything is written.
    **how
        How it is shown.
    """
    from vantric.kinds.recipe import Recipe
    from vantric.output.writers import WRITERS, write_content

    kind = kind_named(name)
    endings = [ending(target, (*PICTURES, *WRITERS)) for target in outputs.out]
    first = source[0] if isinstance(source, tuple) else source
    read = tuple(item for item in ((*source, *inputs) if isinstance(source, tuple) else (source, *inputs)) if item)
    # Before anything is read: a wrong target must not cost the reading of a large file.
    check_targets(outputs, read)
    look = parts.get("chart") or kind.plain_look
    with reading(first or ""):
        result = kind.make(source, opening, parts)
        kind.check(result)
    # Text and JSON need no chart, and the libraries for it are slow to load.
    drawn_first = outputs.pictures or outputs.save_chart is not None or kind.drawn
    with working("working out what it shows"):
        chart = kind.chart(result, look) if drawn_first else None
        check(chart)
        run = _CommandRun(kind, result, look, chart, reviewing.wanted(kind.findings(result, look, chart)), how)
    # The demo prints it, and only the demo: it is worked out when asked for.
    click.get_current_context().meta[SENTENCE] = lambda: run.content().sections()[0].sentence
    if reviewing.refuses(run.findings):
        tell_findings(run.findings)
        return 1
    recipe = Recipe(name, source, opening, kind.recipe_parts(result, parts))
    _write(run, outputs, endings, recipe, [str(item) for item in read if isinstance(item, str | Path)])
    tell_wrong(run.findings, [path for path, end in zip(outputs.out, endings, strict=True) if end in PICTURES])
    if outputs.format == "text":
        say(run.view(), end="", styled=True, paged=outputs.pager)
    else:
        hand_over(write_content(run.content(), _TEXTS[outputs.format]).decode())
        tell_findings(run.findings)
    return 0


def _write(
    run: _CommandRun, outputs: OutputSettings, endings: Sequence[str], recipe: Recipe, read: Sequence[str]
) -> None:
    from vantric.output.writers import contents_of

    contents: list[tuple[Path, bytes]] = []
    plans: list[Any] = []
    content = run.content(slide_tables=outputs.slide_tables)
    for target, end in zip(outputs.out, endings, strict=True):
        with working(f"making {target.name}"):
            if end in PICTURES:
                picture, plan = draw_picture(run.chart, end)
                contents.append((target, picture))
                plans.append(plan)
            else:
                contents += contents_of(target, end, content, pictures=outputs.pictures, sources=read)
    if outputs.save_chart is not None:
        contents.append((outputs.save_chart, recipe.file(outputs.save_chart)))
    write_all(contents)
    tell_left_out(plans)
    open_all(outputs.out, is_wanted=outputs.open)


def refuse_without_picture(texts: Iterable[str], flags: Iterable[str], outputs: OutputSettings) -> None:
    """Raise an error for an option of the chart where none is drawn, so that none is ignored in silence."""
    if outputs.draws:
        return
    looks = {str(name): name for name in texts}
    for parameter in click.get_current_context().command.params:
        if parameter.name in looks and parameter.name in set(flags):
            raise click.UsageError(
                f"{parameter.opts[-1]} is for a chart: name a picture with --out, such as --out chart.png"
            )


def reading(source: str) -> contextlib.AbstractContextManager[None]:
    """Show that a long reading goes on: see `working`."""
    return working(f"reading {masked(source)}")


@contextlib.contextmanager
def working(what: str) -> Iterator[None]:
    """Show that long work goes on: after two seconds, on a terminal only."""
    if sys.stderr is None or not sys.stderr.isatty():
        yield
        return
    done = threading.Event()
    shower = threading.Thread(target=_show_work, args=(what, done), daemon=True)
    shower.start()
    try:
        yield
    finally:
        done.set()
        shower.join()


def _show_work(what: str, done: threading.Event) -> None:
    if done.wait(_PATIENCE):
        return
    from rich.console import Console
    from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

    columns = (TextColumn("{task.description}", markup=False), BarColumn(), TimeElapsedColumn())
    with Progress(*columns, console=Console(stderr=True), transient=True) as progress:
        progress.add_task(visible(what), total=None)  # names of files are shown, and none of them is obeyed
        done.wait()


def check_targets(outputs: OutputSettings, inputs: Iterable[object]) -> None:
    """Raise `TargetError` for the first target that cannot or must not be written, before any work is done."""
    open_all(outputs.out, is_wanted=outputs.open and not outputs.out)
    targets = [*outputs.out, *([outputs.save_chart] if outputs.save_chart else [])]
    read = [str(item) for item in inputs if isinstance(item, str | Path)]
    for place, target in enumerate(targets):
        check_target(target)
        check_no_input(target, read)
        if target in targets[:place]:
            raise TargetError(f"'{target}' is named twice; name each file once")


def write_all(contents: Iterable[tuple[Path, bytes]]) -> None:
    """Write files, each whole, and say so on standard error; nothing is written until all contents are made."""
    for path, content in list(contents):
        write_whole(path, content)
        warn(f"wrote {path}")


def open_all(written: Sequence[Path], *, is_wanted: bool) -> None:
    """Show the files that were written, if that is wanted; raise an error where there is none."""
    if is_wanted and not written:
        raise click.UsageError("--open shows a file: name one with --out, such as --out chart.png")
    for path in written if is_wanted else ():
        opened(str(path))


def lines(texts: Sequence[str], findings: Sequence[Finding], formatter: Formatter = PLAIN) -> str:
    """Return lines for the terminal, the findings under them in their colors, in the words of the command line."""
    from vantric.tables.pareto_terminal import finding_lines

    colored = [
        click.style(visible(line), fg=color) if color and terminal()["color"] else visible(line)
        for line, color in finding_lines(findings, terminal()["width"], formatter)
    ]
    return "\n".join([*map(visible, texts), *(["", *colored] if colored else [])]) + "\n"


def tell_findings(findings: Iterable[Finding]) -> None:
    """Say warnings and errors of the review on standard error."""
    for finding in findings_in_flags(findings):
        if finding.severity != "note":
            warn(f"vantric: {finding.severity}: {finding.message}; {finding.fix}")


def tell_wrong(findings: Iterable[Finding], pictures: Sequence[Path]) -> None:
    """Say on standard error that pictures show a wrong number, and which."""
    wrong = [finding for finding in findings_in_flags(findings) if finding.severity == "error"]
    if wrong and pictures:
        names = listed([f"'{path}'" for path in pictures], most=_MOST_TOLD)
        verb = "shows" if len(pictures) == 1 else "show"
        warn(f"vantric: error: {names} {verb} a wrong number: {wrong[0].message}; {wrong[0].fix}")


def draw_picture(chart: Any, kind: str) -> tuple[bytes, Any]:
    """Return the picture of a chart and its plan; what drawing it warns of goes to standard error, one line each."""
    from vantric.rendering.pictures import picture_and_plan

    texts: list[str] = []
    pair = picture_and_plan(chart, kind, tell=texts.append)
    for message in dict.fromkeys(texts):
        warn(f"vantric: warning: {message}")
    return pair


def tell_left_out(plans: Iterable[Any]) -> None:
    """Say which labels found no place in pictures, as their plans know; panels do not say it."""
    missing = tuple(dict.fromkeys(item for plan in plans for item in getattr(plan, "missing", ())))
    if missing:
        number = sum(len(item.categories) for item in missing)
        words = "1 label is" if number == 1 else f"{number:,} labels are" if number else "some labels are"
        text = "; ".join(map(str, missing[:_MOST_TOLD]))
        more = f"; and of {len(missing) - _MOST_TOLD} series more" if len(missing) > _MOST_TOLD else ""
        warn(f"vantric: note: {words} left out of the picture (not enough space): {text}{more}")


L = TypeVar("L", bound=ChartSettings)


class WordsFile(Options, section="What the chart says"):
    """Fixed words in a file."""

    words_file: Path | None = option(None, "Fixed words of the chart in a TOML or JSON file.", metavar="FILE")


def words_in(options: OptionValues, typed_words: dict[str, Any]) -> dict[str, Any]:
    """Return options with the words of the file that was named, under those that were typed."""
    [words] = options.split(WordsFile)
    if words.words_file is None:
        return typed_words
    from vantric.counting.cells import read_pairs

    own = read_pairs(words.words_file, "words", "a name and a text in pairs")
    return {**typed_words, "words": {**own, **typed_words.get("words", {})}}


def look_of(
    options: OptionValues, kind: type[L], outputs: OutputSettings, *, leave_out: tuple[str, ...] = (), **follows: Any
) -> L:
    """Return the look that was asked for; raise an error if there is one but no chart.

    `follows` are options that follow from others, where they are not typed.
    """
    also = (*leave_out, "language", "unit")  # tables and sentences follow them too
    names = [name for name in (*known_options(kind), "words_file") if name not in also]
    refuse_without_picture(options, names, outputs)
    settings: Any = {**follows, **{name: value for name, value in options.items() if name in known_options(kind)}}
    look = kind.from_keywords(words_in(options, settings))
    if outputs.draws:
        from vantric.kinds.appearance import with_drawable_look

        with_drawable_look(look)  # a color or a font that there is not is refused before anything is read
    return look
