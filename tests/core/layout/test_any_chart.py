"""Any table in any look: it is drawn without a fault, or refused in one line."""

import unittest
import warnings
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import vantric as vt
from tests.effort import examples
from tests.rendered import faults
from vantric.errors import VantricError

NAMES = [
    "Pinhole",
    "x",
    "Glaze runs over the edge and sticks to the plate",
    "A" * 70,
    "שריטה",
    "a$b_c^d",
    "=1+1",
    "Other",
    "  lead",
]
labels = st.one_of(
    st.none(), st.tuples(st.sampled_from(NAMES), st.integers(0, 12)).map(lambda pair: f"{pair[0]} {pair[1]}")
)
records = st.tuples(
    labels, st.sampled_from(["x", "y", None]), st.sampled_from([0, 1, 2, 50, 10**20]), st.sampled_from([0, 0.5, 1e9])
)
wishes = st.fixed_dictionaries(
    {},
    optional={
        "count": st.just("n"),
        "weight": st.just("w"),
        "cut": st.sampled_from([None, 50, (60, 80), (50, 75, 95)]),
        "rule": st.sampled_from(["reach", "within"]),
        "ties": st.sampled_from(["exclude", "include"]),
        "order": st.sampled_from(["given", "label", "frequency"]),
        "keep": st.sampled_from([1, 3, 8]),
        "missing": st.sampled_from(["exclude", "category"]),
        "drop_zero": st.booleans(),
        "split": st.just("k"),
    },
)
looks = st.fixed_dictionaries(
    {},
    optional={
        "orientation": st.sampled_from(["vertical", "horizontal"]),
        "line_at": st.sampled_from(["center", "edge"]),
        "labels": st.sampled_from(["frequency", "percent", "none"]),
        "label_place": st.sampled_from(["above", "inside"]),
        "cumulative": st.sampled_from(["percent", "frequency", "none"]),
        "legend": st.sampled_from(["above", "below", "right", "none"]),
        "size": st.sampled_from([(1280, 800), (700, 500), (1600, 700)]),
        "before_number": st.sampled_from(["", "€ "]),
    },
)


class Everything(unittest.TestCase):
    @settings(max_examples=examples(120), deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(st.lists(records, min_size=1, max_size=60), wishes, looks, st.booleans())
    def test_without_a_fault_or_refused_in_one_line(
        self, found: list[tuple[Any, ...]], wish: dict[str, Any], look: dict[str, Any], panels: bool
    ) -> None:
        data = {name: [row[at] for row in found] for at, name in enumerate(("d", "k", "n", "w"))}
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                table = vt.pareto(data, "d", **wish)
                chart = vt.pareto_chart(table, panels=panels and "split" in wish, **look)
                self.assertEqual(list(faults(chart)), [])
        except VantricError as error:
            self.assertNotIn("\n", str(error))
            return
        self.assertEqual(table.rows[-1].cumulative_percent, 100.0)
        self.assertEqual(table.rows[-1].cumulative_frequency, table.total)
        self.assertTrue(table.sentence().endswith("."))
        self.assertNotIn("\n", table.sentence())
        told = table.to_dict()
        self.assertEqual(len(told["rows"]), len(table))
        self.assertEqual(sum(row["count"] for row in told["rows"]), told["records"])
        self.assertEqual(len(table.to_frame()), len(table))
