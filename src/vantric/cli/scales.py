"""``vantric scales``."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from vantric.cli import output
from vantric.cli.sections import SectionedCommand, in_section
from vantric.cli.terminal import hand_over, say
from vantric.cli.values import span
from vantric.core.axes import ScalePair, align
from vantric.core.reviewing import review_scales
from vantric.errors import ScaleError
from vantric.report import scalesdata
from vantric.report.safecells import csv_text

_WISHES = in_section(
    "How the sides agree",
    click.option(
        "--policy", default="grid", show_default=True, metavar="NAME", help="grid, proportional, common or separate."
    ),
    click.option("--log", "logs", multiple=True, metavar="SIDE", help="A log side: primary, secondary. Repeatable."),
    click.option("--meet", metavar="P:S", help="The values that are one height, for proportional."),
    click.option("--primary-limits", metavar="LOW:HIGH", help="Fix limits; leave an end empty to free it: 0: or :100."),
    click.option("--secondary-limits", metavar="LOW:HIGH", help="So too the secondary side's."),
    click.option("--without-zero", multiple=True, metavar="SIDE", help="A side that need not show zero. Repeatable."),
    click.option("--headroom", type=float, default=0.05, show_default=True, metavar="SHARE", help="Left free."),
    click.option("--clip", is_flag=True, help="Let fixed limits cut data off."),
)


def _wishes(command: Any) -> Any:
    for option in reversed(_WISHES):
        command = option(command)
    return command


@click.command("scales", cls=SectionedCommand, context_settings={"ignore_unknown_options": True})
@click.argument("primary", metavar="LOW:HIGH")
@click.argument("secondary", metavar="LOW:HIGH")
@_wishes
@output.scale_outputs
@output.keeps_chart
def command(
    primary: str, secondary: str, policy: str, logs: tuple[str, ...], meet: str | None, primary_limits: str | None,
    secondary_limits: str | None, without_zero: tuple[str, ...], headroom: float, clip: bool, targets: tuple[Path, ...],
    form: str, chart_file: Path | None,
) -> None:  # fmt: skip
    """Scale two value axes together: the ranges of both sides in, limits and ticks out.

    A range is written 0:650, or -40:120.
    """
    kinds = [output.kind_of(target, (*output.PICTURES, "csv", "json")) for target in targets]
    output.check_targets(targets, "", chart_file)
    pair = align(
        _range(primary), _range(secondary), policy=policy, include_zero=_sides(without_zero, True, False),
        kind=_sides(logs, "linear", "log"), limits=(_limits(primary_limits), _limits(secondary_limits)),
        meet=None if meet is None else _range(meet), headroom=headroom, clip=clip,
    )  # fmt: skip
    findings = review_scales(pair)
    contents = [_content(pair, kind) for kind in kinds]
    said = {
        "primary": list(_range(primary)), "secondary": list(_range(secondary)), "policy": policy, "log": logs,
        "without_zero": without_zero, "primary_limits": _kept(primary_limits), "meet": meet and list(_range(meet)),
        "secondary_limits": _kept(secondary_limits), "headroom": headroom, "clip": clip,
    }  # fmt: skip
    kept = output.kept_chart(chart_file, "scales", lambda: {"scales": said})
    output.write_all([*zip(targets, contents, strict=True), *kept])
    output.tell_warnings(findings)
    if form == "text":
        say("\n".join(scalesdata.scales_lines(pair)))
    else:
        hand_over(_text(pair, form))


def _kept(limits: str | None) -> list[Any] | None:
    return None if limits is None else ["free" if end is None else end for end in _limits(limits) or ()]


def _content(pair: ScalePair, kind: str) -> bytes:
    if kind not in output.PICTURES:
        return _text(pair, kind).encode()
    from vantric.core.composing import scales_chart

    return output.drawn(scales_chart(pair, description=" ".join(scalesdata.scales_lines(pair)[2:])), kind)


def _text(pair: ScalePair, form: str) -> str:
    return scalesdata.scales_json(pair) if form == "json" else csv_text(*scalesdata.scales_rows(pair))


def _range(text: str) -> tuple[float, float]:
    low, high = span(text)
    assert low is not None
    assert high is not None
    return low, high


def _limits(text: str | None) -> tuple[float | None, float | None] | None:
    return None if text is None else span(text, open_ends=True)


def _sides(named: tuple[str, ...], plain: Any, other: Any) -> tuple[Any, Any]:
    for name in named:
        if name not in ("primary", "secondary"):
            raise ScaleError(f"a side is primary or secondary, not '{name}'")
    return (other if "primary" in named else plain), (other if "secondary" in named else plain)
