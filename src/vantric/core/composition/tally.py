"""Plain charts of a tally or a two-way table: bars of frequency or percent, and a bar of shares."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from vantric.core.axes import Scaling, align
from vantric.core.charts.chart import Chart, ClassMark, ShareTail
from vantric.core.charts.series import Bars, composed
from vantric.core.charts.settings import TallyChartSettings
from vantric.core.composition.combination import combination_chart
from vantric.core.composition.headlines import MOST, few_of, shares_headline, subject_title, subtitle_of
from vantric.core.counts.crosstab import Crosstab
from vantric.core.counts.pareto import arranged, arranged_rows
from vantric.core.counts.tally import Tally, check_rankable
from vantric.core.numbers.number_format import distinct_lines, readable
from vantric.errors import ChartError

_MOST_COLORS = 7
_WIDER = 1.5  # times as wide: a tail that gains less is not drawn again
_PLAIN = TallyChartSettings()


def tally_chart(tally: Tally, look: TallyChartSettings = _PLAIN, *, description: str = "") -> Chart:
    """Return the bars of a tally, the most frequent first; or its shares as one bar.

    Raises
    ------
    RankError
        If there is nothing to show.
    ChartError
        For an option that is for two-way tables.
    """
    check_rankable(tally)
    if look.together != "grouped" or look.transpose:
        raise ChartError("grouping, stacking and transposing are for two-way tables: give a second column as split")
    look = look.of_unit(tally.origin.clock)
    tally = arranged(tally, look.order, look.keep)
    places = tally.places()
    names = distinct_lines([tally.categories[place] for place in places])
    shares = np.array(tally.frequency.plain_percents(tally.frequency.total_units))
    if look.share_bar:
        return _share_bar(tally, names, [float(shares[place]) for place in places], look, description)
    percent = look.values == "percent"
    values = shares if percent else tally.frequency.floats()
    say = look.formatter.say
    name = say("percent") if percent else look.formatter.text(tally.origin.measure)
    look.check_labels([name])
    bars = composed(
        Bars,
        name,
        tuple(float(values[place]) for place in places),
        look.labels_of(name),
        unit="%" if percent else "",
        label_place=look.label_place,
    )
    subject = _subject(tally)
    title = subject_title(subject, "", look)
    settings = look.combination(
        title=title,
        primary_title=_value_title(tally, look, percent=percent),
    )
    chart = combination_chart(
        names,
        [bars],
        settings,
        base=look.formatter.text(tally.base()),
        source=look.formatter.text(tally.origin.note()),
        description=description,
    )
    return _without_legend(chart)


def crosstab_chart(table: Crosstab, look: TallyChartSettings = _PLAIN, *, description: str = "") -> Chart:
    """Return the bars of a two-way table: a series a column, grouped, stacked or stacked to 100%.

    Raises
    ------
    RankError
        If there is nothing to show.
    ChartError
        For a share bar: it shows one tally.
    """
    if look.share_bar:
        raise ChartError("a share bar shows the shares of one tally: remove the second column, or stack bars to 100%")
    crosstab = arranged_rows(table.transposed() if look.transpose else table, look.order, look.keep)
    tally, say = crosstab.tally(), look.formatter.say
    check_rankable(tally)
    percent = look.values == "percent" and look.together != "percent"
    base = look.percent_of
    cells = crosstab.percents(base).tolist() if percent else crosstab.frequencies()
    look.check_labels(distinct_lines(crosstab.columns))
    series = [
        composed(
            Bars,
            name,
            tuple(row[index] for row in cells),
            look.labels_of(name),
            unit="%" if percent else "",
            axis="primary",
            label_place=look.label_place,
        )
        for index, name in enumerate(distinct_lines(crosstab.columns))
    ]
    subject, split = _subject(tally), readable(crosstab.split)
    title = say("by", subject=subject[:1].upper() + subject[1:], split=split)
    own = {"row": subject, "column": split}
    axis = say("percent of each", name=own[base]) if percent and base != "all" else None
    if look.together == "percent":
        axis = say("percent of each", name=subject)
    settings = look.combination(
        title=title,
        primary_title=axis or _value_title(tally, look, percent=percent),
    )
    settings = replace(settings, together=look.together if len(series) > 1 else "grouped", totals=look.totals)
    return combination_chart(
        distinct_lines(crosstab.categories),
        series,
        settings,
        base=look.formatter.text(tally.base()),
        source=look.formatter.text(tally.origin.note()),
        description=description,
    )


def _subject(tally: Tally) -> str:
    return readable(tally.origin.by or "")


def _value_title(tally: Tally, look: TallyChartSettings, *, percent: bool) -> str:
    """Return what the bars show: a percent axis says of what."""
    say, unit = look.formatter.say, look.formatter.text(tally.origin.unit_text())
    if percent:
        return say("percent of", total=look.style.amount(tally.total), unit=unit)
    return look.formatter.titled(look.formatter.text(tally.origin.measure), unit)


def _without_legend(chart: Chart) -> Chart:
    """Leave out the legend of a single series, which title and axis name already."""
    return replace(chart, legend="none") if chart.legend == "above" else chart


def _share_bar(
    tally: Tally, names: Sequence[str], shares: Sequence[float], look: TallyChartSettings, description: str
) -> Chart:
    """Return one horizontal bar to 100%, a part a category, each with its name and percent.

    Beyond seven parts colors do not tell them apart: the few that make up most stand out, and the tail is drawn again.
    """
    say, style = look.formatter.say, look.style
    if look.references or look.marks:
        raise ChartError("a share bar has no axis for references and marks; leave them out")
    look.check_colors(list(names))
    look.check_labels(names)
    drawn = [(name, share) for name, share in zip(names, shares, strict=True) if share > 0]
    sizes = [share for _, share in drawn]
    ranked = len(drawn) > _MOST_COLORS and sizes == sorted(sizes, reverse=True)
    few = few_of(sizes) if ranked else 0
    tail = _tail(sizes, few, look)
    subject, total = _subject(tally), look.style.amount(tally.total)
    message = "" if look.neutral_title or look.title is not None else shares_headline(tally, shares, look, total)
    plain = say("shares", subject=look.noun or subject) if subject else say("shares without subject")
    titles = {
        "title": message or plain,
        "subtitle": subtitle_of(tally, look, whole=bool(message)),
        "category_title": "",
        "primary_title": _value_title(tally, look, percent=True),
        "secondary_title": "",
    }
    own = {name: text if getattr(look, name) is None else getattr(look, name) for name, text in titles.items()}
    note = look.note if isinstance(look.note, str) else look.formatter.text(tally.origin.note()) if look.note else ""
    scales = align((0, 100), (0, 100), Scaling(policy="common", primary_limits=(0, 100), secondary_limits=(0, 100)))
    frame_settings = {**look.frame_settings(), "orientation": "horizontal", "legend": "none"}
    return Chart(
        categories=(subject or say("percent"),),
        series=_parts(drawn, few, tail, look),
        scales=scales,
        secondary_axis=False,
        together="stacked",
        category_labels=False,
        primary_unit=style.percent_unit,
        description=description,
        note=note,
        classes=_classes(sizes, few, look),
        is_share_bar=True,
        tail=tail,
        **{**frame_settings, **own},
    )


def _parts(
    drawn: Sequence[tuple[str, float]], few: int, tail: ShareTail | None, look: TallyChartSettings
) -> tuple[Bars, ...]:
    """Return the parts of a share bar, each with its percent: with a decimal where it is drawn wider."""
    many, parts = len(drawn) > _MOST_COLORS, []
    for index, (name, share) in enumerate(drawn):
        exact = tail is not None and index >= few
        text = look.style.percents(share) if exact else look.style.whole_percent(share)
        role = _part_role(index, look.colors.get(name, ""), few if many else None)
        labels = () if look.labels_of(name) == "none" else (text,)
        parts.append(composed(Bars, name, (share,), labels, axis="primary", unit="%", role=role))
    return tuple(parts)


def _tail(shares: Sequence[float], few: int, look: TallyChartSettings) -> ShareTail | None:
    """Return the parts that are drawn again: all but the few, where that makes them wider."""
    if not few:
        return None
    rest = 100.0 - sum(shares[:few])
    factor = 100.0 / rest
    if factor < _WIDER:
        return None
    percent, times = look.style.whole_percent(rest, (100.0 - MOST,)), look.style.amount(round(factor, 1))
    return ShareTail(few, look.formatter.say("share tail", percent=percent, factor=times))


def _classes(shares: Sequence[float], few: int, look: TallyChartSettings) -> tuple[ClassMark, ...]:
    """Return the few that make up most, and all others; nothing where they are not told apart."""
    if not few:
        return ()
    say, every, percent = look.formatter.say, len(shares), look.style.whole_percent
    most = sum(shares[:few])
    sizes = [say("of all", count=count, all=every) for count in (few, every - few)]
    return (
        ClassMark(0, few, say("vital few"), sizes[0], percent(most, (MOST,)), 1),
        ClassMark(few, every, say("useful many"), sizes[1], percent(100.0 - most, (100.0 - MOST,)), 0),
    )


def _part_role(index: int, color: str, few: int | None) -> str:
    """Return what a part of the share bar is: of many parts the first few stand out, and the others are quiet."""
    role = f"series-{index % 7 + 1}" if few is None else "strong" if index < few else "quiet"
    return f"{role}:{color}" if color else role
