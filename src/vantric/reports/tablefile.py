"""Each kind of result as a document that can be written."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from vantric.core.reviewing import Finding
from vantric.reports.documents import Document

if TYPE_CHECKING:
    from vantric.core.axes import ScalePair
    from vantric.core.counting import Comparison


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
