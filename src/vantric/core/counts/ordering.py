"""The order of a table's rows: by frequency, as given, by label, or as listed; some pinned to the end."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, TypeAlias

from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import Amounts
from vantric.core.numbers.label_order import calendar_keys, natural_key, natural_places
from vantric.core.numbers.number_format import quoted
from vantric.errors import RankError, unknown

if TYPE_CHECKING:  # loaded where needed
    import numpy as np
    from numpy.typing import NDArray

Order: TypeAlias = str | tuple[str, ...]
NAMED = ("frequency", "given", "label")
LISTED = "listed"


def order_name(order: Order) -> str:
    """Return ``"frequency"``, ``"given"``, ``"label"``, or ``"listed"`` for an explicit list.

    Raises
    ------
    RankError
        If the word is none of these.
    """
    if not isinstance(order, str):
        return LISTED
    if order not in NAMED:
        raise unknown(RankError, f"'{order}' is not an order", order, (*NAMED, "or a list of categories"), every=True)
    return order


def with_listed(tally: Tally, order: Order) -> Tally:
    """Return the tally with a zero for every category that only the order names: a level nobody chose."""
    named = order if not isinstance(order, str) else tally.sequence if order == "given" else None
    if not named:
        return tally
    known = set(tally.categories)
    more = [name for name in dict.fromkeys(named) if name not in known]
    if not more:
        return tally

    def longer(amounts: Amounts | None) -> Amounts | None:
        if amounts is None:
            return None
        zero = 0 if amounts.exact else 0.0
        return Amounts([*amounts.plain(), *[zero] * len(more)], amounts.scale)

    frequency = longer(tally.frequency)
    assert frequency is not None
    return replace(
        tally,
        categories=(*tally.categories, *more),
        frequency=frequency,
        counts=longer(tally.counts),
        exposure=longer(tally.exposure),
    )


def ordered_places(tally: Tally, order: Order, ranked: NDArray[np.intp], last: Sequence[str] = ()) -> NDArray[np.intp]:
    """Return the places of a tally's categories in the order asked for.

    Parameters
    ----------
    tally
        It holds every category that the order names.
    order
        See `order_name`.
    ranked : ndarray of shape (n,)
        The places in descending order of frequency.
    last
        Categories pinned to the end, in this order.

    Raises
    ------
    RankError
        If the order misses a category or names one twice, a pinned category is not there, or the source has no order.
    """
    import numpy as np

    name = order_name(order)
    if name == "frequency":
        places = ranked
    elif name == "label":
        keys = calendar_keys(tally.categories)
        by_calendar = None if keys is None else sorted(range(len(keys)), key=keys.__getitem__)
        every = by_calendar or natural_places(tally.categories, range(len(tally.categories)))
        places = np.array(every, dtype=np.intp)
    else:
        sequence = _given(tally) if isinstance(order, str) else _listed(tally, order)
        at = {label: place for place, label in enumerate(tally.categories)}
        places = np.array([at[label] for label in sequence if label in at], dtype=np.intp)  # zeros may be dropped
    return _pinned(tally, places, last) if last else places


def _given(tally: Tally) -> Sequence[str]:
    if tally.sequence is None:
        where = tally.origin.source or "this tally"
        raise RankError(
            f"{where} has no order of records that order='given' could follow; list the categories, or count with "
            "order='given' from a file, a frame or a mapping"
        )
    return tally.sequence


def _listed(tally: Tally, order: Sequence[str]) -> Sequence[str]:
    return check_listed(order, tally.categories)


def check_listed(order: Sequence[str], categories: Iterable[str]) -> Sequence[str]:
    """Return an order that names every category once.

    Raises
    ------
    RankError
        If it does not.
    """
    twice = [label for label, times in Counter(order).items() if times > 1]
    if twice:
        raise RankError(f"the order names {quoted(twice)} twice; name each category once")
    lacking = sorted(set(categories) - set(order), key=natural_key)
    if lacking:
        raise RankError(f"the order misses {quoted(lacking)}; name every category")
    return order


def _pinned(tally: Tally, places: NDArray[np.intp], last: Sequence[str]) -> NDArray[np.intp]:
    import numpy as np

    at = {label: place for place, label in enumerate(tally.categories)}
    for label in last:
        if label not in at:
            message = f"'{label}' cannot be pinned to the end: it is not a category"
            raise unknown(RankError, message, label, at, label="the categories are")
    twice = [label for label, times in Counter(last).items() if times > 1]
    if twice:
        raise RankError(f"{quoted(twice)} is pinned to the end twice; name it once")
    ends = np.array([at[label] for label in last], dtype=np.intp)
    return np.concatenate((places[~np.isin(places, ends)], ends))
