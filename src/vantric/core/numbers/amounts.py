"""Exact sums and comparisons for integers of any size, decimals and floats."""

from __future__ import annotations

import math
from collections.abc import Iterable
from decimal import Decimal
from itertools import accumulate, count
from typing import TYPE_CHECKING, Any, TypeAlias

from vantric.base.lazily import cached_property, dataclass
from vantric.errors import AmountError

if TYPE_CHECKING:  # loaded where needed: what reads options, and a few numbers, do without
    import numpy as np
    from numpy.typing import NDArray

    Floats: TypeAlias = NDArray[np.floating[Any]]

Number: TypeAlias = int | float
Raw: TypeAlias = int | float | Decimal

#: Float frequencies tie within this share of the larger; cutoffs compare within it of the total.
FLOAT_TOLERANCE = 1e-9
_INT64_MAX, _WHOLE = 2**63 - 1, 2**53  # the largest in 64 bits; where floats no longer hold every integer
_POWERS = 22  # powers of ten up to this one are floats without rounding
#: Keeps a typed 1e999999999 from filling the memory.
LARGEST_EXPONENT = 300
#: The largest amount; sums of many more than anyone has are still floats.
LARGEST = 1e300
#: Floats are added up in blocks, so that long sums lose no digits.
_BLOCK = 1024
MANY = 2**16  # floats, from where on adding them up one by one takes its time


@dataclass(frozen=True, eq=False)
class Amounts:
    """A column of amounts in exact units.

    Integers and decimals are kept as whole multiples of ``10**-scale``, so that sums and comparisons are exact. Binary
    floats stay floats.

    Parameters
    ----------
    held : ndarray of shape (n,) or list of n numbers
        All integers or all floats: ``int64``, ``float64`` or ``object`` (Python integers beyond 64 bits), or a plain
        list of Python's, which needs no NumPy until arrays are asked for.
    scale : int
        Decimal places: each unit is ``10**-scale``. Zero for floats.
    """

    held: NDArray[Any] | list[Any]
    scale: int = 0

    @classmethod
    def of(cls, values: Iterable[Raw] | NDArray[Any]) -> Amounts:
        """Take amounts as they come; ints and Decimals stay exact, one float among them makes all floats."""
        kind = getattr(getattr(values, "dtype", None), "kind", "")
        if kind == "f":
            _check_sane(values.tolist())  # type: ignore[union-attr]
            return cls(values.astype("float64"))  # type: ignore[union-attr]
        if kind in {"i", "u"} and _sum_fits(values):  # type: ignore[arg-type]
            return cls(values.astype("int64"))  # type: ignore[union-attr]
        raw = values.tolist() if kind else list(values)  # type: ignore[union-attr]
        _check_sane(raw)
        if set(map(type, raw)) <= {int}:
            return cls(raw)
        if any(isinstance(value, float) for value in raw):
            return cls([float(value) for value in raw])
        ratios = [value.as_integer_ratio() for value in raw]
        places = {denominator: _places(denominator) for denominator in {below for _, below in ratios}}
        scale = max(places.values())
        parts = {denominator: 10**scale // denominator for denominator in places}
        return cls([above * parts[below] for above, below in ratios], scale)

    def __len__(self) -> int:
        return len(self.held)

    @cached_property
    def units(self) -> NDArray[Any]:
        """The amounts as an array: ``int64`` where their sum fits, else ``object``, or ``float64``."""
        import numpy as np

        if not isinstance(self.held, list):
            return self.held

        return _int_array(self.held) if self.exact else np.array(self.held, dtype=np.float64)

    @property
    def _is_short(self) -> bool:
        """Whether lists are quicker than NumPy is loaded."""
        return isinstance(self.held, list) and len(self.held) <= _BLOCK

    @property
    def exact(self) -> bool:
        """Whether the amounts are integers or decimals, not binary floats."""
        if isinstance(self.held, list):
            return not self.held or isinstance(self.held[0], int)
        return bool(self.held.dtype.kind != "f")

    @cached_property
    def total_units(self) -> Number:
        """The sum, in units, whatever the order of the amounts.

        Exact for integers and decimals; for floats correctly rounded or, of very many, within a relative 1e-14.
        """
        if not self.exact:
            return _float_sum(self.held)
        if not isinstance(self.held, list) and self.held.dtype.kind == "i":
            return int(self.held.sum())
        total: int = sum(self.plain())
        return total

    @property
    def is_zero(self) -> bool:
        """Whether there is nothing but zeros."""
        return not (any(self.held) if isinstance(self.held, list) else self.held.any())

    def plain(self) -> list[Any]:
        """Return the units as a list of Python's numbers."""
        return self.held if isinstance(self.held, list) else self.held.tolist()

    @property
    def total(self) -> Number:
        """The sum as a number: an int where it is whole."""
        return self.number(self.total_units)

    def decimal_total(self) -> Decimal:
        """Return the sum of exact amounts as an exact Decimal."""
        return _decimal(int(self.total_units), self.scale)

    def number(self, units: Number) -> Number:
        """Return `units` as the number it stands for: an int where it is whole by its kind, else a float."""
        if not self.exact:
            return float(units)
        if self.scale == 0:
            return int(units)
        unit: int = 10**self.scale
        whole, part = divmod(int(units), unit)
        return whole if part == 0 else int(units) / unit

    def values(self) -> list[Number]:
        """Return the amounts as plain numbers, in order."""
        raw: list[Any] = self.plain()
        if not self.scale:
            return list(raw)
        unit: int = 10**self.scale  # as `number` has it, a million times
        return [units / unit if units % unit else units // unit for units in raw]

    def floats(self) -> NDArray[np.float64]:
        """Return the amounts as floats, for drawing."""
        import numpy as np

        if self.units.dtype.kind == "O" or (self.scale and not self._divides_right):
            return np.array([float(value) for value in self.values()], dtype=np.float64)
        return self.units / 10.0**self.scale if self.scale else self.units.astype(np.float64)

    @property
    def _divides_right(self) -> bool:
        """Whether units and their divisor are floats without rounding, so that one division rounds as Python's."""
        return self.scale <= _POWERS and (len(self) == 0 or int(abs(self.units).max()) <= _WHOLE)

    def take(self, order: NDArray[np.intp] | list[int]) -> Amounts:
        """Return the amounts at the places `order`, in that order."""
        if isinstance(order, list) and isinstance(self.held, list):
            return Amounts([self.held[place] for place in order], self.scale)
        amounts = Amounts(self.units[order], self.scale)
        if len(order) == len(self) and "total_units" in vars(self):  # all of them, reordered: the sum is known
            vars(amounts)["total_units"] = self.total_units
        return amounts

    def cumulative(self) -> Amounts:
        """Return the running sums; the last is exactly the total."""
        if isinstance(self.held, list) and self._is_short:
            sums = list(accumulate(self.held))
            if self.exact or not sums:
                return Amounts(sums, self.scale)
            return Amounts([*(min(value, self.total_units) for value in sums[:-1]), float(self.total_units)])
        import numpy as np

        if self.units.dtype.kind == "i":
            return Amounts(np.cumsum(self.units), self.scale)
        if self.exact:
            return Amounts(_int_array(list(accumulate(self.units.tolist()))), self.scale)
        running = _running_floats(self.units)
        np.minimum(running, self.total_units, out=running)
        if len(running):
            running[-1] = self.total_units
        return Amounts(running)

    def joined(self, value: Number) -> Amounts:
        """Return the amounts with one more at the end."""
        if not self.exact:
            return Amounts([*self.plain(), float(value)])
        added = Amounts.of([value if isinstance(value, int) else Decimal(repr(value))])
        scale = max(self.scale, added.scale)
        factors = (10 ** (scale - self.scale), 10 ** (scale - added.scale))
        return Amounts([*(units * factors[0] for units in self.plain()), added.plain()[0] * factors[1]], scale)

    def plain_percents(self, total_units: Number) -> list[float]:
        """Return each amount in percent of `total_units` as a list; for few amounts, without arrays."""
        units = self.plain()
        if self.exact and total_units * 100 >= _WHOLE and total_units <= _INT64_MAX:  # as arrays do it
            return [100.0 if unit == total_units else 100.0 * (unit / float(total_units)) for unit in units]
        return [100.0 if unit == total_units else 100 * unit / total_units for unit in units]

    def percents(self, total_units: Number) -> NDArray[np.float64]:
        """Return each amount in percent of `total_units`; the total itself is exactly 100."""
        import numpy as np

        if self._is_short or self.units.dtype.kind == "O":
            return np.array(self.plain_percents(total_units), dtype=np.float64)
        if self.exact and total_units * 100 >= _WHOLE:
            return np.asarray(100.0 * (self.units / total_units), dtype=np.float64)
        shares = np.asarray(100.0 * self.units / total_units, dtype=np.float64)
        return np.where(self.units == total_units, 100.0, shares)


def _check_sane(values: list[Raw]) -> None:
    """Refuse what could not be added up and shared out as a float without overflow."""
    if values and not (min(values) >= -LARGEST and max(values) <= LARGEST):
        raise AmountError("an amount is out of range: more than 1e300, or not finite; give it in larger units")


def _decimal(units: int, scale: int) -> Decimal:
    return Decimal((int(units < 0), tuple(map(int, str(abs(units)))), -scale))


def _places(denominator: int) -> int:
    """Return the decimal places of a fraction in lowest terms, which divides a power of ten."""
    return next(places for places in count() if 10**places % denominator == 0)


def _int_array(units: list[int]) -> NDArray[Any]:
    import numpy as np

    if sum(map(abs, units)) <= _INT64_MAX:
        return np.array(units, dtype=np.int64)
    wide = np.empty(len(units), dtype=object)
    wide[:] = units
    return wide


def _sum_fits(values: NDArray[Any]) -> bool:
    return len(values) == 0 or int(values.max()) * len(values) <= _INT64_MAX


def _float_sum(values: NDArray[Any] | list[Any]) -> float:
    import numpy as np

    if isinstance(values, list):
        return math.fsum(values)
    if len(values) <= MANY:
        return math.fsum(values.tolist())

    return sum_of_ascending(np.sort(values))


def sum_of_ascending(values: NDArray[np.float64]) -> float:
    """Return the sum of many floats, from small to large and by pairs: the same in whatever order they came."""
    return float(values.sum())


def _running_floats(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Add up in blocks: the rounding error grows with the block and the number of blocks, not their product."""
    import numpy as np

    whole = len(values) // _BLOCK
    running = np.empty(len(values))
    blocks, rest = running[: whole * _BLOCK].reshape(-1, _BLOCK), running[whole * _BLOCK :]
    np.cumsum(values[: whole * _BLOCK].reshape(-1, _BLOCK), axis=1, out=blocks)
    np.cumsum(values[whole * _BLOCK :], out=rest)
    before = np.concatenate(([0.0], np.cumsum(blocks[:, -1])))
    blocks += before[:-1, None]
    rest += before[-1]
    return running
