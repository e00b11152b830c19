"""What changed since last time, in words: significant or not, what is new and gone, who moved in rank."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field
from decimal import Decimal
from typing import Any

from vantric.base.lazily import dataclass
from vantric.core.counts import Comparison, Measures, Provenance, Tally, compare
from vantric.core.counts.ranking import ranked_places
from vantric.core.counts.tally import make_tally, make_weighted_tally
from vantric.core.messages.message import Label, List, Message, Written, labels
from vantric.core.numbers.label_order import natural_key
from vantric.core.numbers.number_format import ends_texts, one_line
from vantric.errors import ChartFileError, VantricError
from vantric.tables.comparison import comparison_sentence

_THEN, _NOW = "last time", "now"
_MOST = 4  # moves and revised values that are named
#: Sums of floats that were saved as decimals differ by less than this when nothing changed.
_NOISE = 1e-9
_FEW = 8  # ranks that are compared


@dataclass(frozen=True)
class PastReport:
    """A result of last time, as far as it is compared.

    Attributes
    ----------
    settings
        What was counted, and how: results of other settings are not compared.
    tally
        Of what is counted.
    categories, series
        Of measures: the categories, and name -> values.
    """

    settings: Mapping[str, Any]
    tally: Tally | None = None
    categories: tuple[str, ...] = ()
    series: Mapping[str, Sequence[Any]] = field(default_factory=dict)


def past_of(kind: str, compared: Any) -> PastReport | None:
    """Return a result as the next report compares with it, as its kind says; None of kinds that are not compared."""
    if isinstance(compared, Tally):
        return PastReport(_settings(kind, compared.origin), compared)
    if isinstance(compared, Measures):
        named = dict(zip(compared.names, compared.values, strict=True))
        return PastReport(
            {**_settings(kind, compared.origin), "by": compared.by, "period": compared.period},
            None,
            compared.categories,
            named,
        )
    return None


def _settings(kind: str, origin: Provenance) -> dict[str, Any]:
    return {
        "kind": kind,
        "by": origin.by,
        "count": origin.count,
        "weight": origin.weight,
        "per": origin.per,
        "where": origin.where,
    }


def past_object(past: PastReport | None) -> dict[str, Any] | None:
    """Return the JSON object of a result, from which the next report says what changed."""
    if past is None:
        return None
    content: dict[str, Any] = {"settings": dict(past.settings)}
    if past.tally is not None:
        tally = past.tally
        counts = None if tally.counts is None else tally.counts.values()
        names, values = tally.categories, tally.frequency.values()
        content["rows"] = [
            {
                "category": names[index],
                "frequency": values[index],
                **({} if counts is None else {"count": counts[index]}),
            }
            for index in ranked_places(tally.frequency, names)
        ]
        content["ready"] = tally.origin.ready or tally.spread is not None
    else:
        content["categories"] = list(past.categories)
        content["series"] = {name: list(values) for name, values in past.series.items()}
    return content


def past_from(part: Any) -> PastReport:
    """Return what a report's JSON says of a section.

    Raises
    ------
    ChartFileError
        If it is not what a report writes.
    """
    try:
        settings = dict(part["settings"])
        if "rows" not in part:
            series = {str(name): tuple(values) for name, values in part["series"].items()}
            return PastReport(settings, None, tuple(map(str, part["categories"])), series)
        rows = part["rows"]
        origin = Provenance(
            by=settings["by"],
            count=settings["count"],
            weight=settings["weight"],
            per=settings["per"],
            where=settings["where"],
            ready=bool(part["ready"]),
            input_rows=max(1, len(rows)),
        )
        if any("count" in row for row in rows):
            groups = [(str(row["category"]), _amount(row["count"]), _amount(row["frequency"])) for row in rows]
            return PastReport(settings, make_weighted_tally(groups, origin))
        return PastReport(
            settings, make_tally([(str(row["category"]), _amount(row["frequency"])) for row in rows], origin)
        )
    except (KeyError, TypeError, AttributeError, ValueError) as error:
        raise ChartFileError(f"it holds a section that no report wrote ({type(error).__name__}: {error})") from None


def _amount(value: Any) -> Any:
    if isinstance(value, bool) or not isinstance(value, (int, float)) or not 0 <= value < 1e300:
        raise ValueError(f"{value!r} is not a frequency")
    return value if isinstance(value, int) else Decimal(repr(value))


def changes_since(past: PastReport | None, now: PastReport | None) -> tuple[str, ...]:
    """Return what changed, in sentences; nothing for kinds that are not compared."""
    if now is None:
        return ()
    if past is None:
        return (Message("new section"),)
    other = [name for name in now.settings if name != "where" and past.settings.get(name) != now.settings[name]]
    if other:
        past_values = [
            Message("option was", option=name, was=_said(past.settings.get(name)), now=_said(now.settings[name]))
            for name in other
        ]
        return (Message("counted otherwise", options=List(tuple(past_values))),)
    if past.tally is None or now.tally is None:
        return _measures(past, now)
    if not past.tally.total or not now.tally.total:
        return (Message("nothing now" if past.tally.total else "nothing then"),)
    try:
        comparison = compare(past.tally, now.tally, names=(_THEN, _NOW))
    except VantricError as error:  # a report must not fail because last time's is of another kind
        return (Message("not compared", reason=str(error)),)
    found_out = (
        _conditions(past, now),
        comparison_sentence(comparison),
        *_new_and_gone(*_labels(past.tally, now.tally)),
        _moves(comparison),
    )
    return tuple(filter(None, found_out))


def _conditions(past: PastReport, now: PastReport) -> str:
    """Return which records were counted last time, where it was under another condition."""
    then, here = past.settings.get("where"), now.settings.get("where")
    if then is None or then == here:
        return ""
    return Message("other condition", where=one_line(str(then)))


def _said(value: Any) -> str:
    return "not given" if value is None else repr(value)


def _labels(then: Tally, now: Tally) -> tuple[list[str], list[str]]:
    """Return the categories that are new, and those that did not occur again."""
    before, after = ({name for name, value in tally.as_dict().items() if value} for tally in (then, now))
    return sorted(after - before, key=natural_key), sorted(before - after, key=natural_key)


def _new_and_gone(new: Sequence[str], gone: Sequence[str]) -> list[Message]:
    pairs = (("new", new), ("gone", gone))
    return [Message(what, labels=_named(names)) for what, names in pairs if names]


def _named(names: Sequence[str]) -> List:
    return labels(names, most=_MOST, longest=60)


def _moves(comparison: Comparison) -> str:
    """Return who moved in rank among the leading ones, the largest move first; ranks say nothing of chance."""
    rows = [
        row for row in comparison.rows if row.rank_change and min(row.before_rank or 0, row.after_rank or 0) <= _FEW
    ]
    rows.sort(key=lambda row: (-abs(row.rank_change or 0), row.after_rank or 0))
    if not rows:
        return Message("no rank changed")
    moves = [
        Message("moved", label=Label(row.category, 60), before=row.before_rank, after=row.after_rank) for row in rows
    ]
    return Message("ranks changed", moves=List(tuple(moves), _MOST))


def _measures(past: PastReport, now: PastReport) -> tuple[str, ...]:
    """Return which categories are new and gone, and which values are no longer what they were."""
    new = [category for category in now.categories if category not in past.categories]
    gone = [category for category in past.categories if category not in now.categories]
    sentences = _new_and_gone(new, gone)
    revised = _revised(past, now)
    if revised:
        sentences.append(Message("revised", values=List(tuple(revised), _MOST)))
    lost = [name for name in past.series if name not in now.series]
    if lost:
        sentences.append(Message("no longer drawn", labels=_named(lost)))
    return tuple(sentences) or (Message("nothing changed"),)


def _revised(past: PastReport, now: PastReport) -> list[Message]:
    lines = []
    places = {name: place for place, name in enumerate(now.categories)}
    for name, values in past.series.items():
        for category, before in zip(past.categories, values, strict=False):
            if name not in now.series or category not in places:
                continue
            after = now.series[name][places[category]]
            if (before is None) != (after is None):
                values = [Message("nothing") if item is None else item for item in (before, after)]
            elif before is None or abs(before - after) <= _NOISE * max(abs(before), abs(after)):
                continue
            else:
                values = list(map(Written, ends_texts(before, after)))
            named = {"label": Label(name, 60), "category": one_line(category, longest=40)}
            lines.append(Message("value was", was=values[0], now=values[1], **named))
    return lines
