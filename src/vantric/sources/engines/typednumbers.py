"""Typed columns of files that are added up in the engine: integers, decimals, floats.

A check in the scan, and a second sum in it, cost as much as the sum itself. So what is known of a column without a scan
is asked first, and two sums of integers are taken as one where both fit into 64 bits.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from vantric.sources.engines.textnumbers import TextNumbers, squared_sql
from vantric.sources.reading.records import Group

INTEGERS = re.compile(r"U?(TINY|SMALL|BIG)?INT(EGER)?|HUGEINT|UHUGEINT")
_FLOATS = ("FLOAT", "DOUBLE")
_HALF = 2**62  # what a product may reach in 64 bits
_LARGEST = 1e300


class TypedNumbers(TextNumbers):
    """Records of files whose columns may be typed."""

    def _typed_sums(self, keys: Sequence[str], amount: str, *, free: bool, squares: bool) -> list[Group] | None:
        """Return the sums of a typed column, perhaps with squares; None where the engine's are not exact."""
        results = self._results(amount, free=free, squares=squares)
        if results is None:
            return None
        if squares and not free and self.where is None:
            found = self._without_checks(keys, amount)
            if found is not None:
                return found
        return self._exactly(self._sums_sql(keys, amount, results))

    def _without_checks(self, keys: Sequence[str], amount: str) -> list[Group] | None:
        """Return sums and squares of a column whose extremes say that all is fine; None if they do not."""
        least, most, valid, rows = self._ask(self._sums_sql([], amount, "min(v), max(v), count(v), count(*)"))[0]
        if not rows or valid < rows or not 0 <= least <= most <= _LARGEST:  # NaN is above all
            return None
        whole = all(INTEGERS.fullmatch(part.kinds[amount]) for part in self._parts)
        bits = (int(most) * int(rows)).bit_length() if whole else 0
        if not whole or int(most) ** 2 << bits >= _HALF:
            total = self._total(amount)
            return self._exactly(self._sums_sql(keys, amount, f"count(*), {total}, {squared_sql('v::DOUBLE')}, true"))
        both = f"count(*), sum(v::BIGINT * (v::BIGINT * {1 << bits} + 1)), true"
        found = self._exactly(self._sums_sql(keys, amount, both)) or []
        mask = (1 << bits) - 1
        return [(*group[:-1], int(group[-1]) & mask, float(int(group[-1]) >> bits)) for group in found]

    def _total(self, amount: str) -> str:
        return "fsum(v::DOUBLE)" if self._kinds(amount) <= set(_FLOATS) else "sum(v)"

    def _kinds(self, *names: str) -> set[str]:
        return {part.kinds[name] for part in self._parts for name in names}

    def _results(self, amount: str, *, free: bool, squares: bool) -> str | None:
        """Return the SQL of (valid, sum, perhaps squares, whether the sum is exact) of typed numbers, if it can be."""
        kinds = {part.kinds[amount] for part in self._parts}
        floats = kinds <= set(_FLOATS)
        if len(kinds) > 1 or not (floats or all(INTEGERS.fullmatch(k) or k.startswith("DECIMAL") for k in kinds)):
            return None
        total, finite = ("fsum(v::DOUBLE)", "abs(v::DOUBLE) <= 1e300") if floats else ("sum(v)", "true")
        fine = f"coalesce({finite}, true)" if free else f"v IS NOT NULL AND v >= 0 AND {finite}"
        more = f"{squared_sql('v::DOUBLE')}, " if squares else ""
        return f"count(v), coalesce({total}, 0), {more}bool_and({fine})"

    def _typed_products(self, count: str, weight: str) -> str | None:
        """Return the SQL of (records, counts, products, squares, whether all is exact) of typed numbers, if it can."""
        squares = squared_sql("(v::DOUBLE * w::DOUBLE)")
        kinds = {part.kinds[name] for part in self._parts for name in (count, weight)}
        if all(INTEGERS.fullmatch(kind) for kind in kinds):
            plain = "v IS NOT NULL AND w IS NOT NULL AND v >= 0 AND w >= 0"
            one, other = "v::HUGEINT", "w::HUGEINT"
        elif kinds <= {*_FLOATS, *(kind for kind in kinds if INTEGERS.fullmatch(kind))}:
            plain = "v IS NOT NULL AND w IS NOT NULL AND v >= 0 AND w >= 0 AND abs(v::DOUBLE * w::DOUBLE) <= 1e300"
            return f"count(*), fsum(v::DOUBLE), fsum(v::DOUBLE * w::DOUBLE), {squares}, bool_and({plain})"
        else:
            return None
        return f"count(*), coalesce(sum({one}), 0), coalesce(sum({one} * {other}), 0), {squares}, bool_and({plain})"
