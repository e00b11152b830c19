"""What is said of a result: how sure and how concentrated it is, whether two series go together, what fell short."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, fields, replace
from typing import Any

from vantric.base.safe_text import escaped
from vantric.core.charts.settings import CombinationChartSettings
from vantric.core.composition import gap_series, with_gap_rows
from vantric.core.counts.gap import Gap, GapRow
from vantric.core.messages.message import Joined, Message
from vantric.core.numbers.number_format import number_text, one_line
from vantric.core.statistics import Certainty
from vantric.core.statistics.certainty import CertaintyRow
from vantric.counting.count_records import FirstLook
from vantric.kinds.charts import chart_of_series
from vantric.kinds.combine import FOR_LABELS
from vantric.kinds.frames import frame_of
from vantric.kinds.kind import Kind
from vantric.options import split_options
from vantric.options.signatures import shows
from vantric.tables.statements import certainty_object, certainty_table
from vantric.tables.table import NOTHING, Table, text_table
from vantric.tables.tally import profile_object, profile_view

_WIDE = 120  # signs of a printed result


def _stated(result: Any, *_: Any) -> dict[str, Any]:
    return {**asdict(result), "sentence": result.sentence()}


def _paragraph(result: Any) -> str:
    return f"<p>{escaped(result.sentence())}</p>"


def _certainty_frame(sure: Certainty) -> Any:
    return frame_of([field.name for field in fields(CertaintyRow)], [list(asdict(row).values()) for row in sure.rows])


def _gap_data(gap: Gap, *_: Any) -> dict[str, Any]:
    return {"names": list(gap.names), "rows": [asdict(row) for row in gap.rows], "sentence": gap.sentence()}


def _gap_tables(gap: Gap, *_: Any) -> Sequence[Table]:
    head = (Message("category"), *map(one_line, gap.names), *map(Message, ("difference", "percent", "share")))
    rows = [tuple(_shown(value) for value in asdict(row).values()) for row in gap.rows]
    return (text_table(head, rows, caption=gap.sentence()),)


def _shown(value: Any) -> str:
    if value is None:
        return NOTHING
    return number_text(value, most_decimals=4) if isinstance(value, (int, float)) else one_line(str(value))


def _gap_frame(gap: Gap) -> Any:
    return frame_of([field.name for field in fields(GapRow)], [list(asdict(row).values()) for row in gap.rows])


def _gap_chart(gap: Gap, **options: Any) -> Any:
    as_bars = {} if options.get("primary_log") else {"headroom": FOR_LABELS, "together": "overlaid"}
    if as_bars:
        options.pop("together", None)
    settings = {"orientation": "horizontal", **as_bars, **options}
    [look] = split_options(settings, CombinationChartSettings)
    labels = [row.category for row in gap.rows]
    chart = with_gap_rows(chart_of_series(labels, gap_series(gap, labels, look), look), gap, look)
    return replace(chart, description=Joined((gap.sentence(), chart.description)))


def _columns_text(look: FirstLook) -> str:
    return "\n".join(profile_view(look.source or "data in memory", look, width=_WIDE))


shows(CombinationChartSettings)(Gap.chart)

CERTAINTY = Kind(
    name="certainty",
    data=lambda sure, *_: certainty_object(sure),
    tables=lambda sure, *_: (certainty_table(sure),),
    verbs={"frame": _certainty_frame},
)
CONCENTRATION = Kind(name="concentration", data=_stated, notebook=_paragraph)
RELATION = Kind(name="relation", data=_stated, notebook=_paragraph)
GAP = Kind(name="gap", data=_gap_data, tables=_gap_tables, verbs={"frame": _gap_frame, "chart": _gap_chart})
COLUMNS = Kind(
    name="columns",
    data=lambda look, *_: profile_object(look.source, look),
    notebook=lambda look: f"<pre>{escaped(_columns_text(look))}</pre>",
    verbs={"text": lambda look: _columns_text(look)},
)
