"""Every chart of the demo, in every theme and orientation: no text over another, over the edge, or over a point."""

import tempfile
import unittest
import warnings
from dataclasses import replace
from itertools import product
from pathlib import Path
from unittest import mock

import vantric as vt
from tests.effort import some
from tests.rendered import faults, plans
from vantric.demo import DATA, data_file
from vantric.rendering.pictures import picture

ANSWERS = ["Strongly disagree", "Disagree", "Neither", "Agree", "Strongly agree"]


class Demo(unittest.TestCase):
    folder: Path

    @classmethod
    def setUpClass(cls) -> None:
        holder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(holder.cleanup)
        cls.folder = Path(holder.name)
        for name in DATA:
            (cls.folder / name).write_bytes(data_file(name))
        log, map_ = cls.folder / "inspections.csv", cls.folder / "defect_families.csv"
        plain = {"merge_spellings": True, "date": "date"}
        cls.tables = {
            "defects": vt.pareto(log, "defect"),
            "pieces": vt.pareto(log, "defect", count="pieces", cut=(60, 80, 95), keep=16, **plain),
            "cost": vt.pareto(log, "defect", count="pieces", weight="rework_cost", fold_below=2, **plain),
            "rates": vt.pareto(log, "kiln", per="pieces", per_units=100),
            "families": vt.pareto(log, "defect", families=map_, where="shift = 'Night'", cut=70),
            "answers": vt.pareto(cls.folder / "survey.csv", "answer", order=ANSWERS),
            "kilns": vt.pareto(log, "defect", split="kiln", keep=10, **plain),
            "months": vt.pareto(log, "defect", split="date", period="month", keep=8, **plain),
            "drill": vt.pareto(log, drill=["family", "defect"], families=map_, merge_spellings=True),
        }
        shifts = vt.crosstab(log, "defect", "shift", merge_spellings=True)
        cls.comparison = shifts.compare("Early", "Night")

    def sound(self, name: str, chart: vt.Chart | vt.PanelChart) -> None:
        with self.subTest(chart=name):
            self.assertEqual(list(faults(chart)), [])

    def test_every_table_in_every_theme_and_orientation(self) -> None:
        for (name, table), theme, orientation in product(
            self.tables.items(), ("light", "dark", "print"), ("vertical", "horizontal")
        ):
            self.sound(f"{name} {theme} {orientation}", vt.pareto_chart(table, theme=theme, orientation=orientation))

    def test_points_at_the_edges_and_labels_in_percent(self) -> None:
        for (name, table), orientation in product(self.tables.items(), ("vertical", "horizontal")):
            look = {"line_at": "edge", "labels": "percent", "legend": "right", "orientation": orientation}
            self.sound(f"{name} {look}", vt.pareto_chart(table, **look))
            look = {"label_place": "inside", "cumulative": "frequency", "legend": "below", "orientation": orientation}
            self.sound(f"{name} {look}", vt.pareto_chart(table, **look))

    def test_panels_and_comparisons(self) -> None:
        for orientation in ("vertical", "horizontal"):
            for name in ("kilns", "months"):
                self.sound(
                    f"{name} panels {orientation}",
                    vt.pareto_chart(self.tables[name], panels=True, orientation=orientation),
                )
            self.sound(f"comparison {orientation}", self.comparison.chart(orientation=orientation))

    def test_small_and_large_pictures(self) -> None:
        for name, size in product(("defects", "pieces", "answers"), ((640, 400), (2560, 1600), (700, 900))):
            for orientation in ("vertical", "horizontal"):
                self.sound(f"{name} {size}", vt.pareto_chart(self.tables[name], size=size, orientation=orientation))

    def test_combination_charts_in_every_theme(self) -> None:
        fired, second = "first_firing=Tiles fired", "second_firing=Second firing"
        rejected = "percent:rejected/first_firing=Rejected"
        firings, crews = self.folder / "firings.csv", self.folder / "crews.csv"
        limit = [vt.Reference(4, text="Limit 4%", axis="secondary")]
        tiles = {"units": {"Tiles fired": "tiles"}}
        for theme, labels in some(product(("light", "dark", "print"), ("auto", "value"))):
            looks = {"theme": theme, "labels": labels}
            drawn = {
                "rejects": vt.combine(
                    firings, x="month", bars=fired, line=rejected, references=limit, **tiles, **looks
                ),
                "energy": vt.combine(
                    firings,
                    x="month",
                    bars=[fired, second],
                    line="energy_kwh=Energy",
                    secondary="Energy",
                    together="stacked",
                    totals=True,
                    **looks,
                ),
                "margin": vt.combine(firings, x="month", bars=[fired, "margin"], **looks),
                "overlay": vt.combine(firings, x="month", bars=[fired, second], together="overlaid", **looks),
                "crews": vt.combine(
                    crews, x="crew", area="planned_hours=P", bars="achieved_hours=A", primary_log=True, **looks
                ),
                "points": vt.combine(firings, x="month", points=rejected, stems="margin", legend="below", **looks),
                "ends": vt.combine(firings, x="month", line=[fired, second], steps="rejected", legend="ends", **looks),
                "weeks": vt.combine(
                    self.folder / "inspections.csv",
                    x="date",
                    period="week",
                    bars="sum:pieces=Pieces",
                    points="mean:rework_cost=Cost",
                    **looks,
                ),
            }
            for name, chart in drawn.items():
                self.sound(f"{name} {theme} {labels}", chart)

    def test_plain_charts_of_tallies(self) -> None:
        log = self.folder / "inspections.csv"
        defects, table = vt.tally(log, "defect", merge_spellings=True), vt.crosstab(log, "product", "kiln")
        for theme, orientation in product(("light", "print"), ("vertical", "horizontal")):
            looks = {"theme": theme, "orientation": orientation}
            self.sound(f"bars {looks}", defects.chart(**looks))
            for together in ("grouped", "stacked", "percent"):
                self.sound(f"{together} {looks}", table.chart(together=together, totals=together == "stacked", **looks))
            self.sound(f"turned {looks}", table.chart(transpose=True, values="percent", gap=0.1, **looks))
        self.sound("strip", defects.chart(share_bar=True))


class Labels(unittest.TestCase):
    scripts = ["Pinhole", "שריטה עמוקה", "خدش في الطلاء", "釉薬のひび割れと欠け", "Кривая кромка", "Übermaß 12 mm"]

    def test_many_and_long_labels(self) -> None:
        for count, length in some(product((3, 9, 25, 60, 300), (2, 15, 80))):
            word = ("glaze " * 20)[:length].strip()
            counts = {f"{word}{n}": 5 * count - n for n in range(count)}
            for orientation in ("vertical", "horizontal"):
                chart = vt.pareto_chart(counts, orientation=orientation)
                with self.subTest(count=count, length=length, orientation=orientation):
                    self.assertEqual(list(faults(chart)), [])
            codes = [finding.code for finding in vt.review(vt.pareto(counts))]
            self.assertEqual("many-categories" in codes, count > 60)

    def test_scripts(self) -> None:
        for orientation in ("vertical", "horizontal"):
            chart = vt.pareto_chart(dict.fromkeys(self.scripts, 5), orientation=orientation)
            with warnings.catch_warnings(record=True) as caught:
                warnings.simplefilter("always")
                picture(chart, "png")
            self.assertLessEqual(len(caught), 1, "what no font has is told once")
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                self.assertEqual(list(faults(chart)), [])

    def test_faults_are_found(self) -> None:
        chart = vt.pareto_chart({"a": 3, "b": 2}, category_title="x" * 10)
        [(_, plan)], _, families = plans(chart)
        label = next(mark for mark in plan.texts if mark.role == "category")
        on_label = label._replace(text="over")
        on_point = label._replace(x=float(plan.points.xs[0]), y=float(plan.points.ys[0]))
        outside = label._replace(x=-9.0)
        for extra, words in ((on_label, "covers"), (on_point, "lies on a point"), (outside, "leaves the picture")):
            flawed = replace(plan, texts=(*plan.texts, extra))
            with mock.patch("tests.rendered.planned_figure", return_value=(flawed, families)):
                self.assertTrue(any(words in fault for fault in faults(chart)), words)
