"""What commands share in writing: files whole, remarks on standard error, the terminal's ways."""

from __future__ import annotations

import contextlib
import sys
import threading
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from vantric.cleaning import visible
from vantric.cli.sections import in_section
from vantric.cli.terminal import tell, terminal
from vantric.core.counting.tally import Tally, check_rankable
from vantric.core.reviewing import Finding
from vantric.errors import TargetError, nearest
from vantric.masking import masked
from vantric.sources.naming import check_no_input
from vantric.writing import check_target, write_whole

if TYPE_CHECKING:
    from vantric.core.charting import Wish

_PATIENCE = 2.0  # seconds before a progress bar is shown


_FORMATS = ("text", "json", "csv", "markdown")
PICTURES = ("png", "svg", "pdf")
#: Format of standard output -> the ending of a file that holds the same.
TEXTS = {"csv": "csv", "json": "json", "markdown": "md"}


def _outputs(endings: str, forms: Sequence[str] = _FORMATS) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    def decorate(command: Callable[..., Any]) -> Callable[..., Any]:
        [form] = in_section(
            "What is written",
            click.option(
                "--format",
                "form",
                type=click.Choice(forms),
                default="text",
                show_default=True,
                help="What standard output gets.",
            ),
        )
        command = form(command)
        kind = click.Path(path_type=Path)
        about = f"Write a file by its ending: {endings}. Repeatable."
        out = click.option("--out", "targets", multiple=True, type=kind, metavar="FILE", help=about)
        return in_section("What is written", out)[0](command)  # type: ignore[no-any-return]

    return decorate


scale_outputs = _outputs(".png .svg .pdf a picture, .csv .json the ticks", ("text", "json", "csv"))
all_outputs = _outputs(".png .svg .pdf a picture, .csv .json .xlsx .md .html the table")


def kind_of(target: Path, known: Iterable[str]) -> str:
    """Return a target's ending, or say which there are."""
    kind, endings = target.suffix[1:].casefold(), tuple(known)
    if kind in endings:
        return kind
    hint = nearest(kind, endings) if kind else ""
    raise TargetError(f"cannot write '{target}': its ending is none of .{', .'.join(endings)}{hint}")


def lines(shown: Sequence[str], findings: Sequence[Finding]) -> str:
    """Return lines for the terminal, the findings under them."""
    from vantric.report.terminal import finding_lines

    told = finding_lines(findings, terminal()["width"])
    return "\n".join([*shown, *(["", *told] if told else [])]) + "\n"


def check_counted(tally: Tally) -> None:
    """Raise `RankError` if there is nothing to show."""
    if not tally.categories:
        check_rankable(tally)


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


def check_targets(
    targets: Sequence[Path], source: str, chart_file: Path | None = None, inputs: Iterable[object] = ()
) -> None:
    """Raise `TargetError` for the first target that cannot or must not be written, before any work is done.

    Parameters
    ----------
    targets, chart_file
        What will be written.
    source
        What is read: a file, a pattern of files, or no file at all.
    inputs
        Other files that are read: paths; whatever else stands among them is passed over.
    """
    targets = [*targets, *([chart_file] if chart_file else [])]
    read = [source, *(str(one) for one in inputs if isinstance(one, str | Path))]
    context = click.get_current_context(silent=True)
    words = context.params.get("words") if context is not None else None
    read += [str(words)] if words is not None else []
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


def tell_warnings(findings: Iterable[Finding]) -> None:
    """Say warnings and errors of the review on standard error."""
    for finding in findings:
        if finding.severity != "note":
            tell(f"vantric: {finding.severity}: {finding.message}; {finding.fix}")


@dataclass(frozen=True)
class Reviewing:
    """What is wanted of the findings: those that are not, and whether an error ends with status 1."""

    strict: bool
    ignore: tuple[str, ...]

    def kept(self, findings: Iterable[Finding]) -> list[Finding]:
        """Return the findings whose codes are not silenced."""
        return [finding for finding in findings if finding.code not in self.ignore]

    def status(self, findings: Iterable[Finding]) -> int:
        """Return the exit status."""
        return int(self.strict and any(finding.severity == "error" for finding in findings))


def reviews(command: Callable[..., Any]) -> Callable[..., Any]:
    """Add the options that say what is wanted of the findings; they arrive as `reviewing`."""
    from vantric.cli.sourceoptions import decorated

    def gather(values: dict[str, Any]) -> dict[str, Any]:
        reviewing = Reviewing(values.pop("strict"), values.pop("ignore"))
        return {**values, "reviewing": reviewing}

    options = in_section(
        "What is said",
        click.option("--strict", is_flag=True, help="End with status 1 if the review finds an error."),
        click.option("--ignore", multiple=True, metavar="CODE", help="Findings that are not wanted. Repeatable."),
    )
    return decorated(command, options, gather)


def keeps_chart(command: Callable[..., Any]) -> Callable[..., Any]:
    """Add the option that keeps the chart as a file; its path arrives as `chart_file`."""
    about = "Keep the chart as a file, .toml or .json: vantric draw draws it again."
    kind = click.Path(path_type=Path)
    option = click.option("--save-chart", "chart_file", type=kind, metavar="FILE", help=about)
    return in_section("What is written", option)[0](command)  # type: ignore[no-any-return]


def kept_chart(
    chart_file: Path | None, kind: str, parts: Callable[[], dict[str, Any]]
) -> list[tuple[Path, bytes]]:  # fmt: skip
    """Return the chart file to be written, if one is asked for."""
    if chart_file is None:
        return []
    from vantric.chartfile.writing import chart_file_bytes

    return [(chart_file, chart_file_bytes(kind, parts(), chart_file))]


def wish_of(look: dict[str, Any], kinds: Iterable[str], chart_file: Path | None = None) -> Wish | None:
    """Return how a picture is to look; None if none is asked for, nor kept."""
    if chart_file is None and not any(kind in PICTURES for kind in kinds):
        return None
    from vantric.api.chartoptions import read_wish

    return read_wish(look)


def tell_left_out(chart: Any) -> None:
    """Say how many labels found no place in a picture, measured with the fonts that drew it."""
    from vantric.drawing.figure import planned
    from vantric.drawing.fonts import linear_measure

    plan, _ = planned(chart, chart.size, linear_measure, tell=len)  # what fonts lack was told when it was drawn
    number = plan.left_out  # type: ignore[union-attr]
    if number:
        words = "1 label is" if number == 1 else f"{number:,} labels are"
        tell(f"vantric: note: {words} left out of the picture for want of room")


def write_results(
    targets: Sequence[Path], kinds: Sequence[str], table: Callable[[str], bytes], result: Any, wish: Wish | None,
    *, panels: bool = False, kept: Sequence[tuple[Path, bytes]] = (),
) -> None:  # fmt: skip
    """Write a result as tables and pictures, and the chart that is kept; one chart serves all pictures."""
    chart = None
    if wish is not None:
        from vantric.api.charts import chart_of

        chart = chart_of(result, wish, panels=panels)
    contents = [drawn(chart, kind) if kind in PICTURES else table(kind) for kind in kinds]
    write_all([*zip(targets, contents, strict=True), *kept])


def drawn(chart: Any, kind: str) -> bytes:
    """Return the picture of a chart; what drawing it warns of goes to standard error, one line each."""
    from vantric.drawing.save import picture

    said: list[str] = []
    made = picture(chart, kind, tell=said.append)
    for message in dict.fromkeys(said):
        tell(f"vantric: warning: {message}")
    return made
