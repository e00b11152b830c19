"""How much a test does: all of it in `make test-all` and in CI, a quarter of its examples in `make test`."""

import os
from collections.abc import Iterable
from typing import TypeVar

T = TypeVar("T")
ALL = os.environ.get("VANTRIC_TESTS") == "all"


def examples(number: int) -> int:
    """Return how many examples, rounds or random inputs a test takes."""
    return number if ALL else max(6, number // 4)


def some(cases: Iterable[T], every: int = 4) -> list[T]:
    """Return all cases of a table, or one in so many, the first among them."""
    return list(cases) if ALL else list(cases)[::every]
