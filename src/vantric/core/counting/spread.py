"""How unequal the records of a tally are: what it takes to say how much the records tell.

A record may stand for several occurrences. Sums of squares over the records, beside the sums, say how many records of
one size would tell as much.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

_DIGITS = 11  # behind the first: sums of squares of floats, in whatever order, agree in more


class Moments(NamedTuple):
    """Of the records of one category.

    Attributes
    ----------
    records
        How many there are.
    squares
        Sum over them of the square of what each has in the category.
    crossed
        Sum over them of what each has in the category times what it has in all categories.
    """

    records: int = 0
    squares: float = 0.0
    crossed: float = 0.0


NOTHING = Moments()


@dataclass(frozen=True)
class Spread:
    """How the amounts of a tally are spread over its records.

    Attributes
    ----------
    categories
        Category -> the moments of its records.
    records
        How many records have a label.
    whole
        Sum over them of the square of what each has in all categories.
    missing
        The moments of the records without a label.
    """

    categories: Mapping[str, Moments]
    records: int
    whole: float
    missing: Moments = NOTHING

    def of(self, category: str) -> Moments:
        """Return the moments of a category; of one without a record, nothing."""
        return self.categories.get(category, NOTHING)

    def with_missing(self, label: str) -> Spread:
        """Return the spread with what had no label as a category."""
        known = {**self.categories, label: self.missing}
        return Spread(known, self.records + self.missing.records, self.whole + self.missing.squares)


class Part(NamedTuple):
    """Records that are alike: the category of each of their labels, how many they are, the sum of their squares."""

    labels: tuple[str | None, ...]
    records: int
    squares: float


def spread_of(parts: Iterable[Part]) -> Spread:
    """Return the spread of records; each has its whole amount in each of its labels, twice if it names one twice."""
    found: dict[str | None, list[list[float]]] = {}
    wholes: list[float] = []
    records = 0
    for labels, number, squares in parts:
        valid = [label for label in labels if label is not None and label.strip()]
        size = len(valid)
        if valid:
            records += number
            wholes.append(squares * size * size)
        for label in dict.fromkeys(valid) if valid else (None,):
            times = valid.count(label) if label is not None else 1
            heaps = found.setdefault(label, [[], [], []])
            heaps[0].append(number)
            heaps[1].append(squares * times * times)
            heaps[2].append(squares * times * max(size, 1))
    moments = {label: Moments(int(sum(one)), _sum(two), _sum(three)) for label, (one, two, three) in found.items()}
    missing = moments.pop(None, NOTHING)
    return Spread({str(label): one for label, one in moments.items()}, records, _sum(wholes), missing)


def joined(spreads: Iterable[Spread]) -> Spread:
    """Return the spread of several parts that have no record in common."""
    parts = list(spreads)
    names = dict.fromkeys(name for one in parts for name in one.categories)
    moments = {name: _added([one.of(name) for one in parts]) for name in names}
    missing = _added([one.missing for one in parts])
    return Spread(moments, sum(one.records for one in parts), _sum([one.whole for one in parts]), missing)


def single(moments: Mapping[str, Moments]) -> Spread:
    """Return the spread of records that have one label each."""
    plain = {name: Moments(one.records, one.squares, one.squares) for name, one in moments.items()}
    whole = _sum([one.squares for one in plain.values()])
    return Spread(plain, sum(one.records for one in plain.values()), whole)


def _added(moments: list[Moments]) -> Moments:
    return Moments(
        sum(one.records for one in moments), _sum([one.squares for one in moments]),
        _sum([one.crossed for one in moments]),
    )  # fmt: skip


def _sum(values: list[float]) -> float:
    """Return a sum that does not depend on the order in which an engine took the records."""
    try:
        total = math.fsum(values)
    except OverflowError:
        return math.inf
    return float(f"{total:.{_DIGITS}e}") if math.isfinite(total) else math.inf
