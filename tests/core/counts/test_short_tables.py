"""Short tables are ranked as lists, long ones as arrays: both say the same, to the last digit."""

from __future__ import annotations

import unittest
from decimal import Decimal
from random import Random
from typing import Any
from unittest import mock

import numpy as np

from tests.effort import examples
from tests.ranked import pareto
from vantric.core.counts import ParetoTable, Provenance, ranking
from vantric.core.counts.ranking import _by_packed_keys
from vantric.core.counts.ranking import ranking as ranked
from vantric.core.counts.tally import make_tally
from vantric.core.numbers.amounts import Amounts
from vantric.core.review import review_pareto
from vantric.errors import VantricError
from vantric.tables.pareto import pareto_object, pareto_sentence


def drawn(draw: Random) -> tuple[dict[str, Any], dict[str, Any]]:
    """Return counts of one kind, and options of a table."""
    kinds = (
        lambda: draw.randint(0, 9),
        lambda: draw.randint(1, 10 ** draw.randint(1, 18)),
        lambda: draw.random() * 10 ** draw.randint(-3, 9),
        lambda: Decimal(draw.randint(1, 10**6)).scaleb(-draw.randint(0, 4)),
        lambda: draw.choice((0.1, 0.2, 0.3, 0.1 + 1e-12)),
        lambda: draw.randint(1, 10**25),
    )
    kind = draw.choice(kinds)
    counts = {f"L{number}": kind() for number in range(draw.choice((1, 2, 3, 5, 9, 30, 70)))}
    options: dict[str, Any] = {}
    if draw.random() < 0.4:
        options["cut"] = draw.choice((50, 80, (60, 90), 33.3, 99.9))
    options |= {name: value for name, value in (("rule", "within"), ("ties", "include")) if draw.random() < 0.3}
    if draw.random() < 0.2:
        options["keep"] = draw.randint(1, 5)
    return counts, options


def said(counts: dict[str, Any], options: dict[str, Any]) -> Any:
    try:
        table: ParetoTable = pareto(make_tally(counts.items(), Provenance(by="defect")), **options)
    except VantricError as error:
        return str(error)
    findings = review_pareto(table)
    arrays = (table.ranked, table.order, table.named, table.percents, table.cumulative_percents, table.ranks)
    return (
        pareto_object(table, findings, None, None),
        pareto_sentence(table),
        [(cut.crossing, cut.tied_count, cut.categories, cut.tied) for cut in table.cutoffs],
        table.ties,
        [(finding.code, str(finding.message)) for finding in findings],
        [array.tolist() for array in arrays],
    )


class Short(unittest.TestCase):
    def test_lists_and_arrays_say_the_same(self) -> None:
        for seed in range(examples(1200)):
            counts, options = drawn(Random(seed))
            short = said(counts, options)
            with mock.patch.object(ranking, "FEW", 0), mock.patch.object(Amounts, "_is_short", False):
                long = said(counts, options)
            with self.subTest(seed=seed, options=options):
                self.assertEqual(short, long)


class Packed(unittest.TestCase):
    def test_the_order_is_descending(self) -> None:
        chance = np.random.default_rng(3)
        for size in (2, 3, 1001, 5000, 70_000):
            for values in (
                chance.integers(0, 10, size),
                chance.integers(0, 2**62, size),
                chance.lognormal(0, 3, size),
                chance.random(size) * 1e-300,
                1 + chance.integers(0, 50, size) * 1e-15,
                np.zeros(size),
                chance.integers(2**60, 2**60 + 40, size),
                chance.choice([0.0, -0.0, 1e300, 5e-324, 1.0], size),
            ):
                order, descending = _by_packed_keys(values)
                self.assertTrue(np.array_equal(np.sort(order), np.arange(size)))
                self.assertTrue(np.array_equal(values[order], descending))
                self.assertTrue((descending[1:] <= descending[:-1]).all())

    def test_floats_that_tie_stand_in_the_order_of_their_labels(self) -> None:
        values = np.full(1500, 0.1)
        values[::2] += 1e-13
        table = ranked(Amounts(values), [f"L{number:04}" for number in range(1500)])
        self.assertEqual(table.order.tolist(), list(range(1500)))
        self.assertEqual(table.in_order.units.tolist(), values.tolist())
        self.assertEqual(table.end_of(1), 1500)
