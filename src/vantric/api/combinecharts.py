"""``vantric.combine``: columns of a source as bars, lines and other series."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from pathlib import Path
from typing import Any, Unpack

from vantric.api.chart import Chart
from vantric.api.combinationoptions import CombinationOptions, read_combination
from vantric.api.combining import Combination, combined_chart
from vantric.api.options import OpeningOptions
from vantric.options import read_options
from vantric.sources import Opening

Wanted = str | Sequence[str]
_OPENING = tuple(OpeningOptions.__annotations__)


class _Everything(CombinationOptions, OpeningOptions, total=False):
    """How a source is opened, and how the chart is made and looks."""


def combine(
    data: Any, x: str, *, bars: Wanted = (), line: Wanted = (), area: Wanted = (), points: Wanted = (),
    stems: Wanted = (), steps: Wanted = (), secondary: Wanted = (), order: str = "given",
    units: Mapping[str, str] | None = None, labels: str | Mapping[str, str] | None = None,
    series: Mapping[str, Mapping[str, Any]] | None = None, **options: Unpack[_Everything],
) -> Chart:  # fmt: skip
    """Set columns of a source side by side as bars, lines and other series on one category axis and two value axes.

    Parameters
    ----------
    data
        As for `vantric.tally`; data that have columns.
    x
        The column of categories, or of dates (with `period`).
    bars, line, area, points, stems, steps : str or sequence of str
        What is drawn of that kind: a column, or ``"sum:col"``, ``"mean:col"``, ``"median:col"``, ``"min:col"``,
        ``"max:col"``, ``"count"``, ``"ratio:a/b"`` (a ratio of sums) or ``"percent:a/b"``; with ``"=NAME"`` behind it
        to rename it. Where several records share a category, a bare column is added up, and told. Where nothing is
        known there is a gap, never a zero.
    secondary : str or sequence of str
        Series on the secondary axis, by name. If none is named, units and reach decide: see `vantric.suggest_axes`.
    order : str
        Of text categories: ``"given"``, ``"label"``, or ``"value"``, descending by the first series.
    units : mapping of str to str
        Series -> its unit; ``"percent:a/b"`` is in ``"%"``.
    labels : str or mapping of str to str
        What is written at the marks, of all series or by name: ``"none"``, ``"auto"``, ``"value"``, ``"percent of
        series"``, ``"percent of category"`` or ``"percent of total"``.
    series : mapping of str to mapping
        Series -> its other options: see `vantric.Bars`.
    **options
        How the chart is made and looks, as for `vantric.Chart`; `where`, `sheet`, `table` and `query` as for
        `vantric.tally`.

    Returns
    -------
    Chart

    Raises
    ------
    VantricError
        If the data cannot be read, or the parts do not fit together: the message says which.
    """
    given = read_options(options, _Everything)
    opening = Opening(**{name: given.pop(name) for name in _OPENING if name in given})
    drawn = {"bars": bars, "area": area, "stems": stems, "steps": steps, "line": line, "points": points}
    wanted = tuple((kind, text) for kind, texts in drawn.items() for text in _listed(texts))
    said: dict[str, dict[str, Any]] = {name: dict(own) for name, own in (series or {}).items()}
    for name, unit in (units or {}).items():
        said.setdefault(name, {})["unit"] = unit
    for name, kind in labels.items() if isinstance(labels, Mapping) else ():
        said.setdefault(name, {})["labels"] = kind
    for _, text in wanted if isinstance(labels, str) else ():
        said[text] = {"labels": labels, **said.get(text, {})}
    combination = Combination(x, wanted, tuple(_listed(secondary)), given.get("period"), order, said)
    wish = read_combination({name: value for name, value in given.items() if name != "period"})
    measures, made = combination.work_out(data, opening)
    chart = Chart.of(combined_chart(measures, made, wish))
    if not isinstance(data, str | Path):
        return chart
    look = {name: value for name, value in given.items() if name != "period"}
    return chart.kept_by(partial(_keep, str(data), opening, combination, [one.name for one in made], look))


def _keep(
    data: str, opening: Opening, combination: Combination, names: list[str], look: dict[str, Any], target: Path
) -> bytes:
    from vantric.api.keeping import kept_combination

    return kept_combination(data, opening, combination, names, look, target)


def _listed(texts: Wanted) -> Sequence[str]:
    return (texts,) if isinstance(texts, str) else texts
