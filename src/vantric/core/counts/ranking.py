"""Ranking amounts in descending order, ties in natural label order."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from vantric.base.lazily import cached_property, dataclass

if TYPE_CHECKING:  # loaded where needed
    import numpy as np
    from numpy.typing import NDArray

from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Amounts, Number
from vantric.core.numbers.label_order import natural_places

#: Below it plain Python sorts faster than NumPy is loaded.
_FEW = 2000


@dataclass(frozen=True, eq=False)
class RankedAmounts:
    """Amounts in descending order; made by `ranking`.

    Attributes
    ----------
    labels : sequence of str, length n
        The categories.
    rough : ndarray of shape (n,)
        Places of the amounts, largest first, tied ones in any order.
    starts : ndarray of shape (r + 1,)
        Run i of tied amounts is ``rough[starts[i]:starts[i + 1]]``.
    """

    labels: Sequence[str]
    rough: NDArray[np.intp]
    starts: NDArray[np.intp]

    @cached_property
    def order(self) -> NDArray[np.intp]:
        """Places of the amounts, largest first, tied ones in natural label order.

        Labels are compared within ties only, and only when this is asked for: ranking a million categories runs
        at the speed of their numbers.
        """
        import numpy as np

        order = self.rough.copy()
        for run in np.flatnonzero(np.diff(self.starts) > 1).tolist():
            tied = slice(int(self.starts[run]), int(self.starts[run + 1]))
            order[tied] = natural_places(self.labels, order[tied].tolist())
        return order


def ranking(amounts: Amounts, labels: Sequence[str]) -> RankedAmounts:
    """Rank amounts.

    Parameters
    ----------
    amounts
        Of length n. Integers and decimals tie when they are equal; floats within a relative 1e-9 of the larger,
        chained down the descending order.
    labels
        The n categories.
    """
    rough = _descending(amounts)
    return RankedAmounts(labels, rough, _tie_starts(amounts.units[rough], exact=amounts.exact))


def rank_descending(amounts: Amounts, labels: Sequence[str]) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Return the order of `ranking`, tied amounts in natural label order, and where its runs start."""
    ranked_amounts = ranking(amounts, labels)
    return ranked_amounts.order, ranked_amounts.starts


def ranked_places(amounts: Amounts, labels: Sequence[str]) -> list[int]:
    """Return the ranked order of `rank_descending` as a list; a few amounts need no arrays for it."""
    if not isinstance(amounts.held, list) or len(amounts) > _FEW:
        places: list[int] = rank_descending(amounts, labels)[0].tolist()
        return places
    units = amounts.held
    order = sorted(range(len(units)), key=units.__getitem__, reverse=True)
    ranked: list[int] = []
    run: list[int] = []
    for place in order:
        if run and not _tied(units[run[-1]], units[place], exact=amounts.exact):
            ranked += natural_places(labels, run)
            run = []
        run.append(place)
    return ranked + natural_places(labels, run)


def _tied(upper: Number, lower: Number, *, exact: bool) -> bool:
    return upper == lower if exact else upper - lower <= FLOAT_TOLERANCE * upper


def _descending(amounts: Amounts) -> NDArray[np.intp]:
    import numpy as np

    units = amounts.units
    if units.dtype.kind == "O":
        return np.array(sorted(range(len(units)), key=units.__getitem__, reverse=True), dtype=np.intp)
    return np.argsort(-units)


def _tie_starts(ranked: NDArray[np.generic], *, exact: bool) -> NDArray[np.intp]:
    import numpy as np

    if not len(ranked):
        return np.zeros(1, dtype=np.intp)
    upper, lower = ranked[:-1], ranked[1:]
    if exact:
        steps = upper != lower
    else:
        gaps = upper.astype(np.float64) - lower.astype(np.float64)
        steps = gaps > FLOAT_TOLERANCE * upper.astype(np.float64)
    changes = np.flatnonzero(steps) + 1
    return np.concatenate(([0], changes, [len(ranked)])).astype(np.intp)


def tie_groups(
    labels: Sequence[str], ranked: NDArray[np.intp], starts: NDArray[np.intp], most: int | None = None
) -> tuple[tuple[str, ...], ...]:
    """Return groups of labels that tie, the first ones only if so many are enough.

    Parameters
    ----------
    labels
    ranked
        Their places in descending order.
    starts
        Where each run of equal amounts begins among them, and the end.
    most
    """
    import numpy as np

    runs = np.flatnonzero(np.diff(starts) > 1)[:most]
    bounds = zip(starts[runs].tolist(), starts[runs + 1].tolist(), strict=True)
    return tuple(tuple(labels[place] for place in ranked[start:end].tolist()) for start, end in bounds)
