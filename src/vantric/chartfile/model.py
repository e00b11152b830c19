"""The chart file as a whole: what each kind of chart has, and the JSON Schema of all."""

from __future__ import annotations

import json
from importlib.resources import files
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter

from vantric.chartfile import sections
from vantric.chartfile.sections import Section

FORMAT = "vantric/chart"


class _Chart(Section):
    format: Literal["vantric/chart"]
    version: Literal[1]


class ParetoFile(_Chart):
    """A Pareto chart."""

    kind: Literal["pareto"]
    data: sections.Data
    counting: sections.Counting = sections.Counting()
    analysis: sections.Analysis = sections.Analysis()
    chart: sections.TableLook = sections.TableLook()


class CompareFile(_Chart):
    """Before and after."""

    kind: Literal["compare"]
    data: sections.Data
    counting: sections.Counting = sections.Counting()
    sides: sections.Sides = sections.Sides()
    chart: sections.TableLook = sections.TableLook()


class TallyFile(_Chart):
    """Plain bars of a tally or a two-way table, or a strip of shares."""

    kind: Literal["tally"]
    data: sections.Data
    counting: sections.Counting = sections.Counting()
    crossing: sections.Crossing | None = None
    chart: sections.TallyLook = sections.TallyLook()


class CombineFile(_Chart):
    """Columns of a source set side by side."""

    kind: Literal["combine"]
    data: sections.Data
    combine: sections.Combining
    chart: sections.CombinationLook = sections.CombinationLook()


class SeriesFile(_Chart):
    """Series whose values stand in the file."""

    kind: Literal["series"]
    given: sections.Given
    chart: sections.CombinationLook = sections.CombinationLook()


class ScalesFile(_Chart):
    """Two empty axes."""

    kind: Literal["scales"]
    scales: sections.Scaling


ChartFile = ParetoFile | CompareFile | TallyFile | CombineFile | SeriesFile | ScalesFile
FILES: dict[str, type[_Chart]] = {
    "pareto": ParetoFile, "compare": CompareFile, "tally": TallyFile, "combine": CombineFile, "series": SeriesFile,
    "scales": ScalesFile,
}  # fmt: skip
ADAPTER: TypeAdapter[ChartFile] = TypeAdapter(Annotated[ChartFile, Field(discriminator="kind")])


def schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of chart files."""
    found = ADAPTER.json_schema()
    head = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Vantric chart file",
        "description": "A chart with its data source and every option.",
    }
    return {**head, **found}


def schema_text() -> str:
    """Return the schema as it ships beside this file: the same whatever version of pydantic is installed."""
    return files("vantric.chartfile").joinpath("chart.schema.json").read_text(encoding="utf-8")


if __name__ == "__main__":
    made = json.dumps(schema(), indent=2, ensure_ascii=False) + "\n"
    Path(__file__).with_name("chart.schema.json").write_text(made, encoding="utf-8")
