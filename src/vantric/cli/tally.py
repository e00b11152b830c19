"""``vantric tally``."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

import click

from vantric.cli.flags import Given
from vantric.cli.making import SOURCE, made
from vantric.cli.results import Job, Outputs, Reviewing, carry_out, lines, recipe_of
from vantric.cli.terminal import terminal
from vantric.cli.words import WordsFile, local_of, look_of
from vantric.core.charting.options import TallyLook
from vantric.core.counting.arranging import arranged, arranged_rows
from vantric.core.counting.tally import Tally, check_rankable
from vantric.core.reviewing import Finding, review_strata, review_tally
from vantric.options import Options, option
from vantric.reports.local import Local
from vantric.reports.tablefile import tally_document
from vantric.sources import crossed, gather
from vantric.sources.options import Counting, Crossing, Opening

if TYPE_CHECKING:
    from vantric.core.counting.crosstab import Crosstab

Of: TypeAlias = Literal["row", "column", "all", "records", "mentions"]
_TWO_WAY = ("row", "column", "all")


class Percents(Options, section="Parts"):
    """What percents are of."""

    percent_of: Of | None = option(None, "What percents are of: row, column or all of a two-way table; records or "
                                   "mentions, where cells hold several labels.")  # fmt: skip


def run(source: str, given: Given) -> int:
    """Count records by category, or by two columns.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    counting, opening, crossing, percents, outputs, reviewing = given.split(
        Counting, Opening, Crossing, Percents, Outputs, Reviewing
    )
    of, transpose = percents.percent_of, bool(given.get("transpose"))
    two_way = crossing.split is not None or bool(crossing.split_columns)
    _check(of, two_way=two_way, transpose=transpose)
    plain = Given({name: value for name, value in given.items() if name != "percent_of"})
    follows = {"values": "percent", "percent_of": of} if of in _TWO_WAY else {}  # the chart shows what is asked for
    look = look_of(plain, TallyLook, outputs, leave_out=("transpose", "order", "keep"), **follows)
    order, keep = given.get("order"), given.get("keep")
    counting = replace(counting, in_order=order == "given")

    def read() -> Tally | Crosstab:
        found: Tally | Crosstab = (
            crossed(source, counting, opening, crossing) if two_way else gather(source, counting, opening)
        )
        if not _totals(found).categories:
            check_rankable(_totals(found))
        return found

    def turned(found: Any) -> Any:
        if isinstance(found, Tally):
            return arranged(found, order, keep)
        return arranged_rows(found.transposed() if transpose else found, order, keep)

    return carry_out(
        Job(
            source=source, inputs=(counting.families, given.get("words_file")), read=read,
            review=lambda found, chart: _reviewed(turned(found)),
            document=lambda found, chart, findings: tally_document(turned(found), findings, of),
            view=lambda found, chart, findings: lines(_view(turned(found), of, local_of(look)), findings),
            chart=lambda found: _chart(found, look),
            section=lambda found, chart, findings: _section(found, look, findings, of, chart),
            recipe=lambda found: recipe_of("tally", source, opening, counting=counting, crossing=crossing, chart=look),
            local=local_of(look),
        ),
        outputs, reviewing,
    )  # fmt: skip


def _check(of: str | None, *, two_way: bool, transpose: bool) -> None:
    if not two_way and (of in _TWO_WAY or transpose):
        raise click.UsageError("this base and --transpose are for two-way tables: name a second column with --split")
    if two_way and of and of not in _TWO_WAY:
        raise click.UsageError(f"percents of a two-way table are of row, column or all, not of {of}")


def _totals(found: Tally | Crosstab) -> Tally:
    return found if isinstance(found, Tally) else found.tally()


def _reviewed(found: Tally | Crosstab) -> list[Finding]:
    more = [] if isinstance(found, Tally) else review_strata(found)
    return [*review_tally(_totals(found)), *more]


def _chart(found: Tally | Crosstab, look: TallyLook) -> Any:
    from vantric.api.chartsof import chart_of_tally

    return chart_of_tally(found, look)


def _section(found: Tally | Crosstab, look: TallyLook, findings: Sequence[Finding], of: Any, chart: Any) -> Any:
    from vantric.api.handing.sections import tally_section

    return tally_section(found, look, findings, of, chart=chart)


def _view(found: Tally | Crosstab, of: Any, local: Local) -> list[str]:
    from vantric.reports.tallyview import crosstab_view, tally_view

    width = terminal()["width"]
    if isinstance(found, Tally):
        return tally_view(found, of, width=width, local=local)
    return crosstab_view(found, of, width=width, local=local)


command = made(
    "tally", run, [SOURCE], (Counting, Opening, Crossing, Percents, TallyLook, WordsFile, Outputs, Reviewing),
    first="by count weight where split percent-of merge-spellings missing out format",
    examples=(
        "tally inspections.csv --by defect --count pieces",
        "tally inspections.csv --by product --split kiln --percent-of row --out products.png",
    ),
)  # fmt: skip
