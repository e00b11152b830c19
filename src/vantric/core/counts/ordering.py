"""The order of a table's rows, which small categories are folded into the rest, and the options of both."""

from __future__ import annotations

import csv
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace
from fractions import Fraction
from typing import TYPE_CHECKING, Literal, TypeAlias

from vantric.core.counts.cutoff import DEFAULT_CUT, DefaultCutoff, cuts_in
from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Amounts, Number
from vantric.core.numbers.label_order import calendar_keys, natural_key, natural_places
from vantric.core.numbers.number_format import counted, quoted
from vantric.errors import OptionError, RankError, unknown
from vantric.options import Options, option

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

REST_LABEL = "Other"


def check_folding(keep: object, fold_below: object, rest_label: str) -> None:
    """Raise `RankError` for options about the rest that contradict each other."""
    if keep is not None and fold_below is not None:
        raise RankError("keep and fold_below both say what is folded: give one of them")
    if not rest_label.strip():
        raise RankError("the rest needs a label, such as Other")


def folded_places(
    tally: Tally,
    ranked: NDArray[np.intp],
    *,
    keep: int | None,
    fold_below: Number | None,
    pinned: Sequence[str] = (),
    vital: Sequence[str] = (),
    rest_label: str = REST_LABEL,
) -> NDArray[np.intp]:
    """Return the places of the categories that are folded, the most frequent first.

    Parameters
    ----------
    ranked : ndarray of shape (n,)
        The places in descending order of frequency.
    keep
        How many categories keep their names: the pinned ones and the most frequent others.
    fold_below
        Categories whose percent is strictly below this are folded, but for pinned ones.
    pinned, vital
        Categories that are never folded.

    Raises
    ------
    RankError
        If a vital category would be folded (it names the smallest `keep` that works), or the rest's label is taken.
    """
    import numpy as np

    names = {*pinned}
    places = [place for place in ranked.tolist() if tally.categories[place] not in names]
    if keep is not None:
        if keep < len(names):
            raise RankError(
                f"keep={keep} is fewer than the {counted(len(names), 'category', 'categories')} pinned last"
            )
        gone = places[keep - len(names) :]
    else:
        assert fold_below is not None
        gone = [place for place in places if _below(tally, place, fold_below)]
    if not gone:
        return np.empty(0, dtype=np.intp)
    lost = {tally.categories[place] for place in gone} & set(vital)
    if lost:
        least = len(set(vital) | names)
        raise RankError(f"folding would hide {quoted(sorted(lost))} of the vital few; use keep={least} or more")
    if rest_label in tally.categories:
        raise RankError(f"'{rest_label}' is a category already; give the rest another name with rest_label")
    return np.array(gone, dtype=np.intp)


def _below(tally: Tally, place: int, percent: Number) -> bool:
    frequency = tally.frequency
    units, total = frequency.units[place], frequency.total_units
    if frequency.exact:
        return int(units) * 100 < Fraction(repr(percent)) * int(total)
    return bool(100 * float(units) < (percent - 100 * FLOAT_TOLERANCE) * total)


Order: TypeAlias = str | tuple[str, ...]
#: Orders that have a name; any other order is a list of labels.
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
    names = set(tally.categories)
    more = [name for name in dict.fromkeys(named) if name not in names]
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
        positions = {label: place for place, label in enumerate(tally.categories)}
        places = np.array(
            [positions[label] for label in sequence if label in positions], dtype=np.intp
        )  # zeros may be dropped
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

    positions = {label: place for place, label in enumerate(tally.categories)}
    for label in last:
        if label not in positions:
            message = f"'{label}' cannot be pinned to the end: it is not a category"
            raise unknown(RankError, message, label, positions, label="the categories are")
    twice = [label for label, times in Counter(last).items() if times > 1]
    if twice:
        raise RankError(f"{quoted(twice)} is pinned to the end twice; name it once")
    ends = np.array([positions[label] for label in last], dtype=np.intp)
    return np.concatenate((places[~np.isin(places, ends)], ends))


Rule: TypeAlias = Literal["reach", "within"]
Measured: TypeAlias = Literal["frequency", "rate", "percent"]
Ties: TypeAlias = Literal["exclude", "include"]
Cut: TypeAlias = float | str | tuple[float | str, ...] | DefaultCutoff | None


def read_names(text: str) -> tuple[str, ...]:
    """Return names with commas between them; a name that holds a comma is in quotes."""
    try:
        rows = list(csv.reader([text], skipinitialspace=True))
    except csv.Error:
        raise OptionError(
            f"names are written with commas between them on one line, not as {text!r}", value=text
        ) from None
    return tuple(name.strip() for row in rows for name in row if name.strip())


def read_order(text: str) -> str | tuple[str, ...]:
    """Return the name of an order, or the categories of a listed one."""
    return text if text in NAMED or "," not in text else read_names(text)


class RankSettings(Options, section="How it is ranked, cut off and folded"):
    """How the categories of a tally are ranked, cut off and folded."""

    cut: Cut = option(
        DEFAULT_CUT,
        "The cutoff in percent, or several, ascending, for the classes A, B, C; 80 if not given, and none in an order "
        "other than frequency.",
        metavar="PCT[,PCT]",
        off=None,
    )
    rule: Rule = option(
        "reach", "reach: the fewest leading categories that reach the cutoff; within: the most that stay within it."
    )
    ties: Ties = option("exclude", "Whether categories as frequent as the last one inside the cutoff are included.")
    order: Order = option(
        "frequency",
        "frequency, given (first appearance), label, or every category in its order.",
        metavar="ORDER",
        read=read_order,
    )
    last: tuple[str, ...] = option((), "A category that is pinned to the end.", metavar="LABEL")
    keep: int | None = option(
        None, "How many categories keep their names; the others become the rest.", metavar="N", least=1
    )
    fold_below: float | None = option(
        None, "The percent below which categories become the rest.", metavar="PCT", above=0, most=100
    )
    rest_label: str = option(REST_LABEL, "The name of the rest.", metavar="LABEL")
    drop_zero: bool = option(False, "Leave out categories of frequency zero.")

    def __post_init__(self) -> None:
        """Check how the options fit together, before anything is read."""
        super().__post_init__()
        cuts = cuts_in(self.cut, order_name(self.order))
        if self.cut is not None and not isinstance(self.cut, DefaultCutoff):
            object.__setattr__(self, "cut", cuts if len(cuts) > 1 else cuts[0])
        check_folding(self.keep, self.fold_below, self.rest_label)
