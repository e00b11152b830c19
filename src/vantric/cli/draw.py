"""``vantric draw``."""

from __future__ import annotations

from functools import cache, partial
from pathlib import Path
from typing import Any

import click

from vantric.base.safe_files import HANDED, PICTURES
from vantric.cli.command import make_command
from vantric.cli.flags import OptionValues
from vantric.cli.results import (
    SENTENCE,
    OutputSettings,
    WordsFile,
    check_targets,
    draw_picture,
    open_all,
    reading,
    tell_findings,
    tell_left_out,
    tell_wrong,
    words_in,
    write_all,
)
from vantric.cli.terminal import hand_over, say, warn
from vantric.core.charts.settings import ChartSettings
from vantric.kinds.kind import ending
from vantric.options import Options, known_options, option
from vantric.reading.settings import FileReading


class RedrawSettings(Options, section="What is drawn"):
    """What is in place of what the chart file says."""

    source: str | None = option(None, "Draw it from this source, not from the file's own.", metavar="SOURCE")


class PictureSettings(Options, section="What is written"):
    """Where pictures go."""

    out: tuple[Path, ...] = option(
        (),
        "Write a file by its ending: .png .svg .pdf a picture; .html a page, .xlsx a workbook, .pptx a slide and "
        ".md a text with chart and table; .vl.json the chart as Vega-Lite.",
        metavar="FILE",
        short="-o",
    )
    open: bool = option(False, "Show what was written, in the program that this system has for it.")


def _print_schema(context: click.Context, parameter: click.Parameter, value: bool) -> None:
    if value:
        from vantric.files.models import schema_text

        hand_over(schema_text())
        context.exit()


def _look(options: OptionValues) -> dict[str, Any]:
    """Return the options of looks and words that were typed, in place of those of the file."""
    look = words_in(options, {name: value for name, value in options.items() if name in known_options(ChartSettings)})
    if look:
        from vantric.kinds.appearance import with_drawable_look

        with_drawable_look(ChartSettings.from_keywords(look))
    return look


def run(chart_file: Path, options: OptionValues) -> None:
    """Draw a chart that was written as a file with --save-chart, or by hand.

    CHARTFILE is TOML or JSON. Its sources are seen from its own folder; without --allow-source it reads what is beside
    it, and nothing else.
    """
    from vantric.api.charts import made_of_file
    from vantric.core.charts import PanelChart
    from vantric.core.review import review_chart
    from vantric.files.chart_files import read_chart_file
    from vantric.kinds.access_policy import AccessPolicy
    from vantric.output.writers import Content, contents_of

    files, other, pictures = options.split(FileReading, RedrawSettings, PictureSettings)
    kinds = [ending(target, (*PICTURES, *HANDED)) for target in pictures.out]
    check_targets(OutputSettings(out=pictures.out), (chart_file, other.source))
    look = _look(options)
    with reading(str(chart_file)):
        found_chart_file = read_chart_file(chart_file)
        result = made_of_file(found_chart_file, AccessPolicy(chart_file.parent, files, other.source), look)
    chart = result.chart
    for note in found_chart_file.notes:
        warn(f"vantric: note: {note}; save it again to bring it up to date")
    drawings = [path for path, kind in zip(pictures.out, kinds, strict=True) if kind in PICTURES]
    contents: list[tuple[Path, bytes]] = []
    plans: list[Any] = []
    content = Content(sections=cache(lambda: (result.section(),)))
    for target, kind in zip(pictures.out, kinds, strict=True):
        if kind in PICTURES:
            picture, plan = draw_picture(chart, kind)
            contents.append((target, picture))
            plans.append(plan)
        else:
            contents += contents_of(target, kind, content, sources=[str(chart_file)], pictures=drawings)
    write_all(contents)
    open_all(pictures.out, is_wanted=pictures.open)
    click.get_current_context().meta[SENTENCE] = lambda: chart.description
    say("\n".join(filter(None, (chart.title, chart.description))))
    if not isinstance(chart, PanelChart):
        findings = review_chart(chart)
        tell_findings(findings)
        tell_wrong(findings, pictures.out)
        tell_left_out(plans)


_SCHEMA = click.Option(
    ["--schema"],
    is_flag=True,
    is_eager=True,
    expose_value=False,
    callback=_print_schema,
    help="Print the JSON Schema of chart files, and do nothing else.",
)
draw_command = partial(
    make_command,
    "draw",
    run,
    [click.Argument(["chart_file"], type=click.Path(path_type=Path), metavar="CHARTFILE")],
    (RedrawSettings, ChartSettings, WordsFile, FileReading, PictureSettings),
    more=(_SCHEMA,),
    first="source out theme size font title orientation show-numbers color word",
    examples=("draw firings.toml --out firings.png", "draw firings.toml --theme dark --size 1000x700 -o firings.svg"),
)
