"""Each kind of result as a document that can be written."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from vantric.core.counting.tally import Tally
from vantric.core.reviewing import Finding
from vantric.reports import paretodata, tallydata
from vantric.reports.cells import Cells
from vantric.reports.documents import Document
from vantric.reports.local import Local

if TYPE_CHECKING:
    from vantric.core.axes import ScalePair
    from vantric.core.counting import Comparison, Crosstab, ParetoTable
    from vantric.core.inference import Certainty, Concentration

_PERCENTS = frozenset({"percent", "cumulative_percent"})


def pareto_document(
    table: ParetoTable, findings: Iterable[Finding], sure: Certainty | None = None,
    concentrated: Concentration | None = None,
) -> Document:  # fmt: skip
    """Return a Pareto table as a document; how sure its ranking is, is in its data and rows."""

    def rows() -> tuple[Sequence[str], Sequence[Sequence[Any]]]:
        if sure is None:
            return paretodata.pareto_rows(table)
        from vantric.reports.certaintydata import with_certainty

        return with_certainty(*paretodata.pareto_rows(table), sure)

    def data() -> dict[str, Any]:
        found = paretodata.pareto_object(table, findings)
        if table.strata is not None:
            from vantric.reports.parts import parts_object, vital_of

            found |= parts_object(table.strata, vital_of(table))
        if concentrated is not None:
            found |= {"concentration": {**asdict(concentrated), "sentence": concentrated.sentence()}}
        if sure is None:
            return found
        from vantric.reports.certaintydata import certainty_object

        return {**found, "certainty": certainty_object(sure)}

    return Document(
        title=f"Pareto table of {table.origin.by}" if table.origin.by else "Pareto table", rows=rows, data=data,
        percents=_PERCENTS, markdown=lambda local: paretodata.pareto_markdown(table, local),
    )  # fmt: skip


def tally_document(found: Tally | Crosstab, findings: Iterable[Finding], of: Any = None) -> Document:
    """Return a tally or a two-way table as a document.

    Parameters
    ----------
    found
        What was counted.
    findings
        For its data.
    of
        What percents are of: see `tallydata.base_of`, and ``row``, ``column`` or ``all`` of a two-way table.
    """
    tally = found if isinstance(found, Tally) else found.tally()
    title = f"Tally of {tally.origin.by}" if tally.origin.by else "Tally"

    def rows() -> tuple[Sequence[str], Sequence[Sequence[Any]]]:
        return tallydata.tally_rows(found, of) if isinstance(found, Tally) else tallydata.crosstab_rows(found)

    def data() -> dict[str, Any]:
        if isinstance(found, Tally):
            return tallydata.tally_object(found, findings, of)
        from vantric.reports.parts import parts_object

        return tallydata.crosstab_object(found, of or "all", findings) | parts_object(found)

    def cells() -> Cells:
        head, body = (
            tallydata.tally_cells(found, of) if isinstance(found, Tally) else tallydata.crosstab_cells(found, of)
        )
        return Cells(tuple(head), tuple(body[:-1]), body[-1], frozenset({0}))

    def markdown(local: Local) -> str:
        from vantric.reports.markdown import markdown_table

        shown = cells().localized(local)
        return markdown_table(shown.head, [*shown.rows, shown.total], left=shown.left)

    return Document(
        title=title, rows=rows, data=data, cells=cells, percents=_PERCENTS, caption=tally.base(),
        notes=(tally.origin.note(),), markdown=markdown,
    )  # fmt: skip


def comparison_document(found: Comparison, findings: Iterable[Finding]) -> Document:
    """Return a comparison as a document."""
    from vantric.reports import comparisondata
    from vantric.reports.comparisonsentence import comparison_sentence

    subject = f"Comparison of {found.before.origin.by}" if found.before.origin.by else "Comparison"
    return Document(
        title=subject, rows=lambda: comparisondata.comparison_rows(found),
        data=lambda: comparisondata.comparison_object(found, findings),
        cells=lambda: comparisondata.comparison_cells(found), percents=comparisondata.PERCENTS,
        caption=comparison_sentence(found), notes=tuple(comparisondata.comparison_notes(found)),
    )  # fmt: skip


def scales_document(pair: ScalePair) -> Document:
    """Return a pair of scales as a document."""
    from vantric.reports import scalesdata

    return Document(
        title="Scales", rows=lambda: scalesdata.scales_rows(pair),
        data=lambda: scalesdata.scales_object(pair), cells=lambda: scalesdata.scales_cells(pair),
        caption=f"Scales, policy {pair.policy}", notes=tuple(scalesdata.scales_words(pair)),
    )  # fmt: skip
