"""Plain charts of a tally or a two-way table: bars of frequency or percent, and a strip of shares."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from typing import Any, Literal, TypeAlias, get_args

import numpy as np

from vantric.core.axes import align
from vantric.core.charting.chart import Chart, Together
from vantric.core.charting.look import Look
from vantric.core.charting.series import Bars, LabelWish, SeriesLabelPlace, chosen
from vantric.core.composing.combination import CombinationWish, combination_chart
from vantric.core.counting.crosstab import Base, Crosstab
from vantric.core.counting.ranking import ranked_places
from vantric.core.counting.tally import Tally, check_rankable
from vantric.core.numbers.shown import distinct_lines, one_line
from vantric.errors import ChartError

Values: TypeAlias = Literal["frequency", "percent"]
_STRIP = 0.42  # of the height of the frame


@dataclass(frozen=True, kw_only=True)
class TallyWish(Look):
    """The options of the chart of a tally or a two-way table.

    Attributes
    ----------
    values
        Whether bars show the ``"frequency"`` or the ``"percent"``.
    percent_of
        Of a two-way table, what percents are of: ``"row"``, ``"column"`` or ``"all"``, of the table as it is drawn.
    together
        Of a two-way table: ``"grouped"``, ``"stacked"`` or ``"percent"`` (stacked to 100 %).
    transpose
        Whether rows and columns of a two-way table are exchanged.
    strip
        Whether the shares are one bar to 100 %, every part named.
    labels, label_place
        See `Bars`.
    gap, totals
        See `CombinationWish`.
    """

    values: Values = "frequency"
    percent_of: Base = "row"
    together: Together = "grouped"
    transpose: bool = False
    strip: bool = False
    labels: LabelWish = "value"
    label_place: SeriesLabelPlace = "auto"
    gap: float = 0.0
    totals: bool = False

    def __post_init__(self) -> None:
        """Refuse what is none."""
        chosen(self.values, get_args(Values), "kind of value")
        chosen(self.percent_of, get_args(Base), "base of percents")
        chosen(self.together, get_args(Together), "way to set bars together")

    def combination(self, **texts: Any) -> CombinationWish:
        """Return the options as those of a combination chart; texts stand where the user says nothing else."""
        look = {field.name: getattr(self, field.name) for field in fields(Look)}
        said = {name: text for name, text in texts.items() if look.get(name) is None}
        return CombinationWish(**{**look, **said}, gap=self.gap)


_PLAIN = TallyWish()


def tally_chart(tally: Tally, wish: TallyWish = _PLAIN, *, description: str = "") -> Chart:
    """Return the bars of a tally, the most frequent first; or its shares as one strip.

    Raises
    ------
    RankError
        If there is nothing to show.
    ChartError
        For an option that is for two-way tables.
    """
    check_rankable(tally)
    if wish.together != "grouped" or wish.transpose:
        raise ChartError("grouping, stacking and transposing are for two-way tables: give a second column as split")
    places = ranked_places(tally.frequency, tally.categories)
    names = distinct_lines([tally.categories[at] for at in places])
    shares = np.array(tally.frequency.plain_percents(tally.frequency.total_units))
    if wish.strip:
        return _strip(tally, names, [float(shares[at]) for at in places], wish, description)
    percent = wish.values == "percent"
    values = shares if percent else tally.frequency.floats()
    say = wish.wording.say
    name = say("percent") if percent else say("rate") if tally.origin.per else say("frequency")
    bars = Bars(name, tuple(float(values[at]) for at in places), wish.labels, unit="%" if percent else "",
                label_place=wish.label_place)  # fmt: skip
    subject = _subject(tally)
    title = say("frequency chart", subject=subject) if subject else say("frequency chart without subject")
    made = wish.combination(title=title, category_title=subject[:1].upper() + subject[1:],
                            primary_title=_value_title(tally, wish, percent=percent))  # fmt: skip
    chart = combination_chart(
        names, [bars], made, base=wish.wording.base(tally), source=wish.wording.note(tally.origin),
        description=description,
    )  # fmt: skip
    return _without_legend(chart)


def crosstab_chart(table: Crosstab, wish: TallyWish = _PLAIN, *, description: str = "") -> Chart:
    """Return the bars of a two-way table: a series a column, grouped, stacked or stacked to 100 %.

    Raises
    ------
    RankError
        If there is nothing to show.
    ChartError
        For a strip: it shows one tally.
    """
    if wish.strip:
        raise ChartError("a strip shows the shares of one tally: leave the second column out, or stack bars to 100 %")
    found = table.transposed() if wish.transpose else table
    tally, say = found.tally(), wish.wording.say
    check_rankable(tally)
    percent = wish.values == "percent" and wish.together != "percent"
    base = wish.percent_of
    cells = found.percents(base).tolist() if percent else found.frequencies()
    series = [
        Bars(name, tuple(row[at] for row in cells), wish.labels, unit="%" if percent else "", axis="primary",
             label_place=wish.label_place)
        for at, name in enumerate(distinct_lines(found.columns))
    ]  # fmt: skip
    subject, split = _subject(tally), one_line(found.split)
    title = say("by", subject=subject[:1].upper() + subject[1:], split=split)
    own = {"row": subject, "column": split}
    axis = say("percent of each", name=own[base]) if percent and base != "all" else None
    if wish.together == "percent":
        axis = say("percent of each", name=subject)
    made = wish.combination(title=title, category_title=subject[:1].upper() + subject[1:],
                            primary_title=axis or _value_title(tally, wish, percent=percent))  # fmt: skip
    made = replace(made, together=wish.together if len(series) > 1 else "grouped", totals=wish.totals)
    return combination_chart(
        distinct_lines(found.categories), series, made, base=wish.wording.base(tally),
        source=wish.wording.note(tally.origin), description=description,
    )  # fmt: skip


def _subject(tally: Tally) -> str:
    return one_line(tally.origin.by) if tally.origin.by else ""


def _unit(tally: Tally, wish: TallyWish) -> str:
    unit = one_line(tally.unit)
    return wish.wording.say("records") if unit == "records" else unit


def _value_title(tally: Tally, wish: TallyWish, *, percent: bool) -> str:
    """Return what the bars show: a percent axis says of what."""
    say, unit = wish.wording.say, _unit(tally, wish)
    if percent:
        return say("percent of", total=wish.wording.style.amount(tally.total), unit=unit)
    return say("with unit", name=say("rate") if tally.origin.per else say("frequency"), unit=unit)


def _without_legend(chart: Chart) -> Chart:
    """Leave out the legend of a single series, which title and axis name already."""
    return replace(chart, legend="none") if chart.legend == "above" else chart


def _strip(tally: Tally, names: Sequence[str], shares: Sequence[float], wish: TallyWish, description: str) -> Chart:
    """Return one horizontal bar to 100 %, a part a category, each with its name and percent."""
    say, style = wish.wording.say, wish.wording.style
    wish.check_colors(list(names))
    parts = tuple(
        Bars(
            name, (share,), (f"{name} {style.percents(share)}",) if wish.labels != "none" else (), axis="primary",
            unit="%", width=_STRIP, role=_part_role(at, wish.colors.get(name, "")),
        )
        for at, (name, share) in enumerate(zip(names, shares, strict=True))
        if share > 0
    )  # fmt: skip
    subject = _subject(tally)
    texts = {
        "title": say("shares", subject=subject) if subject else say("shares without subject"),
        "subtitle": wish.wording.base(tally),
        "category_title": "",
        "primary_title": _value_title(tally, wish, percent=True),
        "secondary_title": "",
    }
    own = {name: text if getattr(wish, name) is None else getattr(wish, name) for name, text in texts.items()}
    note = wish.note if isinstance(wish.note, str) else wish.wording.note(tally.origin) if wish.note else ""
    scales = align((0, 100), (0, 100), policy="common", limits=((0, 100), (0, 100)))
    furniture = {**wish.furniture(), "orientation": "horizontal", "legend": "none"}
    return Chart(
        categories=(subject or say("percent"),), series=parts, scales=scales, secondary_axis=False,
        together="stacked", category_labels=False, primary_unit=style.percent, description=description, note=note,
        **{**furniture, **own},
    )  # fmt: skip


def _part_role(at: int, color: str) -> str:
    role = f"series-{at % 7 + 1}"
    return f"{role}:{color}" if color else role
