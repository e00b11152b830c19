"""Which small categories are folded into the rest."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import TYPE_CHECKING

from vantric.core.counts.tally import Tally
from vantric.core.numbers.amounts import FLOAT_TOLERANCE, Number
from vantric.core.numbers.number_format import counted, quoted
from vantric.errors import RankError

if TYPE_CHECKING:  # loaded where needed
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

    held = {*pinned}
    places = [place for place in ranked.tolist() if tally.categories[place] not in held]
    if keep is not None:
        if keep < len(held):
            raise RankError(f"keep={keep} is fewer than the {counted(len(held), 'category', 'categories')} pinned last")
        gone = places[keep - len(held) :]
    else:
        assert fold_below is not None
        gone = [place for place in places if _below(tally, place, fold_below)]
    if not gone:
        return np.empty(0, dtype=np.intp)
    lost = {tally.categories[place] for place in gone} & set(vital)
    if lost:
        least = len(set(vital) | held)
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
