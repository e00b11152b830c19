"""From series to a combination chart: which axis, which scales, which titles; and two empty axes."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence, Set
from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np

from vantric.core.axes import Scale, ScalePair
from vantric.core.charts.bar_places import Arrangement, bar_places
from vantric.core.charts.chart import Chart
from vantric.core.charts.references import worked_out
from vantric.core.charts.series import Area, Axis, Bars, Series
from vantric.core.charts.settings import Base, CombinationChartSettings
from vantric.core.composition.categories import read_categories
from vantric.core.composition.headlines import combination_headline
from vantric.core.composition.series_labels import stack_totals, with_labels
from vantric.core.composition.value_scales import AxisChoice, choose_sides, scales_of
from vantric.core.messages.message import List, Message, Percent
from vantric.core.numbers.number_format import NumberStyle, headed, one_line, readable, with_unit
from vantric.errors import ChartError

if TYPE_CHECKING:
    from vantric.core.numbers.amounts import Floats


def scales_chart(pair: ScalePair, *, description: str = "") -> Chart:
    """Return the chart of a pair of scales without anything between them."""
    return Chart(
        categories=("",),
        series=(),
        scales=pair,
        title=Message("two axes", policy=pair.policy),
        subtitle=Message("coverage", coverage=List(tuple(Percent(100 * share, decimals=0) for share in pair.coverage))),
        primary_title=Message("primary"),
        secondary_title=Message("secondary"),
        legend="none",
        category_labels=False,
        description=description,
    )


def in_percent(series: Sequence[Series], how: Arrangement, of: Base | None) -> set[str]:
    """Return the names of the series that are drawn in percent: those of one stack, or all bars of one unit."""
    bars = [item for item in series if isinstance(item, Bars)]
    if of is not None:
        unit = bars[0].unit if bars else ""
        return {bar.name for bar in bars if bar.unit == unit}
    stacked_bars = [bar for bar in bars if how.mode(bar) == "percent"]
    heaps = [_stack(stacked_bar) for stacked_bar in stacked_bars]
    return {stacked_bar.name for stacked_bar, heap in zip(stacked_bars, heaps, strict=True) if heaps.count(heap) > 1}


def percent_values(series: Sequence[Series], names: set[str], of: Base | None) -> list[Series]:
    """Return the series, those named in percent of their base.

    Raises
    ------
    ChartError
        For a value below zero: it is no part of a whole.
    """
    key: Callable[[Series], Any] = _stack if of is None else _axis
    parts = [item for item in series if item.name in names]
    wholes: dict[Any, Floats] = {}
    for part in parts:
        values = np.nan_to_num(np.array(part.values))
        if (values < 0).any():
            raise ChartError(
                f"series '{part.name}' holds values below zero, which are not parts of 100%; stack the bars"
            )
        wholes[key(part)] = wholes.get(key(part), np.zeros(len(values))) + values
    return [_shares(item, wholes[key(item)], of) if item.name in names else item for item in series]


def _shares(series: Series, whole: Floats, of: Base | None) -> Series:
    values = np.array(series.values)
    base = np.nansum(values) if of == "column" else whole.sum() if of == "all" else whole
    share = 100 * values / np.where(base == 0, np.nan, base)
    return replace(series, values=tuple(share.tolist()), unit="%")


def _axis(series: Series) -> Any:
    return series.secondary


def _stack(series: Series) -> Any:
    return series.axis, series.stack if isinstance(series, Bars) else ""


_MOST_NAMES = 4  # in the title of a chart
_MOST_TITLE = 60  # signs of names joined in the title of an axis
_LONG_TITLE = 40  # signs of a title that says where its axis starts as well
#: Digits of the value at which an axis that does not start at zero is said to start.
_START_DIGITS = 3


_PLAIN = CombinationChartSettings()
_PLAIN_ROLES = ("", "bar", "line")  # of series that have no role of their own yet


def combination_chart(
    categories: Iterable[Any],
    series: Iterable[Series],
    look: CombinationChartSettings = _PLAIN,
    *,
    period: str | None = None,
    base: str = "",
    source: str = "",
    description: str = "",
) -> Chart:
    """Return the chart of series on one category axis and two value axes.

    Parameters
    ----------
    categories, series, look
        What is drawn, each series with a value a category; and how.
    period
        The calendar period of dates on the category axis.
    base, source, description
        What the subtitle, the note and the chart's description say where the user says nothing else.

    Raises
    ------
    ChartError, ScaleError
        If the parts do not fit together.
    """
    axis = read_categories(categories, period, look.style)
    found_series = list(series)
    _check(found_series, number=max((place for place in axis.places if place is not None), default=-1) + 1)
    # Numbers and dates are set in order, whatever order they came in.
    titled = found_series = [axis.sorted(item) for item in found_series]
    labels, period = axis.labels, axis.period
    if look.transpose:
        labels, found_series, period = *_transposed(labels, found_series), ""
    # One series may have a color a category; several have one each.
    look.check_colors([*(item.name for item in found_series), *(labels if len(found_series) == 1 else ())])
    how = Arrangement(look.together, look.secondary_together or look.together, look.secondary_bars, look.gap)
    percent = in_percent(found_series, how, look.percent_of)
    sides, placed, drawn = _placed_series(found_series, labels, look, how, percent)
    look = replace(look, references=worked_out(look.references, drawn, look.average_text))
    scales = scales_of(drawn, sides, look, labels, how=how, references=look.references)
    styles = tuple(_axis_style(drawn, axis_, look) for axis_ in ("primary", "secondary"))
    message = combination_headline(labels, drawn, period, look, styles)
    texts = _texts(titled if look.transpose else drawn, sides, look, base, source, percent, message)
    texts |= _scale_texts(texts, scales, styles[1], look, two=sides.two)
    raw = {item.name: item for item in placed}
    return Chart(
        categories=labels,
        series=tuple(with_labels(item, raw[item.name], placed, look.style, styles) for item in drawn),
        scales=scales,
        secondary_axis=sides.two,
        together=look.together,
        secondary_together=look.secondary_together,
        secondary_bars=look.secondary_bars,
        gap=look.gap,
        totals=stack_totals(_bars(placed), bar_places(_bars(placed), how), styles) if look.totals else (),
        references=look.references,
        moments=look.moments(labels, period),
        secondary_style=styles[1],
        period=period,
        months=tuple(look.formatter.say("months").split()) if period else (),
        remarks=sides.remarks,
        description=description,
        **{**look.frame_settings(two=sides.two), "style": styles[0], **texts, "grid": _grid(look, scales.policy)},
    )


def _placed_series(
    series: Sequence[Series],
    labels: Sequence[str],
    look: CombinationChartSettings,
    how: Arrangement,
    percent: set[str],
) -> tuple[AxisChoice, list[Series], list[Series]]:
    """Return which series is on which axis; the series as they are said, and as they are drawn."""
    # Bars in percent go with percents, so the axes are chosen by what will be drawn.
    sides = choose_sides(series, how, percent=percent, references=look.references)
    _check_together(sides.raw, look)
    placed = _dressed(sides.raw, labels, look)
    # Labels show the values themselves, also where the bars are drawn in percent.
    return sides, placed, percent_values(placed, percent, look.percent_of)


def _bars(series: Sequence[Series]) -> list[Bars]:
    return [item for item in series if isinstance(item, Bars)]


def _grid(look: CombinationChartSettings, policy: str) -> str:
    """Return whose ticks the grid follows: the primary's, but where both axes share the percent axis' promise."""
    if look.grid != "auto":
        return look.grid
    return "secondary" if policy == "proportional" else "primary"


def _check(series: Sequence[Series], *, number: int) -> None:
    if not series:
        raise ChartError("a chart needs at least one series; give it bars, a line or another kind")
    names: set[str] = set()
    for item in series:
        if not isinstance(item, Series) or not item.kind:
            raise ChartError(f"'{str(item)[:40]}' is not a series; give Bars, Line, Area, Points, Stems or Steps")
        if not item.name.strip():
            raise ChartError("a series has no name; give each one")
        if item.name in names:
            raise ChartError(f"two series are called '{item.name}'; give them different names")
        names.add(item.name)
        if len(item.values) != number:
            raise ChartError(
                f"series '{item.name}' has {len(item.values)} values for {number} categories; give one a category"
            )
        if all(value != value for value in item.values):
            raise ChartError(f"series '{item.name}' holds no number; remove it")


def _check_together(series: Sequence[Series], look: CombinationChartSettings) -> None:
    """Refuse an arrangement that nothing in the chart has."""
    bars = _bars(series)
    text = (
        "secondary_together" if look.secondary_together else "secondary_bars" if look.secondary_bars != "front" else ""
    )
    if text and not any(bar.secondary for bar in bars):
        raise ChartError(f"{text} is for bars on the secondary axis; put some there, or leave it out")
    if look.percent_of and not bars:
        raise ChartError("percent_of is for bars; give bars, or write percent:A/B for a line")
    if look.together != "grouped" and len(bars) < 2:
        word = "overlaid" if look.together == "overlaid" else "stacked"
        others = sorted({item.kind for item in series if not isinstance(item, Bars)})
        hint = f"; {' and '.join(others)} cannot be {word}" if others else ""
        raise ChartError(f"only bars are {word}, and two series of them or more{hint}: give bars, or group them")


def _transposed(labels: tuple[str, ...], series: Sequence[Series]) -> tuple[tuple[str, ...], list[Series]]:
    """Exchange categories and series, which must all be of one kind, axis and unit."""
    first = series[0]
    for item in series[1:]:
        for option, mine, other in (
            ("kind", item.kind, first.kind),
            ("axis", item.axis, first.axis),
            ("unit", item.unit, first.unit),
        ):
            if mine != other:
                raise ChartError(
                    f"series of more than one {option} cannot be exchanged with categories: '{first.name}' and "
                    f"'{item.name}' differ"
                )
    plain = replace(first, color="", labels=first.labels if isinstance(first.labels, str) else "auto")
    return tuple(one_line(entry.name) for entry in series), [
        replace(plain, name=label, values=tuple(entry.values[index] for entry in series))
        for index, label in enumerate(labels)
    ]


#: In which order bars under lines, and a single series of bars, have pale colors: those that differ most come first.
_PALE = (2, 3, 5, 4, 6, 7, 1)


def _dressed(series: Sequence[Series], labels: Sequence[str], look: CombinationChartSettings) -> list[Series]:
    """Give each series its role in the theme.

    Bars under lines are pale, and so is a single series; several by themselves, and areas, have one solid color each;
    lines have colors of another sequence, which those of what is under them leave free.
    """
    bars = _bars(series)
    is_pale = len(bars) == 1 or any(not isinstance(item, Bars | Area) for item in series)
    filled = marked = pales = 0
    dressed_series: list[Series] = []
    for item in series:
        if is_pale and isinstance(item, Bars):
            role, pales = f"pale-{_PALE[pales % 7]}", pales + 1
        elif isinstance(item, Bars | Area):
            role, filled = f"series-{_PALE[filled % 7] if is_pale else filled % 7 + 1}", filled + 1
        else:
            role, marked = f"mark-{marked % 5 + 1}", marked + 1
        role = item.role if item.role not in _PLAIN_ROLES else role
        color = item.color or look.colors.get(item.name, "")
        dressed = replace(item, role=f"{role}:{color}" if color else role)
        if isinstance(dressed, Bars) and any(label in look.colors for label in labels):
            dressed = replace(dressed, colors=tuple(look.colors.get(label, color) for label in labels))
        dressed_series.append(dressed)
    return dressed_series


def _axis_style(series: Sequence[Series], axis: str, look: CombinationChartSettings) -> NumberStyle:
    """Return how the numbers of an axis are written: as its series are, where they agree."""
    own = {item.style for item in series if (item.axis or "primary") == axis}
    if len(own) == 1 and (only := own.pop()) is not None:
        return only
    units = {item.unit for item in series if (item.axis or "primary") == axis}
    if len(units) == 1:
        return look.style.bare() if "%" in units else look.style.of_unit(*units)
    return look.style.bare() if "%" in units else look.style


def _texts(
    series: Sequence[Series],
    sides: AxisChoice,
    look: CombinationChartSettings,
    base: str,
    source: str,
    percent: Set[str],
    headline: str,
) -> dict[str, str]:
    """Return the texts around the frame: the user's own where there are such."""
    say = look.formatter.say
    named = [readable(item.name) for item in series]
    names = look.formatter.listed(named) if len(named) <= _MOST_NAMES else f"{', '.join(named[: _MOST_NAMES - 1])} …"
    subject = readable(look.subject)
    plain = headed(say("series by", names=names, subject=subject) if subject and names else names)
    message = "" if look.transpose or look.neutral_title or look.title is not None else headline
    words = {
        "title": message or plain,
        "subtitle": ": ".join(filter(None, (plain, base))) if message else base,
        "category_title": "",
        "primary_title": _axis_title(series, "primary", sides, look, percent),
        "secondary_title": _axis_title(series, "secondary", sides, look, percent) if sides.two else "",
    }
    texts = {name: text if (own := getattr(look, name)) is None else own for name, text in words.items()}
    note = look.note if isinstance(look.note, str) else source if look.note else ""
    axes = ("primary", "secondary")
    units = {f"{side}_unit": look.style.percent_unit if sides.unit(side) == "%" else "" for side in axes}
    return {**texts, **units, "note": note}


def _axis_title(
    series: Sequence[Series], axis: Axis, sides: AxisChoice, look: CombinationChartSettings, percent: Set[str]
) -> str:
    """Return what an axis shows: its series and their unit; a percent axis always says so."""
    own = [item for item in series if (item.axis or "primary") == axis]
    if percent and (look.transpose or any(item.name in percent for item in own)):
        return _percent_title(own, percent, look)
    names = look.formatter.listed([readable(item.name) for item in series if (item.axis or "primary") == axis])
    unit = one_line(sides.unit(axis))
    if len(names) > _MOST_TITLE:
        names = unit or names  # what is too long is cut short where it is set
    return headed(look.formatter.titled(names, unit))


def _scale_texts(
    texts: Mapping[str, str], scales: ScalePair, style: NumberStyle, look: CombinationChartSettings, *, two: bool
) -> dict[str, str]:
    """Return the title of the secondary axis and the note, with what a reader must know of the scales."""
    notes = _scale_notes(scales, look, two=two) if look.note is True else []
    return {
        "secondary_title": _with_start(texts, scales.secondary, style, look),
        "note": "; ".join(filter(None, (texts["note"], *notes))),
    }


def _with_start(texts: Mapping[str, str], scale: Scale, style: NumberStyle, look: CombinationChartSettings) -> str:
    """Return the title of the secondary axis, with where it starts, or ends below zero, if it does not show zero."""
    title, unit = texts["secondary_title"], texts["secondary_unit"]
    if not title or scale.kind != "linear" or scale.lower <= 0 <= scale.upper:
        return title
    word, end = ("axis starts at", scale.lower) if scale.lower > 0 else ("axis ends at", scale.upper)
    decimals = max(0, _START_DIGITS - 1 - math.floor(math.log10(abs(end))))
    amount = style.amounts([round(end, decimals) if decimals else round(end)], most_decimals=decimals)[0]
    return look.formatter.say(word, title=one_line(title, longest=_LONG_TITLE), value=with_unit(amount, unit))


def _scale_notes(scales: ScalePair, look: CombinationChartSettings, *, two: bool) -> list[str]:
    """Return what a reader must know of scales on which lengths are no amounts."""
    visible = (scales.primary, scales.secondary) if two else (scales.primary,)
    notes = [look.formatter.say("note on log axis")] if any(scale.kind == "log" for scale in visible) else []
    broken = two and scales.secondary.kind == "linear" and not scales.secondary.lower <= 0 <= scales.secondary.upper
    return [*notes, *([look.formatter.say("note on broken axis")] if broken else [])]


def _percent_title(series: Sequence[Series], percent: Set[str], look: CombinationChartSettings) -> str:
    """Return what bars in percent are of."""
    say = look.formatter.say
    others = [] if look.transpose else [readable(item.name) for item in series if item.name not in percent]
    subject = "" if look.transpose else readable(look.subject)
    bases = {
        "row": say("percent of each", name=subject) if subject else say("percent of category"),
        "column": say("percent of each", name=say("series")),
        "all": say("percent of all"),
    }
    base = bases[look.percent_of or "row"]
    return look.formatter.listed([base, *others])
