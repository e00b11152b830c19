"""Any series in any chart: drawn without a fault, or refused in one line."""

import math
import unittest
import warnings
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import vantric as vt
from tests.effort import examples
from tests.rendered import faults
from vantric.errors import VantricError

KINDS = [vt.Bars, vt.Line, vt.Area, vt.Points, vt.Stems, vt.Steps]
COUNTS = [1, 2, 5, 12, 30, 70]
CATEGORIES = {
    "text": lambda n: [f"Crew {i}" for i in range(n)],
    "long": lambda n: [f"A rather long name of crew {i}" for i in range(n)],
    "month": lambda n: [f"{2020 + i // 12}-{i % 12 + 1:02d}" for i in range(n)],
    "day": lambda n: [f"2026-{1 + i // 28:02d}-{1 + i % 28:02d}" for i in range(n)],
    "number": lambda n: [1.5 * i for i in range(n)],
}
value = st.one_of(st.none(), st.just(0), st.floats(-1, 1), st.integers(-3, 40))
series = st.tuples(
    st.sampled_from(KINDS),
    st.sampled_from([1.0, 1e-5, 250.0, 1e9]),
    st.booleans(),
    st.lists(value, min_size=70, max_size=70),
    st.fixed_dictionaries(
        {},
        optional={
            "labels": st.sampled_from(["none", "value", "auto", "percent of series", "percent of total"]),
            "label_place": st.sampled_from(["above", "inside", "below", "beside"]),
            "axis": st.sampled_from(["primary", "secondary"]),
            "unit": st.sampled_from(["%", "kWh"]),
            "bridge": st.booleans(),
            "layer": st.sampled_from([-1, 1]),
        },
    ),
)
options = st.fixed_dictionaries(
    {},
    optional={
        "together": st.sampled_from(["grouped", "stacked", "percent", "overlaid"]),
        "orientation": st.just("horizontal"),
        "legend": st.sampled_from(["below", "left", "right", "ends", "none"]),
        "policy": st.sampled_from(["grid", "common", "separate", "proportional"]),
        "primary_log": st.just(True),
        "totals": st.just(True),
        "references": st.sampled_from([[vt.Reference(3, text="Target")], [vt.Reference(-1, 2, "Band")]]),
        "size": st.sampled_from([(640, 400), (1600, 900), (360, 280)]),
        "theme": st.sampled_from(["dark", "print"]),
        "gap": st.just(0.3),
        "transpose": st.just(True),
    },
)


class Everything(unittest.TestCase):
    @settings(
        max_examples=examples(110),
        deadline=None,
        suppress_health_check=[HealthCheck.too_slow, HealthCheck.large_base_example],
    )
    @given(
        st.sampled_from(COUNTS), st.sampled_from(sorted(CATEGORIES)), st.lists(series, min_size=1, max_size=4), options
    )
    def test_without_a_fault_or_refused_in_one_line(
        self, count: int, kind: str, wanted: list[Any], look: dict[str, Any]
    ) -> None:
        try:
            made = []
            for number, (drawn, scale, whole, values, said) in enumerate(wanted):
                own = [None if one is None else scale * one for one in values[:count]]
                own = [None if one is None else round(one) for one in own] if whole else own
                made.append(drawn(f"Series {number}", own, **said))
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                chart = vt.Chart(CATEGORIES[kind](count), made, subject="crew", **look)
                self.assertEqual(list(faults(chart)), [])
        except VantricError as error:
            self.assertNotIn("\n", str(error))
            return
        self.check_values(chart)
        self.assertNotIn("\n", chart.description)
        self.assertGreaterEqual(chart.plan().left_out, 0)

    def check_values(self, chart: vt.Chart) -> None:
        """Every value lies within the limits of its axis, and bars stand on zero or on the floor."""
        for one in chart.series:
            scale = chart.scales.secondary if one.axis == "secondary" else chart.scales.primary
            for value in one.values:
                if not math.isnan(value) and chart.together not in ("stacked", "percent"):
                    self.assertTrue(scale.lower - 1e-9 * abs(scale.lower) <= value <= scale.upper * (1 + 1e-9) + 1e-300)
            if one.kind in ("bars", "area", "stems") and scale.kind == "linear":
                self.assertLessEqual(scale.lower, 0)
                self.assertGreaterEqual(scale.upper, 0)
