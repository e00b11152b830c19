"""``vantric draw``."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from vantric.cli import output
from vantric.cli.sections import SectionedCommand, in_section
from vantric.cli.sourceoptions import CHART_FILE, Command, decorated
from vantric.cli.terminal import hand_over, say


def _print_schema(context: click.Context, parameter: click.Parameter, value: bool) -> None:
    if value:
        from vantric.chartfile.model import schema_text

        hand_over(schema_text())
        context.exit()


_OPTIONS = in_section(
    "What is drawn",
    click.option("--source", metavar="SOURCE", help="Draw it of this source, not of the file's own."),
    *CHART_FILE,
    click.option("--theme", metavar="NAME", help="light, dark or print, not the file's own."),
    click.option("--size", metavar="WxH", help="The picture in pixels, not the file's own."),
)
_SCHEMA = in_section(
    "What is written",
    click.option("--out", "targets", multiple=True, type=click.Path(path_type=Path), metavar="FILE",
                 help="Write a picture by its ending: .png .svg .pdf. Repeatable."),
    click.option("--schema", is_flag=True, is_eager=True, expose_value=False, callback=_print_schema,
                 help="Print the JSON Schema of chart files, and do nothing else."),
)  # fmt: skip


def _options(command: Command) -> Command:
    return decorated(command, (*_OPTIONS, *_SCHEMA), lambda values: values)


@click.command("draw", cls=SectionedCommand)
@click.argument("chart_file", type=click.Path(path_type=Path), metavar="CHARTFILE")
@_options
def command(
    chart_file: Path, source: str | None, allow_source: bool, theme: str | None, size: str | None,
    targets: tuple[Path, ...], **limits: Any,
) -> None:  # fmt: skip
    """Draw a chart that was kept as a file with --save-chart, or written by hand.

    CHARTFILE is TOML or JSON. Its sources are seen from its own folder; without --allow-source it reads what lies
    beside it, and nothing else.
    """
    from vantric.api.keeping import drawn_file
    from vantric.api.reach import Reach
    from vantric.chartfile.reading import read_chart_file
    from vantric.core.charting import PanelChart
    from vantric.core.reviewing import review_chart

    kinds = [output.kind_of(target, output.PICTURES) for target in targets]
    output.check_targets(targets, str(chart_file), inputs=[source])
    look: dict[str, Any] = {name: value for name, value in (("theme", theme), ("size", size)) if value is not None}
    with output.reading(str(chart_file)):
        chart = drawn_file(
            read_chart_file(chart_file), Reach(chart_file.parent, source, allow_source, limits), look=look
        )
    contents = [output.drawn(chart, kind) for kind in kinds]
    output.write_all(zip(targets, contents, strict=True))
    say("\n".join(filter(None, (chart.title, chart.description))))
    if not isinstance(chart, PanelChart):
        output.tell_warnings(review_chart(chart))
        if kinds:
            output.tell_left_out(chart)
