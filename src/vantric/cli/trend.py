"""``vantric trend``."""

from __future__ import annotations

from typing import Any

import click

from vantric.cli.flags import Given
from vantric.cli.making import SOURCE, made
from vantric.cli.results import Job, Outputs, Reviewing, carry_out, lines, recipe_of
from vantric.cli.terminal import terminal
from vantric.cli.words import WordsFile, local_of, look_of
from vantric.core.charting.options import TrendLook
from vantric.reports.local import Local
from vantric.sources.options import Counting, Opening, Trending


def run(source: str, given: Given) -> int:
    """Say which categories rise or fall over calendar periods, and draw them with limits of chance.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The column of dates is
    named with --date.
    """
    from vantric.core.reviewing import review_trends
    from vantric.reports.trenddata import trend_document
    from vantric.sources.tallying.trending import trends_in

    counting, opening, wanted, outputs, reviewing = given.split(Counting, Opening, Trending, Outputs, Reviewing)
    if counting.date is None:
        raise click.UsageError("a trend is over a column of dates: name it with --date")
    look = look_of(given, TrendLook, outputs)
    return carry_out(
        Job(
            source=source, inputs=(counting.families, given.get("words_file")),
            read=lambda: trends_in(source, wanted, counting, opening),
            review=lambda found, chart: review_trends(found),
            document=lambda found, chart, findings: trend_document(found, findings),
            view=lambda found, chart, findings: lines(_view(found, local_of(look)), findings),
            chart=lambda found: _chart(found, look),
            section=lambda found, chart, findings: _section(found, look, findings, chart),
            recipe=lambda found: recipe_of("trend", source, opening, counting=counting, trend=wanted, chart=look),
            local=local_of(look),
        ),
        outputs, reviewing,
    )  # fmt: skip


def _chart(found: Any, look: TrendLook) -> Any:
    from vantric.api.chartsof import chart_of_trends

    return chart_of_trends(found, look)


def _section(found: Any, look: TrendLook, findings: Any, chart: Any) -> Any:
    from vantric.api.handing.sections import trend_section

    return trend_section(found, look, findings, chart=chart)


def _view(found: Any, local: Local) -> list[str]:
    from vantric.reports.trenddata import trend_view

    return trend_view(found, width=terminal()["width"], local=local)


command = made(
    "trend", run, [SOURCE], (Counting, Opening, Trending, TrendLook, WordsFile, Outputs, Reviewing),
    first="by date period category per per-units mark where out format",
    examples=(
        "trend inspections.csv --by defect --date date --merge-spellings --out trend.png",
        "trend inspections.csv --by defect --date date --category Pinhole --per pieces --per-units 100",
    ),
)  # fmt: skip
