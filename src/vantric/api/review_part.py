"""Reviews: what is wrong or risky in a source, a sheet, a workbook or a chart file."""

from __future__ import annotations

from typing import Any

from vantric.api.reviews import Reviewed
from vantric.base.masking_part import masked
from vantric.kinds.kind import Kind
from vantric.output.findings import findings_lines, findings_markdown, findings_tables, headline, wrapped


def data(found: Reviewed, look: Any, findings: Any, *, source: str = "") -> dict[str, Any]:
    """Return its JSON object."""
    return {
        "format": "vantric/review",
        "version": 1,
        "source": masked(source),
        "relations": list(found.relations),
        "findings": [finding.to_dict() for finding in findings],
    }


def view(found: Reviewed, look: Any, *, findings: Any, width: int) -> list[str]:
    """Return it for a terminal."""
    lines = list(findings_lines(findings, width))
    return [headline(findings), *lines, *([""] if lines else []), *wrapped(found.relations, width)]


def markdown(found: Reviewed, findings: Any) -> str:
    """Return it as Markdown."""
    return findings_markdown(findings, found.relations)


KIND = Kind(
    name="review",
    origin=lambda found: None,
    sources=lambda found: [],
    review=lambda found: found.findings,
    sentence=lambda found: headline(found.findings),
    tables=lambda found, *_: findings_tables(found.findings),
    data=data,
    view=view,
    verbs={"markdown": markdown},
)
