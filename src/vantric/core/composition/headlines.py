"""The title of a picture is its message: composed from the result alone, in few words; or the plain subject."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from vantric.core.charts.series import Area, Bars, Series
from vantric.core.charts.settings import ChartSettings, CombinationChartSettings
from vantric.core.counts.provenance import says_how_many
from vantric.core.messages.message import Message
from vantric.core.numbers.number_format import NumberStyle, headed, one_line, readable, with_unit

if TYPE_CHECKING:
    from vantric.core.charts.references import Reference
    from vantric.core.counts.comparison import Comparison
    from vantric.core.counts.gap import Gap
    from vantric.core.counts.pareto_table import ParetoTable
    from vantric.core.counts.provenance import Provenance
    from vantric.core.counts.tally import Tally
    from vantric.core.messages.formatter import Formatter
    from vantric.core.statistics.trends import Trend

#: Categories that are named instead of counted, of so many or fewer; and how long their names may be.
_NAMED, _OF, _LONGEST_NAMES = 3, 8, 60


def noun_of(look: ChartSettings, count: int) -> str:
    """Return what the categories are called in the plural: as the user says, else in a general word."""
    if look.noun is not None:
        return one_line(look.noun)
    return look.formatter.say("category noun", count=count)


def subject_title(subject: str, split: str, look: ChartSettings, *, kind: str = "frequency chart") -> str:
    """Return the plain subject: ``"Defects by kiln"``."""
    say = look.formatter.say
    name = headed(look.noun) if look.noun else headed(subject)
    if not name:
        return say(f"{kind} without subject")
    if split:
        name = say("by", subject=name, split=readable(split))
    return say(kind, subject=name)


def named_origin(origin: Provenance, look: ChartSettings) -> Provenance:
    """Return where counts come from; where no column names what is counted, the user's noun does."""
    return replace(origin, unit_name=look.noun) if look.noun and says_how_many(origin.counted_unit) else origin


def subtitle_of(tally: Tally, look: ChartSettings, *, whole: bool = False) -> str:
    """Return what is under the title: the subject and the base; the subject alone says what a message leaves out."""
    tally = replace(tally, origin=named_origin(tally.origin, look))
    base, subject = look.formatter.text(tally.base()), headed(tally.origin.by or "")
    return f"{subject}: {base}" if subject and whole and not look.neutral_title and look.title is None else base


def whole_text(total: str, origin: Provenance, formatter: Formatter) -> str:
    """Return what percents are of: ``"3,834 records"``, ``"rework cost"``, or the total alone."""
    if origin.per:
        return formatter.text(origin.unit_text())
    if origin.weight:
        return readable(origin.weight)
    unit = origin.counted_unit
    if says_how_many(unit):
        return total
    return formatter.say(
        "counted",
        number=total,
        unit=formatter.text(Message("records", count=2) if unit == "records" else origin.unit_text()),
    )


def pareto_headline(table: ParetoTable, look: ChartSettings, total: str) -> str:
    """Return the message of a Pareto table; empty where a plain subject says more.

    That is so without a cutoff, for one category, for a tie that the cutoff divides, and where the vital few are all.
    """
    cut = table.cutoff
    if cut is None or table.ordering != "frequency" or table.strata is not None or table.size < 2:
        return ""
    if not cut.count or cut.count == table.size or (cut.tied and table.ties_rule != "include"):
        return ""
    say, style = look.formatter.say, look.style
    percent = style.whole_percent(cut.cumulative_percent, (float(cut.percent),))
    whole = whole_text(total, table.origin, look.formatter)
    names = [one_line(name) for name in cut.categories]
    named_whole = whole_text(total, named_origin(table.origin, look), look.formatter)
    if len(names) <= _NAMED and table.size <= _OF and len(", ".join(names)) <= _LONGEST_NAMES:
        headline = say(
            "headline of few",
            count=len(names),
            names=look.formatter.listed(names),
            percent=percent,
            whole=named_whole,
        )
    else:
        noun = noun_of(look, table.size)
        headline = say("headline", count=cut.count, all=str(table.size), noun=noun, percent=percent, whole=whole)
    last = table.cutoffs[-1]
    if len(table.cutoffs) > 1 and cut.count < last.count < table.size:
        share = style.whole_percent(last.cumulative_percent, (float(last.percent),))
        headline = say("headline more", headline=headline, count=last.count, percent=share)
    return headline


def table_headline(table: ParetoTable, look: ChartSettings) -> str:
    """Return the message of a table as its chart says it; empty where the chart has another title."""
    if look.neutral_title or look.title is not None or "title" in look.words:
        return ""
    decimals = 2 if table.origin.per and float(table.total) > 1 else 6
    style = look.of_unit(table.origin.clock).style
    return pareto_headline(table, look, style.amounts([table.total], most_decimals=decimals)[0])


def shares_headline(tally: Tally, shares: Sequence[float], look: ChartSettings, total: str) -> str:
    """Return the message of shares: how few make up most of the whole; empty where nothing stands out."""
    ordered = sorted((share for share in shares if share > 0), reverse=True)
    count = few_of(ordered)
    if not count:
        return ""
    noun, whole = noun_of(look, len(ordered)), whole_text(total, tally.origin, look.formatter)
    percent = look.style.whole_percent(sum(ordered[:count]), (MOST,))
    return look.formatter.say(
        "headline shares", count=count, all=str(len(ordered)), noun=noun, percent=percent, whole=whole
    )


def few_of(shares: Sequence[float]) -> int:
    """Return how many of descending shares make up most of the whole; 0 where a tie divides them, or all do."""
    running = 0.0
    for count, share in enumerate(shares[:-1], start=1):
        running += share
        if running >= MOST - _NOISE and shares[count] != share:
            return count
    return 0


_NOISE = 1e-9  # of sums of floats
MOST = 80.0  # percent, which shares are said to make up


def counted_categories(count: int, period: str, look: ChartSettings) -> str:
    """Return how many categories there are, with their noun: ``"12 months"``, ``"19 defects"``."""
    if period and look.noun is None:
        return look.formatter.say(f"periods, {period}", count=count)
    return f"{look.formatter.shown(count)} {noun_of(look, count)}"


def combination_headline(
    categories: Sequence[str],
    series: Sequence[Series],
    period: str,
    look: CombinationChartSettings,
    styles: Sequence[NumberStyle],
) -> str:
    """Return the message of series: how often a line is beyond its limit, or where bars and line have their ends.

    It is empty where nothing of the kind is so.
    """
    lines = [item for item in series if not isinstance(item, Bars | Area)]
    limits = [item for item in look.references if item.upto is None]
    if len(limits) == 1 and len(lines) == 1 and (limits[0].axis == "secondary") == lines[0].secondary:
        return _above(lines[0], limits[0], len(categories), period, look, styles)
    if look.references or len(series) != 2 or len(lines) != 1 or len(categories) < _FEWEST:
        return ""
    ends = [_ends(item) for item in series]
    if None in ends or ends[0] != ends[1]:
        return ""
    high, low = ends[0]  # type: ignore[misc]
    named = [readable(item.name) for item in series]
    highest, lowest = (look.tongue.day(one_line(categories[place], longest=40)) for place in (high, low))
    return headed(look.formatter.say("headline extremes", names=look.formatter.listed(named), high=highest, low=lowest))


def _above(
    line: Series,
    limit: Reference,
    count: int,
    period: str,
    look: CombinationChartSettings,
    styles: Sequence[NumberStyle],
) -> str:
    beyond = sum(value > limit.level for value in line.values if value == value)
    if not beyond or any(value != value for value in line.values):
        return ""
    style = line.style or styles[1 if line.secondary else 0]
    unit = style.percent_unit if line.unit == "%" else ""
    value = style.amount(int(limit.level) if limit.level == int(limit.level) else limit.level)
    text = one_line(limit.text) or (with_unit(value, unit) if unit else value)
    return headed(
        look.formatter.say(
            "headline above named" if limit.text else "headline above",
            series=readable(line.name),
            limit=text,
            count=beyond,
            all=counted_categories(count, period, look),
        )
    )


def _ends(series: Series) -> tuple[int, int] | None:
    """Return where a series is highest and lowest; None where that is not one place each."""
    values = series.values
    if any(value != value for value in values):
        return None
    high, low = max(values), min(values)
    return (values.index(high), values.index(low)) if values.count(high) == values.count(low) == 1 else None


_FEWEST = 4  # categories, of which ends tell something


def comparison_headline(comparison: Comparison, beyond: Collection[str] | None, look: ChartSettings) -> str:
    """Return the message of a comparison: which categories differ significantly; empty where nothing was tested."""
    if beyond is None or (len(comparison.rows) == 1 and comparison.exposures is None):
        return ""
    say, every = look.formatter.say, len(comparison.rows)
    if not beyond:
        return say("headline none differs", all=str(every), noun=noun_of(look, every))
    if len(beyond) > 1 or comparison.exposures is not None:
        return say("headline some differ", count=len(beyond), all=str(every), noun=noun_of(look, every))
    row = next(row for row in comparison.rows if row.category in beyond)
    style = look.style
    texts = [style.percents(value) for value in (row.before_percent, row.after_percent)]
    return say(
        "headline differs",
        name=one_line(row.category, longest=_LONGEST_NAMES),
        first=texts[0],
        before=one_line(comparison.before_name, longest=_LONGEST_SIDE),
        second=texts[1],
        after=one_line(comparison.after_name, longest=_LONGEST_SIDE),
    )


def mix_headline(table: ParetoTable, differ: bool | None, look: ChartSettings) -> str:
    """Return whether the mix of categories differs between strata; empty where that is not known."""
    if differ is None or table.strata is None or look.neutral_title or look.title is not None:
        return ""
    split = readable(table.strata.split)
    kind = "headline mix differs" if differ else "headline mix does not differ"
    return look.formatter.say(kind, noun=noun_of(look, table.size), split=split)


def trend_headline(trend: Trend, look: ChartSettings) -> str:
    """Return the message of trends: how many changed significantly; empty where nothing was tested."""
    tested = [row for row in trend.rows if row.p_adjusted is not None]
    if not tested:
        return ""
    count, say = sum(row.beyond_chance for row in tested), look.formatter.say
    noun = noun_of(look, len(tested))
    if not count:
        named = headed(one_line(tested[0].category)) if len(tested) == 1 else noun
        return say("headline no trend", all=len(tested), noun=named)
    return say("headline trends", count=count, all=str(len(tested)), noun=noun)


def gap_headline(gap: Gap, unit: str, look: ChartSettings) -> str:
    """Return the message of planned and actual: how many stayed below, and which by the most; empty if none."""
    below = [row for row in gap.rows if row.difference < 0]
    if not below:
        return ""
    most = min(below, key=lambda row: row.difference)
    if sum(row.difference == most.difference for row in below) > 1:
        return ""
    size = look.style.amount(abs(most.difference))
    if unit and unit != "%":
        size = f"{size}\N{NO-BREAK SPACE}{unit}"
    return look.formatter.say(
        "headline below plan",
        count=len(below),
        all=str(len(gap.rows)),
        noun=noun_of(look, len(gap.rows)),
        name=one_line(most.category, longest=_LONGEST_NAMES),
        size=size,
    )


_LONGEST_SIDE = 24  # characters of the name of a side
