"""What a report file holds: sources by name, what its sections share, and the sections."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from importlib.resources import files
from typing import Any

from vantric.files.models import SHAPES, VERSION, ChartFile, Data
from vantric.options import Options, option

REPORT_FORMAT = "vantric/report"
REPORT_VERSION = VERSION
TEXT = "text"
#: The kinds of sections: every kind of chart, a two-way table by its own name, and text.
KINDS: dict[str, str] = {TEXT: TEXT, **{kind: kind for kind in SHAPES}, "crosstab": "tally"}


class Heading(Options):
    """What is above the sections."""

    title: str = option("Report", "The title of the page.")
    text: str = option("", "Markdown below the title.")
    previous: str | Mapping[str, str] | None = option(
        None,
        "What sections are compared with: the last report as .json, a file of data, the name of a source, or for "
        "each source the name of the one that it is compared with.",
    )


class SectionHead(Options):
    """What every section has beside the tables of its kind."""

    title: str | None = option(None, "In place of the chart's own title.")
    text: str = option("", "Markdown above the chart.")
    data: str | tuple[str, ...] | None = option(
        None, "The name of a source; two for a comparison. The only source if not given."
    )
    where: str | None = option(None, "A condition on top of those of the source.")


@dataclass(frozen=True)
class ReportSection:
    """One section, checked.

    Attributes
    ----------
    place
        What messages call it: ``"section 2 (pareto)"``.
    kind
        As it is written.
    head
        What every section has.
    file
        What a chart file of the section would say, with its sources left open; None of text.
    sources
        The names of its sources.
    """

    place: str
    kind: str
    head: SectionHead
    file: ChartFile | None = None
    sources: tuple[str, ...] = ()


@dataclass(frozen=True)
class ReportFile:
    """What a report file says, checked.

    Attributes
    ----------
    shown
        What messages call it.
    heading
    sources
        Name -> how its source is opened, with the source itself.
    sections
    """

    shown: str
    heading: Heading
    sources: Mapping[str, Data] = field(default_factory=dict)
    sections: tuple[ReportSection, ...] = ()

    def charts(self) -> Iterator[ReportSection]:
        """Yield the sections that are not text."""
        return (one for one in self.sections if one.file is not None)


def shape_of(kind: str) -> dict[str, Any]:
    """Return table -> options of a kind of section, without its data."""
    if kind == TEXT:
        return {}
    return {name: options for name, options in SHAPES[KINDS[kind]].sections.items() if name != "data"}


def report_schema_text() -> str:
    """Return the JSON Schema of report files as it ships beside this file."""
    return files("vantric.files").joinpath("report.schema.json").read_text(encoding="utf-8")
