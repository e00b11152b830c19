"""Reports: several results on one page."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from vantric.api.reports import Report, made_report, report_object, report_tables
from vantric.kinds.kind import Kind, Parts
from vantric.reading.settings import FileReading, Opening


def make(data: Any, opening: Opening, parts: Parts) -> Report:
    """Return the report of a report file, as it is asked for."""
    return made_report(Path(data), parts["asked"])


KIND = Kind(
    name="report",
    options={"reading": FileReading},
    make=make,
    origin=lambda report: None,
    sources=lambda report: list(report.inputs),
    review=lambda report: report.review(),
    tables=report_tables,
    data=lambda report, *_: report_object(report),
)
