"""Charts in an open grammar: valid against its schema, and drawn by an independent renderer where the plan has them."""

from __future__ import annotations

import gzip
import json
import re
import tempfile
import unittest
from functools import cache
from importlib.resources import as_file, files
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import numpy as np
import vl_convert
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft7Validator

import vantric as vt
from tests.cli.test_cli import Result

VERSION = "6.4"
_NUMBER = r"-?\d+(?:\.\d+)?(?:e-?\d+)?"


@cache
def validator() -> Draft7Validator:
    """Return what checks against the published schema (version 6.4.1, BSD 3-Clause), kept here without its prose."""
    packed = Path(__file__).with_name("open_grammar.schema.json.gz").read_bytes()
    return Draft7Validator(json.loads(gzip.decompress(packed)))


def demo(name: str) -> Any:
    return as_file(files("vantric.demo") / "data" / name)


def is_valid(specification: dict[str, Any]) -> list[str]:
    return [error.message for error in validator().iter_errors(json.loads(json.dumps(specification)))]


class Drawing:
    """What the renderer drew: bars and points, from the upper left corner of the frame."""

    def __init__(self, specification: dict[str, Any]) -> None:
        text = vl_convert.vegalite_to_svg(specification, vl_version=VERSION)
        self.bars: list[tuple[str, float, float, float, float]] = []
        self.points: list[tuple[str, float, float]] = []
        self.texts = re.findall(r"<text[^>]*>([^<]*)</text>", text)
        self._walk(ElementTree.fromstring(text), (0.0, 0.0), inside=False)

    def _walk(self, element: Any, origin: tuple[float, float], *, inside: bool) -> None:
        moved = re.match(rf"translate\(({_NUMBER}),\s*({_NUMBER})\)", element.get("transform", ""))
        kind, label = element.get("aria-roledescription", ""), element.get("aria-label", "")
        shift = tuple(map(float, moved.groups())) if moved else (0.0, 0.0)
        here = (origin[0] + shift[0], origin[1] + shift[1])
        if kind == "bar":
            x, y, across, down = map(
                float,
                re.match(rf"M({_NUMBER}),({_NUMBER})h({_NUMBER})v({_NUMBER})", element.get("d")).groups(),  # type: ignore[union-attr]
            )
            left, right = sorted((x, x + across))
            top, bottom = sorted((y, y + down))
            self.bars.append((label, origin[0] + left, origin[1] + top, origin[0] + right, origin[1] + bottom))
        if kind in ("point", "circle", "square"):
            self.points.append((label, here[0], here[1]))
        # The plot is the group within the picture's own margin: places are told from its corner.
        is_frame = "role-frame" in element.get("class", "")
        for child in element:
            self._walk(child, (0.0, 0.0) if is_frame else here, inside=inside or is_frame)


def category_of(label: str) -> str:
    return re.split(r"; |$", label.split(": ", 1)[-1])[0] if "category: " in label else label


class Everywhere(unittest.TestCase):
    def assert_as_planned(self, chart: vt.Chart) -> Drawing:
        specification = chart.to_vega_lite()
        self.assertEqual(is_valid(specification), [])
        plan, drawing = chart.plan(), Drawing(specification)
        frame = plan.frame
        edges = plan.bars.edges.copy()
        bars = (
            np.column_stack(
                (edges[:, 0] - frame.left, frame.top - edges[:, 3], edges[:, 2] - frame.left, frame.top - edges[:, 1])
            )
            if len(edges)
            else np.empty((0, 4))
        )
        bars = bars[np.isfinite([value for series in chart.bars for value in series.values])] if len(bars) else bars
        drawn = np.array([bar[1:] for bar in drawing.bars]).reshape(-1, 4)
        self.assertEqual(len(drawn), len(bars))
        for own in bars:  # no two are alike within half a pixel, or they are drawn alike
            self.assertLess(np.abs(drawn - own).max(axis=1).min(), 0.5, own)
        points = [
            (x - frame.left, frame.top - y)
            for marks in plan.point_sets
            if chart.series[marks.series].kind in ("line", "points", "stems")
            for x, y in zip(marks.xs.tolist(), marks.ys.tolist(), strict=True)
            if x == x
        ]
        there = np.array([point[1:] for point in drawing.points]).reshape(-1, 2)
        self.assertEqual(len(there), len(points))
        for place in points:
            self.assertLess(np.abs(there - np.array(place)).max(axis=1).min(), 0.5, place)
        return drawing

    def test_charts_of_the_demo_are_drawn_where_the_plan_has_them(self) -> None:
        with demo("inspections.csv") as log, demo("firings.csv") as sheet:
            charts = [
                *(vt.pareto(log, by="defect", keep=7).chart(orientation=way) for way in ("vertical", "horizontal")),
                vt.pareto(log, by="defect", keep=7).chart(orientation="vertical", line_at="edge"),
                vt.pareto(log, by="defect").chart(theme="dark"),
                vt.combine(
                    sheet, "month", bars=["first_firing", "second_firing"], line="percent:rejected/first_firing"
                ),
                vt.combine(sheet, "month", bars="margin", points="rejected"),
                vt.crosstab(log, "product", "kiln").chart(together="stacked"),
                vt.crosstab(log, "product", "kiln").chart(together="percent"),
                vt.crosstab(log, "product", "kiln").chart(together="grouped", orientation="horizontal"),
            ]
        for chart in charts:
            with self.subTest(chart=repr(chart)):
                drawing = self.assert_as_planned(chart)
                for text in chart.categories if not chart.period else ():
                    self.assertTrue(any(text in line or line.rstrip("…") in text for line in drawing.texts), text)

    def test_every_kind_of_series_and_scale(self) -> None:
        charts = [
            vt.Chart(list("abc"), [vt.Bars("x", [3, None, -2]), vt.Line("y", [1, None, 3], bridge=True)]),
            vt.Chart(list("cab"), [vt.Points("p", [1, 10, 1000]), vt.Line("q", [5, 50, None])], primary_log=True),
            vt.Chart(list("cab"), [vt.Stems("p", [1, 4, -2]), vt.Bars("q", [5, 50, 7], axis="secondary")]),
            vt.Chart(
                list("cab"),
                [vt.Area("p", [1, 4, 2]), vt.Steps("s", [2, 1, 3]), vt.Bars("q", [5, 50, 7])],
                references=[vt.Reference(2.5, text="Limit"), vt.Reference(1, 2, "Band")],
            ),
            vt.Chart(["2026-01", "2026-02"], [vt.Bars("a.b", [1, 2]), vt.Bars("c[0]'\"\\", [2, 1])]),
            vt.Chart(["a.b", "c'd", 'e"f', "g\\h", "<i>"], [vt.Bars("category", [1, 2, 3, 4, 5])]),
            vt.Chart(["only"], [vt.Bars("a", [0.000123]), vt.Line("b", [1e12], axis="secondary")]),
        ]
        for chart in charts:
            with self.subTest(chart=repr(chart)):
                self.assert_as_planned(chart)

    @given(
        st.lists(st.integers(-(10**6), 10**6), min_size=2, max_size=8),
        st.lists(st.floats(-1e3, 1e3, allow_subnormal=False), min_size=8, max_size=8),
        st.booleans(),
    )
    @settings(max_examples=12, deadline=None)
    def test_any_values(self, bars: list[int], line: list[float], turned: bool) -> None:
        names = [f"{place}-{chr(97 + place)}" for place in range(len(bars), 0, -1)]
        series = [vt.Bars("bars", bars), vt.Line("line", line[: len(bars)], axis="secondary")]
        self.assert_as_planned(vt.Chart(names, series, orientation="horizontal" if turned else "vertical"))

    def test_intervals_bands_and_marked_dates_are_written_too(self) -> None:
        with demo("inspections.csv") as log, demo("firings.csv") as sheet:
            chart = vt.pareto(log, by="defect", keep=7).chart(intervals=True, orientation="vertical")
            dated = vt.combine(sheet, "month", bars="rejected", marks=["2026-05-12=New glaze"])
        specification = chart.to_vega_lite()
        self.assertEqual(is_valid(specification), [])
        [bars] = chart.bars
        rows = specification["data"]["values"]
        self.assertEqual([(row["Frequency low"], row["Frequency high"]) for row in rows], [*bars.spreads])
        text = vl_convert.vegalite_to_svg(specification, vl_version=VERSION)
        rules = "".join(re.findall(r'<g class="mark-rule role-mark.*?</g>', text, re.DOTALL))
        self.assertGreaterEqual(rules.count("<line"), len(rows) + 1, "an interval a bar, and the cutoff")
        self.assertEqual(is_valid(dated.to_vega_lite()), [])
        self.assertIn("New glaze", json.dumps(dated.to_vega_lite()))
        vl_convert.vegalite_to_svg(dated.to_vega_lite(), vl_version=VERSION)

    def test_every_layer_names_the_full_domain_of_the_categories(self) -> None:
        chart = vt.pareto({"a": 5, "b": 3, "c": 1}).chart()
        across = "y" if chart.horizontal else "x"
        layers = [layer for group in chart.to_vega_lite()["layer"] for layer in group["layer"]]
        named = [layer["encoding"][across]["scale"]["domain"] for layer in layers if across in layer["encoding"]]
        self.assertGreaterEqual(len(named), 2)
        self.assertTrue(all(domain == list(chart.categories) for domain in named))

    def test_scales_are_those_that_were_worked_out(self) -> None:
        chart = vt.pareto({"a": 5, "b": 3, "c": 1}).chart(orientation="vertical")
        primary, secondary = (group["layer"][-1]["encoding"]["y"] for group in chart.to_vega_lite()["layer"])
        self.assertEqual(primary["scale"]["domain"], [chart.scales.primary.lower, chart.scales.primary.upper])
        self.assertEqual(secondary["scale"]["domain"], [0, 100])
        self.assertEqual(secondary["axis"]["orient"], "right")

    def test_what_has_no_form_in_the_grammar_is_refused_in_one_line(self) -> None:
        with demo("inspections.csv") as log:
            panels = vt.pareto(log, by="product", split="kiln").chart(panels=True)
            pairs = vt.compare(log, by="product", split="shift", groups=("Early", "Night")).chart()
        with tempfile.TemporaryDirectory() as folder:
            for chart in (panels, pairs, vt.tally({"a": 3, "b": 2}).chart(share_bar=True)):
                with self.assertRaisesRegex(vt.ChartError, r"\.vl\.json"):
                    chart.save(Path(folder) / "x.vl.json")
            self.assertEqual(list(Path(folder).iterdir()), [])


class CommandLine(unittest.TestCase):
    def test_the_longest_ending_decides(self) -> None:
        with tempfile.TemporaryDirectory() as folder, demo("inspections.csv") as log:
            target, data = Path(folder) / "chart.VL.json", Path(folder) / "vl.json"
            shown = Result("pareto", str(log), "--by", "defect", "--out", str(target), "--out", str(data))
            self.assertEqual(shown.status, 0, shown.err)
            specification = json.loads(target.read_text(encoding="utf-8"))
            self.assertEqual(is_valid(specification), [])
            self.assertIn("rows", json.loads(data.read_text(encoding="utf-8")))
            chart = vt.pareto(log, by="defect").chart()
            self.assertEqual(len(specification["data"]["values"]), len(chart.categories))


if __name__ == "__main__":
    unittest.main()
