"""Ranking amounts in descending order, ties in natural label order."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import accumulate, islice, pairwise
from typing import TYPE_CHECKING

from vantric.base.lazily import cached_property, dataclass

if TYPE_CHECKING:  # loaded where needed
    import numpy as np
    from numpy.typing import NDArray

from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Amounts, Number
from vantric.core.numbers.label_order import natural_places

#: Below it plain Python sorts faster than NumPy is loaded.
FEW = 1000


@dataclass(frozen=True, eq=False)
class RankedAmounts:
    """Amounts in descending order; made by `ranking`. A few are ranked as lists; arrays are made when asked for.

    Attributes
    ----------
    amounts : Amounts of length n
    labels : sequence of str, length n
        The categories.
    """

    amounts: Amounts
    labels: Sequence[str]

    @property
    def is_short(self) -> bool:
        """Whether lists are quicker than NumPy is loaded."""
        return isinstance(self.amounts.held, list) and len(self.labels) <= FEW

    @cached_property
    def runs(self) -> list[list[int]]:
        """Places of a few amounts, largest first, in runs of tied ones, each in natural label order."""
        units = self.amounts.held
        runs: list[list[int]] = []
        for place in sorted(range(len(units)), key=units.__getitem__, reverse=True):
            if runs and _tied(units[runs[-1][-1]], units[place], exact=self.amounts.exact):
                runs[-1].append(place)
            else:
                runs.append([place])
        return [natural_places(self.labels, run) if len(run) > 1 else run for run in runs]

    @cached_property
    def places(self) -> list[int]:
        """`order` as a list."""
        if not self.is_short:
            places: list[int] = self.order.tolist()
            return places
        return [place for run in self.runs for place in run]

    @cached_property
    def bounds(self) -> list[int]:
        """`starts` as a list."""
        if not self.is_short:
            bounds: list[int] = self.starts.tolist()
            return bounds
        return [0, *accumulate(map(len, self.runs))]

    @cached_property
    def rough(self) -> NDArray[np.intp]:
        """Places of the amounts, of shape (n,), largest first, tied ones in any order."""
        return _descending(self.amounts)

    @cached_property
    def starts(self) -> NDArray[np.intp]:
        """Bounds of the runs, of shape (r + 1,): run i of tied amounts is ``rough[starts[i]:starts[i + 1]]``."""
        return _tie_starts(self.amounts.units[self.rough], exact=self.amounts.exact)

    def tied(self, most: int | None = None) -> tuple[tuple[str, ...], ...]:
        """Return groups of labels that tie, the first ones only if so many are enough."""
        several = (bounds for bounds in pairwise(self.bounds) if bounds[1] - bounds[0] > 1)
        groups = (self.places[start:end] for start, end in islice(several, most))
        return tuple(tuple(self.labels[place] for place in group) for group in groups)

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
    return RankedAmounts(amounts, labels)


def rank_descending(amounts: Amounts, labels: Sequence[str]) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Return the order of `ranking`, tied amounts in natural label order, and where its runs start."""
    ranked_amounts = ranking(amounts, labels)
    return ranked_amounts.order, ranked_amounts.starts


def ranked_places(amounts: Amounts, labels: Sequence[str]) -> list[int]:
    """Return the ranked order of `rank_descending` as a list; a few amounts need no arrays for it."""
    return ranking(amounts, labels).places


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
