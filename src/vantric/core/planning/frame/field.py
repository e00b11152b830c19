"""The field between the axes: from category numbers and shares of a scale to places in the picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from vantric.core.numbers.arrays import Floats
from vantric.core.planning.plan import Box


@dataclass(frozen=True)
class Field:
    """Where categories and values are.

    In a vertical chart categories run from left to right and values upward; in a horizontal one from the top
    downward and to the right: the one is the other, turned about its diagonal.

    Attributes
    ----------
    frame
        The rectangle between the axes.
    count
        How many categories there are.
    horizontal
        Which of the two it is.
    after
        The room behind the last category of an vertical chart: for names at the line ends.
    """

    frame: Box
    count: int
    horizontal: bool = False
    after: float = 0.0

    @property
    def slot(self) -> float:
        """The room of one category along its axis."""
        return (self.frame.height if self.horizontal else self.frame.width - self.after) / self.count

    def along(self, places: Floats | float) -> Floats:
        """Return where places on the category axis are, in categories from 0."""
        across = np.asarray(places, dtype=np.float64) * self.slot
        return self.frame.top - across if self.horizontal else self.frame.left + across

    def up(self, shares: Floats | float) -> Floats:
        """Return where shares of a value axis are: 0 at its lower end, 1 at its upper."""
        share = np.asarray(shares, dtype=np.float64)
        if self.horizontal:
            return self.frame.left + share * self.frame.width
        return self.frame.bottom + share * self.frame.height

    def points(self, places: Floats, shares: Floats) -> tuple[Floats, Floats]:
        """Return the x and y of points."""
        across, up = self.along(places), self.up(shares)
        return (up, across) if self.horizontal else (across, up)

    def rects(self, starts: Floats, ends: Floats, low: Floats, high: Floats) -> Floats:
        """Return rectangles of shape (n, 4): left, bottom, right, top."""
        one, other, under, over = self.along(starts), self.along(ends), self.up(low), self.up(high)
        if self.horizontal:
            return np.column_stack((under, other, over, one))
        return np.column_stack((one, under, other, over))

    def centers(self) -> Floats:
        """Return the middles of the categories along their axis."""
        return self.along(np.arange(self.count) + 0.5)
