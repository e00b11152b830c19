"""The semantic SVG in Chromium beside the Matplotlib picture of the same plan: every mark is in the same place."""

from __future__ import annotations

import io
import unittest

import numpy as np
from numpy.typing import NDArray
from PIL import Image

import vantric as vt
from tests.browser.chromium import FOUND, screenshot
from tests.rendered import plans
from vantric.core.layout import Box, Plan
from vantric.demo import data_file
from vantric.rendering.pictures import picture
from vantric.rendering.themes import theme_named

_NEAR = 40  # of 255: what edges and letters may differ by
Pixels = NDArray[np.uint8]


def demo(name: str) -> io.BytesIO:
    return io.BytesIO(data_file(name))


def charts() -> dict[str, vt.Chart | vt.PanelChart]:
    months = [f"2026-{n:02d}" for n in range(1, 13)]
    good, scrap = [600.0 + 9 * n for n in range(12)], [40.0 + 7 * (n % 5) for n in range(12)]
    bars = [vt.Bars("Good", good, unit="tiles"), vt.Bars("Scrap", scrap, unit="tiles")]
    energy = vt.Line("Energy", [30 + n % 4 for n in range(12)], axis="secondary", unit="MWh", pattern="dashed")
    counts = {f"Defect {n}": 400 // (n + 1) for n in range(14)}
    return {
        "pareto": vt.pareto_chart(counts),
        "dark and horizontal": vt.pareto_chart(counts, theme="dark", orientation="horizontal"),
        "print and stacked": vt.Chart(months, [*bars, energy], together="stacked", totals=True, theme="print"),
        "areas, stems and steps": vt.Chart(
            months,
            [vt.Area("a", good), vt.Stems("b", scrap), vt.Steps("c", good), vt.Points("d", scrap, marker="cross")],
            references=[vt.Reference(300, text="Limit"), vt.Reference(100, 200, "Band")],
        ),
        "classes": vt.pareto(counts, cut=(50, 80, 95)).chart(theme="contrast", orientation="horizontal"),
        "limit": vt.Chart(
            months,
            [vt.Bars("Good", good), vt.Line("Scrap", scrap, axis="secondary")],
            references=[vt.Reference(50, text="50 limit", axis="secondary"), vt.Reference("mean")],
            marks=[vt.Mark("2026-05-12", "New glaze")],
            theme="clay",
        ),
        "two sides": vt.compare({"a": 50, "b": 30}, {"a": 20, "b": 60}).chart(form="bars"),
        "dumbbells": vt.compare({"a": 50, "b": 30, "c": 9}, {"a": 20, "b": 60, "c": 8}).chart(),
        "points on a log axis": vt.combine(
            {"crew": ["A", "B", "C"], "plan": [2, 300, 4000], "actual": [3, 250, 4100]},
            "crew",
            planned="plan",
            actual="actual",
            primary_log=True,
        ),
        "trends": vt.trend(
            {"d": ["a", "b", "a", "b", "a", "a"] * 6, "m": [f"2026-{n:02}" for n in range(1, 7)] * 6},
            "d",
            date="m",
            period="month",
        ).chart(),
        "shares": vt.tally(counts).chart(share_bar=True),
        "log": vt.Chart(["a", "b", "c"], [vt.Bars("n", [2, 300, 40_000])], primary_log=True),
        "small": vt.pareto_chart(counts, size=(520, 320)),
        "clipped": vt.Chart(months, [vt.Line("a", good)], primary_limits=(620, 660), clip=True),
    }


def raster(chart: vt.Chart | vt.PanelChart) -> Pixels:
    return np.asarray(Image.open(io.BytesIO(picture(chart, "png"))).convert("RGB"))


@unittest.skipUnless(FOUND, "SKIPPED: no Chromium is installed (Debian's package chromium)")
class BothRenderers(unittest.TestCase):
    def test_the_pictures_are_near(self) -> None:
        for name, chart in charts().items():
            with self.subTest(name):
                size = int(chart.size[0]), int(chart.size[1])
                shown, drawn = screenshot(picture(chart, "svg"), "svg", size), raster(chart)
                self.assertEqual(shown.shape, drawn.shape)
                far = (np.abs(shown.astype(int) - drawn.astype(int)).max(axis=2) > _NEAR).mean()
                self.assertLess(
                    far, 0.06 if "print" in name else 0.03
                )  # letters and patterns; marks are compared one by one below
                self.marks(chart, shown, drawn)
                self.texts(chart, shown, drawn)

    def texts(self, chart: vt.Chart | vt.PanelChart, shown: Pixels, drawn: Pixels) -> None:
        """Hold the ends of the ink of every text to the same places in both pictures, within two pixels."""
        theme, high = theme_named(chart.theme), int(chart.size[1])
        compared = 0
        for home, mark in [(home, mark) for home, plan in plans(chart)[0] for mark in plan.texts]:
            color = theme.color(mark.role)
            ink = np.array([int(color[place : place + 2], 16) for place in (1, 3, 5)])
            left, right = (round(value + home.left) for value in (mark.box.left, mark.box.right))
            bottom, top = (round(value + home.bottom) for value in (mark.box.bottom, mark.box.top))
            part = slice(high - top, high - bottom), slice(max(left, 0), right)
            spots = [np.argwhere(np.abs(image[part].astype(int) - ink).max(axis=2) < 120) for image in (shown, drawn)]
            if min(map(len, spots)) < 12:
                continue
            ends = [np.array([spot.min(axis=0), spot.max(axis=0)]) for spot in spots]
            self.assertLessEqual(np.abs(ends[0] - ends[1]).max(), 2.0, (mark.text, ends))
            compared += 1
        self.assertGreater(compared, 3)

    def marks(self, chart: vt.Chart | vt.PanelChart, shown: Pixels, drawn: Pixels) -> None:
        """Hold every bar and every point to the same pixels of both pictures."""
        theme, compared = theme_named(chart.theme), 0
        for home, plan in plans(chart)[0]:
            for (left, bottom, right, top), role in zip(plan.bars.edges.tolist(), plan.bars.roles, strict=True):
                if right - left < 8 or top - bottom < 8 or role.partition(":")[0] in theme.hatches:
                    continue
                for x, y in ((left + 2, bottom + 2), (right - 2, bottom + 2), (left - 2, (bottom + top) / 2)):
                    compared += self.alike(home, plan, shown, drawn, x, y)
            for points in plan.point_sets:
                for x, y in zip(points.xs.tolist(), points.ys.tolist(), strict=True):
                    if points.radius and x == x:
                        compared += self.alike(home, plan, shown, drawn, x, y)
        self.assertGreater(compared, 3)

    def alike(self, home: Box, plan: Plan, shown: Pixels, drawn: Pixels, x: float, y: float) -> int:
        column, row = int(home.left + x), int(shown.shape[0] - home.bottom - y)
        if any(
            box.left - 4 < x < box.right + 4 and box.bottom - 4 < y < box.top + 4 for box in (m.box for m in plan.texts)
        ):
            return 0
        around = drawn[row - 2 : row + 3, column - 2 : column + 3].astype(int).reshape(-1, 3)
        near = shown[row - 1 : row + 2, column - 1 : column + 2].astype(int).reshape(-1, 3)  # an edge is set to pixels
        distance = np.abs(around[:, None] - near[None]).max(axis=2).min()
        self.assertLess(distance, _NEAR, (x, y, shown[row, column], drawn[row, column]))
        return 1

    def test_text_keeps_its_measured_width_without_the_font(self) -> None:
        chart = charts()["pareto"]
        other = picture(chart, "svg").replace(b"Vantric Sans", b"DejaVu Serif")
        size = int(chart.size[0]), int(chart.size[1])
        one, two = screenshot(picture(chart, "svg"), "svg", size), screenshot(other, "svg", size)
        title = next(mark for mark in chart.plan().texts if mark.role == "title")
        rows = slice(int(size[1] - title.box.top), int(size[1] - title.box.bottom))
        ends = [int(np.flatnonzero((shot[rows].max(axis=2) < 128).any(axis=0))[-1]) for shot in (one, two)]
        self.assertAlmostEqual(ends[0], ends[1], delta=4)


if __name__ == "__main__":
    unittest.main()
