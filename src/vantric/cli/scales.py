"""``vantric scales``."""

from __future__ import annotations

from typing import Any

import click

from vantric.cli.flags import Given
from vantric.cli.making import made
from vantric.cli.results import Job, Outputs, Reviewing, carry_out, lines
from vantric.core.axes import Scaling
from vantric.core.numbers.ranges import read_range
from vantric.core.reviewing import review_scales
from vantric.reports.tablefile import scales_document


def run(primary: str, secondary: str, given: Given) -> int:
    """Scale two value axes together: the ranges of both sides in, limits and ticks out.

    A range is written 0:650, or -40:120.
    """
    scaling, outputs, reviewing = given.split(Scaling, Outputs, Reviewing)
    ranges = read_range(primary), read_range(secondary)
    said = {"primary": ranges[0], "secondary": ranges[1], **scaling.changed()}
    return carry_out(
        Job(
            source="", read=lambda: _aligned(ranges, scaling), review=lambda pair, chart: review_scales(pair),
            document=lambda pair, chart, findings: scales_document(pair),
            view=lambda pair, chart, findings: _view(pair, findings), chart=_chart,
            recipe=lambda pair: _recipe(said), section=lambda pair, chart, findings: _section(pair, findings, chart),
        ),
        outputs, reviewing,
    )  # fmt: skip


def _aligned(ranges: tuple[tuple[float, float], tuple[float, float]], scaling: Scaling) -> Any:
    from vantric.core.axes import align

    return align(*ranges, scaling)


def _chart(pair: Any) -> Any:
    from vantric.api.chartsof import chart_of_scales

    return chart_of_scales(pair)


def _recipe(said: dict[str, Any]) -> Any:
    from vantric.api.recipe import Recipe

    return Recipe("scales", parts={"scales": said})


def _section(pair: Any, findings: Any, chart: Any) -> Any:
    from vantric.api.handing.sections import scales_section

    return scales_section(pair, findings, chart=chart)


def _view(pair: Any, findings: Any) -> str:
    from vantric.reports.scalesdata import scales_lines

    return lines(scales_lines(pair), findings)


command = made(
    "scales", run, [click.Argument(["primary"], metavar="LOW:HIGH"), click.Argument(["secondary"], metavar="LOW:HIGH")],
    (Scaling, Outputs, Reviewing),
    first="policy meet primary-limits secondary-limits primary-log secondary-log primary-zero headroom out format",
    examples=("scales 0:650 0:100", "scales 0:160000 0:9.4 --policy proportional --meet 160000:8 --out scales.png"),
)  # fmt: skip
