"""``vantric.combine``: columns of a source as bars, lines and other series."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, Unpack, cast

from vantric.core.charts.series import SeriesLabels
from vantric.core.charts.settings import CombinationLook
from vantric.kinds import kind_named
from vantric.kinds.combine import Combination, Said
from vantric.kinds.recipe import Recipe
from vantric.options import split_options
from vantric.options.signatures import shows
from vantric.reading.settings import Categories, Opening

if TYPE_CHECKING:
    from vantric.api.keywords import CombineOptions
    from vantric.core.charts import Chart

Wanted = str | Sequence[str]


@shows(Categories, CombinationLook, Opening)
def combine(
    data: Any,
    x: str,
    *,
    bars: Wanted = (),
    line: Wanted = (),
    area: Wanted = (),
    points: Wanted = (),
    stems: Wanted = (),
    steps: Wanted = (),
    secondary: Wanted = (),
    units: Mapping[str, str] | None = None,
    labels: SeriesLabels | Mapping[str, SeriesLabels] | None = None,
    series: Mapping[str, Mapping[str, Any]] | None = None,
    **options: Unpack[CombineOptions],
) -> Chart:
    """Set columns of a source side by side as bars, lines and other series on one category axis and two value axes.

    Parameters
    ----------
    data
        As for `vantric.tally`; data that have columns.
    x
        The column of categories, or of dates (with `period`).
    bars, line, area, points, stems, steps : str or sequence of str
        What is drawn of that kind: a column, or ``"sum:col"``, ``"mean:col"``, ``"median:col"``, ``"min:col"``,
        ``"max:col"``, ``"count"``, ``"ratio:a/b"`` (a ratio of sums) or ``"percent:a/b"``; with ``"=NAME"`` after it
        to rename it. Where several records share a category, a bare column is added up, with a note. Where nothing is
        known there is a gap, never a zero.
    secondary : str or sequence of str
        Series on the secondary axis, by name. If none is named, units and reach decide: see `vantric.suggest_axes`.
    units : mapping of str to str
        Series -> its unit; ``"percent:a/b"`` is in ``"%"``.
    labels : str or mapping of str to str
        What is written at the marks, of all series or by name: see `vantric.Bars`.
    series : mapping of str to mapping
        Series -> its other options: see `vantric.Bars` and `vantric.Line`.

    Returns
    -------
    Chart

    Raises
    ------
    VantricError
        If the data cannot be read, or the parts do not fit together: the message says which.
    """
    axis, look, opening = split_options({**options, "x": x}, Categories, CombinationLook, Opening)
    drawn = {"bars": bars, "area": area, "stems": stems, "steps": steps, "line": line, "points": points}
    wanted = tuple((kind, text) for kind, texts in drawn.items() for text in listed(texts))
    said: dict[str, Said] = {name: dict(own) for name, own in (series or {}).items()}
    for name, unit in (units or {}).items():
        said.setdefault(name, {})["unit"] = unit
    for name, kind in labels.items() if isinstance(labels, Mapping) else ():
        said.setdefault(name, {})["labels"] = kind
    for _, text in wanted if isinstance(labels, str) else ():
        said[text] = {"labels": labels, **said.get(text, {})}
    combination = Combination(axis, wanted, listed(secondary), said)
    look = combination.shown(look, options)
    columns = kind_named("combine")
    made = columns.make(data, opening, {"combination": combination, "chart": look})
    recipe = Recipe.of("combine", data, opening, {"combine": made.section, "chart": look})
    chart: Any = columns.drawn_chart(made, look, recipe)
    return cast("Chart", chart)


def listed(one: Wanted) -> tuple[str, ...]:
    """Return one name, or several, as several."""
    return (one,) if isinstance(one, str) else tuple(one)
