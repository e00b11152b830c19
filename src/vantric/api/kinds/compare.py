"""Comparisons: before and after."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

from vantric.api.kinds.kind import Kind, Parts, local_of
from vantric.api.kinds.notes import notes_of
from vantric.api.looks import ready, shaped
from vantric.core import composing
from vantric.core.charting.options import TableLook
from vantric.core.counting import Comparison
from vantric.core.numbers.shown import one_line
from vantric.core.reviewing import review_comparison
from vantric.options.showing import shows
from vantric.reports.comparisondata import PERCENTS, changes_known, comparison_object, comparison_table
from vantric.reports.comparisonsentence import comparison_sentence
from vantric.reports.comparisonview import comparison_view
from vantric.reports.local import Local
from vantric.reports.sections import Section, View
from vantric.reports.table import Table
from vantric.sources.options import Counting, Opening, Sides
from vantric.sources.tallying.comparing import set_beside


def make(data: Any, opening: Opening, parts: Parts) -> Comparison:
    """Return the comparison of two sources, or of two parts of one."""
    sources = data if isinstance(data, (tuple, list)) else (data,)
    return set_beside(sources, parts["sides"], parts["counting"], opening)


def tables(found: Comparison, look: TableLook, local: Local) -> Sequence[Table]:
    """Return its table."""
    return (comparison_table(found),)


def data(found: Comparison, look: TableLook, findings: Any) -> dict[str, Any]:
    """Return its JSON object."""
    return comparison_object(found, findings)


def view(found: Comparison, look: TableLook, *, width: int, **_: Any) -> list[str]:
    """Return it for a terminal."""
    return comparison_view(found, width=width, local=local_of(look))


def chart(found: Comparison, look: TableLook) -> Any:
    """Return its chart, the changes that are no chance standing out."""
    changes = changes_known(found)
    beyond = None if changes is None else {row.category for row in changes.beyond}
    said = comparison_sentence(found)
    return shaped(composing.comparison_chart(found, ready(look), description=said, beyond=beyond), look)


def section(found: Comparison, look: TableLook, findings: Any, *, chart: Any = None) -> Section:
    """Return what is handed over of it."""
    drawn = cache(lambda: KIND.chart(found, look) if chart is None else chart)
    sides = list(dict.fromkeys([*notes_of(found.before), *notes_of(found.after)]))
    return Section(
        kind="compare",
        title=drawn().title,
        sentence=comparison_sentence(found),
        base=one_line(found.base()),
        views=lambda: (View("values", drawn()),),
        grids=cache(lambda: (comparison_table(found),)),
        findings=tuple(findings),
        notes=tuple(sides),
    ).in_language(Local.of(look.wording))


def _sources(found: Comparison) -> list[str]:
    return [side.origin.source for side in (found.before, found.after) if side.origin.source]


shows(TableLook)(Comparison.chart)

KIND = Kind(
    name="compare",
    options={"counting": Counting, "sides": Sides, "chart": TableLook},
    make=make,
    origin=lambda found: found.before.origin,
    review=review_comparison,
    sentence=comparison_sentence,
    tables=tables,
    data=data,
    view=view,
    chart=chart,
    section=section,
    sources=_sources,
    floats=tuple(PERCENTS),
)
