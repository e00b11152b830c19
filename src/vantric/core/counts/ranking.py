"""Ranking amounts in descending order, ties in natural label order."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import accumulate, pairwise
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import cached_property, dataclass

if TYPE_CHECKING:  # loaded where needed
    import numpy as np
    from numpy.typing import NDArray

from vantric.core.numbers.amounts import FLOAT_TOLERANCE, MANY, Amounts, Number, sum_of_ascending
from vantric.core.numbers.label_order import natural_places

#: Below it plain Python sorts faster than NumPy is loaded.
FEW = 1000
_FEW_WRONG = 50  # one in so many that is out of order is sorted again by itself


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
        return self._descending[0]

    @cached_property
    def ranked(self) -> Amounts:
        """The amounts, largest first."""
        ranked = Amounts(self._descending[1], self.amounts.scale)
        if "total_units" in vars(self.amounts):  # of the same amounts, in another order
            vars(ranked)["total_units"] = self.amounts.total_units
        return ranked

    @cached_property
    def _descending(self) -> tuple[NDArray[np.intp], NDArray[Any]]:
        order, ranked = _descending(self.amounts)
        if not self.amounts.exact and len(ranked) > MANY:  # sorted already, as their sum takes them
            vars(self.amounts).setdefault("total_units", sum_of_ascending(ranked[::-1].copy()))
        return order, ranked

    @cached_property
    def starts(self) -> NDArray[np.intp]:
        """Bounds of the runs, of shape (r + 1,): run i of tied amounts is ``rough[starts[i]:starts[i + 1]]``."""
        import numpy as np

        return np.flatnonzero(self._begins).astype(np.intp, copy=False)

    @cached_property
    def _begins(self) -> NDArray[np.bool_]:
        """Whether a run of tied amounts begins at each place, of shape (n + 1,); the last one is the end."""
        return _run_begins(self.ranked.units, exact=self.amounts.exact)

    @cached_property
    def _is_untied(self) -> bool:
        return bool(self._begins.all())

    def end_of(self, place: int) -> int:
        """Return where the run of tied amounts ends that the place before one is in."""
        if self.is_short:
            return self.bounds[bisect_left(self.bounds, place)]
        return place + int(self._begins[place:].argmax())

    def tied(self, most: int | None = None) -> tuple[tuple[str, ...], ...]:
        """Return groups of labels that tie, the first ones only if so many are enough."""
        runs = self.tie_runs[:most]
        groups = (self.places[start:end] if self.is_short else self.order[start:end].tolist() for start, end in runs)
        return tuple(tuple(self.labels[place] for place in group) for group in groups)

    @cached_property
    def tie_runs(self) -> list[tuple[int, int]]:
        """Where each run of several tied amounts begins and ends."""
        if self.is_short:
            return [(start, end) for start, end in pairwise(self.bounds) if end - start > 1]
        import numpy as np

        here, after = self._begins[:-1], self._begins[1:]
        starts, ends = np.flatnonzero(here & ~after), np.flatnonzero(~here & after) + 1
        return list(zip(starts.tolist(), ends.tolist(), strict=True))

    @cached_property
    def order(self) -> NDArray[np.intp]:
        """Places of the amounts, largest first, tied ones in natural label order.

        Labels are compared within ties only, and only when this is asked for: ranking a million categories runs
        at the speed of their numbers.
        """
        if self._is_untied:
            return self.rough
        order = self.rough.copy()
        for start, end in self.tie_runs:
            order[start:end] = natural_places(self.labels, order[start:end].tolist())
        return order

    @cached_property
    def in_order(self) -> Amounts:
        """The amounts in `order`: within a tie floats may differ a little."""
        if self.amounts.exact or self._is_untied:
            return self.ranked
        units = self.ranked.units.copy()
        for start, end in self.tie_runs:
            units[start:end] = self.amounts.units[self.order[start:end]]
        in_order = replace(self.ranked, held=units)
        vars(in_order)["total_units"] = self.amounts.total_units
        return in_order


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


def _descending(amounts: Amounts) -> tuple[NDArray[np.intp], NDArray[Any]]:
    """Return the descending order of amounts, tied ones in any order, and the amounts in it."""
    import numpy as np

    units = amounts.units
    if len(units) > FEW and units.dtype.kind != "O" and units.min() >= 0:
        return _by_packed_keys(units)
    if units.dtype.kind == "O":
        order = np.array(sorted(range(len(units)), key=units.__getitem__, reverse=True), dtype=np.intp)
    else:
        order = np.argsort(-units)
    return order, units[order]


def _by_packed_keys(units: NDArray[Any]) -> tuple[NDArray[np.intp], NDArray[Any]]:
    """Return the descending order of amounts of zero or more, and them: sorted as integers that hold their places.

    Bits of floats rise with them. Where value and place do not fit into 64 bits, the last bits of values are left out,
    and the few runs that are out of order for it are sorted again.
    """
    import numpy as np

    size = len(units)
    bits = (size - 1).bit_length()
    packed = (units + 0.0).view(np.uint64) if units.dtype.kind == "f" else units.astype(np.uint64)
    left_out = max(0, int(packed.max()).bit_length() + bits - 64)
    if left_out:
        packed >>= np.uint64(left_out)
    packed <<= np.uint64(bits)
    packed |= np.arange(size, dtype=np.uint64)
    packed.sort()
    order = (packed[::-1] & np.uint64((1 << bits) - 1)).view(np.intp)
    is_whole = units.dtype.kind != "f" and not left_out  # then keys hold the amounts, in order
    ranked = (packed[::-1] >> np.uint64(bits)).astype(units.dtype) if is_whole else units[order]
    wrong = np.flatnonzero(ranked[1:] > ranked[:-1]) if left_out else np.empty(0, dtype=np.intp)
    if len(wrong) > size // _FEW_WRONG:
        order = np.argsort(-units)
        return order, units[order]
    for start, end in _runs_around(packed, bits, wrong):
        run = order[start:end]
        order[start:end] = run[np.argsort(-units[run])]
        ranked[start:end] = units[order[start:end]]
    return order, ranked


def _runs_around(packed: NDArray[np.uint64], bits: int, wrong: NDArray[np.intp]) -> Iterator[tuple[int, int]]:
    """Yield the bounds, in descending order, of the runs of keys alike but for their places, that some places are in.

    Keys are sorted from the smallest, and hold their places in the last bits.
    """
    import numpy as np

    size, done = len(packed), 0
    for key in packed[size - 1 - wrong].tolist():
        head = key >> bits << bits
        start = size - int(np.searchsorted(packed, np.uint64(head | ((1 << bits) - 1)), side="right"))
        if start >= done:
            done = size - int(np.searchsorted(packed, np.uint64(head), side="left"))
            yield start, done


def _run_begins(ranked: NDArray[np.generic], *, exact: bool) -> NDArray[np.bool_]:
    """Return where runs of tied amounts begin, and one more for the end."""
    import numpy as np

    begins = np.ones(len(ranked) + 1, dtype=bool)
    upper, lower, steps = ranked[:-1], ranked[1:], begins[1:-1]
    if exact:
        np.not_equal(upper, lower, out=steps)
        return begins
    for start in range(0, len(steps), MANY):  # in parts that need no memory of their own
        part = slice(start, start + MANY)
        floats = np.asarray(upper[part], dtype=np.float64)
        steps[part] = floats - np.asarray(lower[part], dtype=np.float64) > FLOAT_TOLERANCE * floats
    return begins
