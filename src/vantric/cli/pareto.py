"""``vantric pareto``."""

from __future__ import annotations

import textwrap
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import click

from vantric.cli.flags import Given
from vantric.cli.making import SOURCE, made
from vantric.cli.results import Job, Outputs, Reviewing, carry_out, recipe_of
from vantric.cli.terminal import terminal
from vantric.cli.words import WordsFile, local_of, look_of
from vantric.core.charting.options import ParetoLook
from vantric.core.charting.wording import PLAIN_WORDING
from vantric.core.reviewing import Finding, review_pareto
from vantric.reports.tablefile import pareto_document
from vantric.sources.options import Analysis, Counting, Opening
from vantric.sources.tallying.ranking import rank

if TYPE_CHECKING:
    from vantric.core.counting import ParetoTable
    from vantric.core.inference import Certainty, Concentration


def run(source: str, given: Given) -> int:
    """Rank, cumulate and cut off the categories of a log.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database. The vital few are the
    fewest leading categories that reach the cutoff.
    """
    counting, opening, analysis, outputs, reviewing = given.split(Counting, Opening, Analysis, Outputs, Reviewing)
    if analysis.drill and counting.by:
        raise click.UsageError("--drill names the columns itself: leave --by out")
    if given.get("panels") and not analysis.split:
        raise click.UsageError("--panels needs parts: name a second column with --split")
    look = look_of(given, ParetoLook, outputs, leave_out=("intervals", "concentration", "panels"))
    wording = PLAIN_WORDING if look.language == "en" else look.wording
    known: dict[str, Certainty] = {}

    def sure(table: ParetoTable) -> Certainty | None:
        if look.intervals and not known:
            from vantric.core.inference import certainty_of

            known["certainty"] = certainty_of(table)
        return known.get("certainty")

    def concentrated(table: ParetoTable) -> Concentration | None:
        if not look.concentration:
            return None
        from vantric.core.inference import concentration_of

        return concentration_of(table)

    def view(table: ParetoTable, chart: Any, findings: list[Finding]) -> str:
        from vantric.reports.certaintydata import certainty_lines
        from vantric.reports.terminal import pareto_view

        found = sure(table)
        width = terminal()["width"]
        more = [] if found is None else ["", *certainty_lines(found, width=width)]
        dense = concentrated(table)
        more += [] if dense is None else ["", *textwrap.wrap(dense.sentence(), width)]
        return pareto_view(table, findings, **terminal(), wording=wording) + "".join(f"{line}\n" for line in more)

    return carry_out(
        Job(
            source=source, inputs=(counting.families, given.get("words_file")),
            read=lambda: rank(source, analysis, counting, opening), review=lambda table, chart: review_pareto(table),
            document=lambda table, chart, findings: pareto_document(
                table, findings, sure(table), concentrated(table)
            ), view=view,
            chart=lambda table: _chart(table, look), styled=True,
            section=lambda table, chart, findings: _section(table, look, findings, chart),
            recipe=lambda table: recipe_of("pareto", source, opening, counting=counting, analysis=analysis, chart=look),
            local=local_of(look),
        ),
        outputs, reviewing,
    )  # fmt: skip


def _chart(table: ParetoTable, look: ParetoLook) -> Any:
    from vantric.api.chartsof import chart_of_table

    return chart_of_table(table, look)


def _section(table: ParetoTable, look: ParetoLook, findings: Sequence[Finding], chart: Any) -> Any:
    from vantric.api.handing.paretosections import pareto_section

    return pareto_section(table, look, findings, chart=chart)


command = made(
    "pareto", run, [SOURCE], (Counting, Opening, Analysis, ParetoLook, WordsFile, Outputs, Reviewing),
    first="by count weight where split keep cut orientation out format",
    examples=(
        "pareto inspections.csv --by defect --count pieces --out defects.png",
        "pareto inspections.csv --by defect --merge-spellings --keep 9 --cut 60,80 --format json",
    ),
)  # fmt: skip
