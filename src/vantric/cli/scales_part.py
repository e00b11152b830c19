"""``vantric scales``."""

from __future__ import annotations

import click

from vantric.cli.command import made
from vantric.cli.flags import Given
from vantric.cli.results import Outputs, Reviewing, run_command
from vantric.core.axes import Scaling
from vantric.core.numbers.ranges_part import read_range
from vantric.reading.settings import Opening


def run_scales(primary: str, secondary: str, given: Given) -> int:
    """Scale two value axes together: the ranges of both sides in, limits and ticks out.

    A range is written 0:650, or -40:120.
    """
    scaling, outputs, reviewing = given.split(Scaling, Outputs, Reviewing)
    ranges = read_range(primary), read_range(secondary)
    said = {"primary": ranges[0], "secondary": ranges[1], **scaling.changed()}
    return run_command("scales", None, Opening(), {"scales": said}, outputs, reviewing)


scales_command = made(
    "scales",
    run_scales,
    [click.Argument(["primary"], metavar="LOW:HIGH"), click.Argument(["secondary"], metavar="LOW:HIGH")],
    (Scaling, Outputs, Reviewing),
    first="policy meet primary-limits secondary-limits primary-log secondary-log primary-zero headroom out format",
    examples=("scales 0:650 0:100", "scales 0:160000 0:9.4 --policy proportional --meet 160000:8 --out scales.png"),
)
