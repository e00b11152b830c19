"""The JSON Schemas of what commands print with ``--format json``: written as types, made by pydantic."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Literal, NotRequired

from pydantic import TypeAdapter
from typing_extensions import TypedDict

FOLDER = Path(__file__).parent.parent / "docs/reference/schemas"
Number = int | float
Text = str | None


class Cell(TypedDict):
    """A wrong cell of a sheet."""

    place: str
    label: str
    column: str
    says: str
    should: str


class Finding(TypedDict):
    """A remark of the review."""

    code: str
    severity: Literal["error", "warning", "note"]
    message: str
    fix: str
    where: str
    cells: NotRequired[list[Cell]]


class Missing(TypedDict):
    """What was left out for want of a label; how much of it would change the vital few, null if all would not."""

    records: Number
    frequency: Number
    could_change: NotRequired[Number | None]


class Row(TypedDict):
    """A category; the rest has neither rank nor class."""

    rank: int | None
    category: str
    frequency: Number
    count: Number
    percent: Number
    cumulative_frequency: Number
    cumulative_percent: Number
    abc: Text
    strata: NotRequired[list[Number]]
    exposure: NotRequired[Number]


class Rest(TypedDict):
    """The folded categories."""

    label: str
    holds: int
    categories: list[str]
    frequency: Number
    count: Number
    percent: Number


class Cutoff(TypedDict):
    """Where the vital few end."""

    percent: Number
    rule: Literal["reach", "within"]
    count: int
    categories: list[str]
    cumulative_percent: Number
    tied: list[str]


class Inner(TypedDict):
    """The table within a category."""

    category: str
    table: Pareto


class Pareto(TypedDict):
    """A Pareto table."""

    format: Literal["vantric/pareto"]
    version: Literal[1]
    source: Text
    where: Text
    by: Text
    count: Text
    weight: Text
    days: NotRequired[list[str]]
    within: NotRequired[str]
    missing_as_category: NotRequired[Number]
    per: NotRequired[str]
    split: NotRequired[str]
    strata: NotRequired[list[str]]
    order: str | list[str]
    input_rows: int
    records: Number
    total: Number
    missing: Missing
    rows: list[Row]
    rest: Rest | None
    cutoffs: list[Cutoff]
    cutoff: Cutoff | None
    drill: NotRequired[list[Inner]]
    strata_test: NotRequired[dict[str, Any]]
    concentration: NotRequired[dict[str, Any]]
    certainty: NotRequired[dict[str, Any]]
    findings: list[Finding]


class TallyRow(TypedDict):
    """A category of a tally, or a row of a two-way table."""

    category: str
    frequency: NotRequired[Number]
    count: NotRequired[Number]
    percent: NotRequired[Number | None]
    frequencies: NotRequired[list[Number]]
    percents: NotRequired[list[Number | None]]
    total: NotRequired[Number]


class Tally(TypedDict):
    """A tally, or a two-way table."""

    format: Literal["vantric/tally"]
    version: Literal[1]
    source: Text
    where: Text
    by: Text
    weight: NotRequired[str]
    input_rows: int
    records: Number
    total: Number
    missing: Missing
    percent_of: NotRequired[str]
    split: NotRequired[str]
    columns: NotRequired[list[str]]
    column_totals: NotRequired[list[Number]]
    rows: list[TallyRow]
    strata_test: NotRequired[dict[str, Any]]
    findings: list[Finding]


class Side(TypedDict):
    """Before, or after."""

    name: str
    source: Text
    where: Text
    records: Number
    total: Number
    missing: Missing
    exposure: Number | None


class Difference(TypedDict):
    """A category before and after; limits and p where they are known."""

    category: str
    before: Number
    after: Number
    before_percent: Number
    after_percent: Number
    before_rank: int | None
    after_rank: int | None
    change: Number
    percent_points: Number
    rank_change: int | None
    share: Number | None
    before_count: NotRequired[Number]
    after_count: NotRequired[Number]
    low: NotRequired[Number | None]
    high: NotRequired[Number | None]
    p: NotRequired[Number | None]
    p_adjusted: NotRequired[Number | None]
    beyond_chance: NotRequired[bool]


class Comparison(TypedDict):
    """Before and after."""

    format: Literal["vantric/comparison"]
    version: Literal[1]
    by: Text
    unit: str
    before: Side
    after: Side
    change: Number
    changes: NotRequired[dict[str, Any] | None]
    rows: list[Difference]
    sentence: str
    findings: list[Finding]


class Point(TypedDict):
    """A period of a category, with its control limits."""

    period: str
    count: Number
    exposure: Number | None
    value: Number | None
    center: Number | None
    lower: Number | None
    upper: Number | None
    whole: bool
    signals: list[str]


class CategoryTrend(TypedDict):
    """A category over the periods."""

    category: str
    trend: dict[str, Any] | None
    chart: dict[str, Any]
    points: list[Point]


class Trend(TypedDict):
    """What changes over the periods."""

    format: Literal["vantric/trend"]
    version: Literal[1]
    source: Text
    where: Text
    by: Text
    date: str
    period: str
    measure: str
    unit: str
    records: Number
    missing: dict[str, Number]
    periods: list[str]
    partial: list[Any]
    exposures: list[Number] | None
    categories: list[CategoryTrend]
    baseline: list[str] | None
    counted: str
    sentence: str
    findings: list[Finding]


class Series(TypedDict):
    """A series: null where a value is missing."""

    name: str
    kind: NotRequired[str]
    axis: NotRequired[Literal["primary", "secondary"]]
    unit: NotRequired[Text]
    values: list[Number | None]
    percents: NotRequired[list[Number | None]]


class Scale(TypedDict):
    """One axis."""

    lower: Number
    upper: Number
    step: Number
    kind: Literal["linear", "log"]
    ticks: list[Number]


class Combination(TypedDict):
    """Columns side by side."""

    format: Literal["vantric/combination"]
    version: Literal[1]
    source: Text
    where: Text
    x: str
    period: Text
    input_rows: int
    missing: int
    policy: NotRequired[str]
    coverage: NotRequired[list[Number]]
    primary: NotRequired[Scale]
    secondary: NotRequired[Scale | None]
    sentence: NotRequired[str]
    categories: list[str]
    series: list[Series]
    relations: NotRequired[list[str]]
    findings: list[Finding]


class Scales(TypedDict):
    """Two axes."""

    format: Literal["vantric/scales"]
    version: Literal[1]
    policy: str
    primary: Scale
    secondary: Scale
    coverage: list[Number]
    shared_ticks: bool
    findings: list[Finding]
    map: NotRequired[dict[str, Number]]


class Review(TypedDict):
    """What the review says."""

    format: Literal["vantric/review"]
    version: Literal[1]
    source: NotRequired[str]
    relations: NotRequired[list[str]]
    findings: list[Finding]


class Label(TypedDict):
    """A label and its records."""

    label: str
    records: int


class Column(TypedDict):
    """A column at a glance."""

    name: str
    kind: Literal["text", "number", "date", "truth", "empty"]
    valid: int
    missing: int
    distinct: int
    commonest: list[Label]
    countable: bool
    summable: bool
    unit: Text
    example: dict[str, Any] | None
    codes: list[Label]
    problem: Text


class Columns(TypedDict):
    """A first look at a source."""

    format: Literal["vantric/columns"]
    version: Literal[1]
    source: str
    columns: list[Column]
    first: list[list[Text]]
    remarks: list[dict[str, Any]]


KINDS: dict[str, Any] = {
    "pareto": Pareto,
    "tally": Tally,
    "compare": Comparison,
    "trend": Trend,
    "combine": Combination,
    "scales": Scales,
    "review": Review,
    "columns": Columns,
}


def schemas(*, strict: bool = False) -> dict[Path, dict[str, Any]]:
    """Return the path and the schema of each command; `strict` ones take no key that is not written here."""
    found = {}
    for name, kind in KINDS.items():
        schema = TypeAdapter(kind).json_schema()
        if strict:
            _close(schema)
        head = {"$schema": "https://json-schema.org/draft/2020-12/schema"}
        found[FOLDER / f"{name}.schema.json"] = {**head, **schema}
    return found


def _close(schema: Any) -> None:
    """Have every object refuse other keys."""
    if isinstance(schema, dict):
        if "properties" in schema:
            schema["additionalProperties"] = False
        for value in schema.values():
            _close(value)
    elif isinstance(schema, list):
        for value in schema:
            _close(value)
