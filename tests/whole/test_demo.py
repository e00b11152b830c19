"""The scenario, the full example, and what the README says."""

import contextlib
import io
import re
import tempfile
import unittest
from itertools import pairwise
from pathlib import Path
from random import Random

from openpyxl import load_workbook
from PIL import Image
from tools.demo.make_data import DEFECTS, MADE, make_all

import vantric as vt
from vantric.cli.main import run
from vantric.demo import DATA, STEPS, data_file

ROOT = Path(__file__).parents[2]


class Data(unittest.TestCase):
    def test_the_shipped_files_are_what_the_script_makes(self) -> None:
        made = make_all()
        self.assertEqual(sorted([*made, *MADE, "monthly.toml"]), sorted(DATA))
        for name, content in made.items():
            self.assertEqual(data_file(name).decode(), content, name)

    def test_the_shipped_workbooks_hold_what_the_script_makes(self) -> None:
        for name, make in MADE.items():
            made, shipped = make(Random(20261104)), data_file(name)
            if name.endswith(".csv"):
                self.assertEqual(made, shipped)
                continue
            pages = [
                [
                    [cell.value for cell in row]
                    for page in load_workbook(io.BytesIO(content))
                    for row in page.iter_rows()
                ]
                for content in (made, shipped)
            ]
            self.assertEqual(*pages, name)

    def test_sheets_as_people_make_them_are_read_right(self) -> None:
        book = load_workbook(io.BytesIO(data_file("kiln_sheets.xlsx")))
        rows = [[cell.value for cell in row] for name in book.sheetnames[1:] for row in book[name].iter_rows(min_row=4)]
        pieces = sum(row[2] for row in rows if row[1])
        with tempfile.TemporaryDirectory() as name:
            for file in MADE:
                (Path(name) / file).write_bytes(data_file(file))
            kilns = vt.tally(Path(name) / "kiln_sheets.xlsx", "Kiln", count="Pieces", sheet="*")
            self.assertEqual((kilns.total, kilns.categories), (pieces, ("Kiln 1", "Kiln 2", "Kiln 3")))
            shares = vt.tally(Path(name) / "kiln_sheets.xlsx", "Defect", count="Share", sheet="March")
            self.assertAlmostEqual(float(shares.total), 100)
            scrap = vt.tally(Path(name) / "scrap_years.xlsx", "Defect", count="2026 Pieces (pcs)")
            self.assertEqual(len(scrap.categories), 6)
            costs = vt.tally(Path(name) / "rework_costs.csv", "Fehler", weight="Kosten", date="Datum")
            self.assertEqual(len(costs.categories), 8)
            self.assertRegex(str(costs.origin.days), "2026-..-..")

    def test_every_defect_as_typed_has_its_family(self) -> None:
        found = {line.split(",")[4] for line in make_all()["inspections.csv"].splitlines()[1:]}
        self.assertEqual({label for label in found if label.strip()}, {defect for defect, _, _ in DEFECTS})
        self.assertEqual(len(DEFECTS), 24)
        self.assertTrue(found - {label.strip() for label in found}, "some labels have stray blanks")

    def test_crews_differ_by_three_orders_and_some_margins_are_negative(self) -> None:
        hours = [float(line.split(",")[1]) for line in make_all()["crews.csv"].splitlines()[1:]]
        self.assertGreaterEqual(max(hours) / min(hours), 1000)
        margins = [int(line.split(",")[5]) for line in make_all()["firings.csv"].splitlines()[1:]]
        self.assertTrue(min(margins) < 0 < max(margins))


class Example(unittest.TestCase):
    def test_the_full_example_writes_what_it_says(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder, out, before = Path(name) / "new" / "demo", io.StringIO(), Path.cwd()
            with contextlib.redirect_stdout(out), contextlib.redirect_stderr(io.StringIO()):
                self.assertEqual(run(["demo", "--to", str(folder)]), 0)
                self.assertEqual(run(["demo", "--to", str(folder)]), 0)
            self.assertEqual(Path.cwd(), before)
            named = {
                word
                for _, step in STEPS
                for flag, word in pairwise(step)
                if flag in ("--out", "--save-chart", "--repair")
            }
            beside = {"pieces.svg", "drill.svg"} - {name for name in named if name.endswith(".svg")}
            found = {path.name for path in folder.iterdir()}
            self.assertEqual(found - beside, {*named, *DATA, "shown"})
            self.assertEqual(len(list((folder / "shown").iterdir())), len(STEPS))
            self.assertIn("Pinhole", (folder / "shown/02-pareto.txt").read_text())
            self.assertLess(out.getvalue().count("\n"), 520)  # twice
            self.assertIn("report.html' in a browser", out.getvalue().splitlines()[-1])
            self.assertIn("Since last time", (folder / "report.html").read_text())
            with Image.open(folder / "defects.png") as image:
                self.assertEqual(image.size, (1280, 800))
            self.assertIn(
                "$ vantric pareto inspections.csv --by defect --noun defects --out defects.png", out.getvalue()
            )


class Readme(unittest.TestCase):
    pages = [
        (ROOT / name).read_text(encoding="utf-8")
        for name in (
            "README.md",
            "docs/pareto.md",
            "docs/axes.md",
            "docs/combination.md",
            "docs/findings.md",
            "docs/report.md",
        )
    ]
    text = "\n".join(pages)

    def test_the_chart_file_of_the_guide_is_one(self) -> None:
        [block] = re.findall(r"```toml\n(.*?)```", self.pages[3], re.DOTALL)
        with tempfile.TemporaryDirectory() as folder:
            Path(folder, "firings.csv").write_bytes(data_file("firings.csv"))
            Path(folder, "c.toml").write_text(block, encoding="utf-8")
            chart = vt.read_chart(Path(folder, "c.toml"))
        self.assertEqual(chart.scales.secondary.lower, 0)
        self.assertEqual([one.kind for one in chart.series], ["bars", "line"])

    def test_its_links_lead_somewhere(self) -> None:
        for page, home in zip(self.pages, (ROOT, *[ROOT / "docs"] * 5), strict=True):
            for target in re.findall(r"\]\(([^)#:]+)\)", page):
                self.assertTrue((home / target).exists(), target)
        shots = {f"docs/screenshots/{path.name}" for path in (ROOT / "docs" / "screenshots").iterdir()}
        self.assertLessEqual(shots, set(re.findall(r"\]\(([^)#:]+)\)", self.pages[0])), "each is linked")

    def test_the_worked_table_of_the_guide(self) -> None:
        log = ["Pinhole"] * 10 + ["Edge chip"] * 6 + ["Warping"] * 4 + ["Scratch"] * 2 + ["Stain"] * 2 + [None]
        table = vt.pareto(log)
        for row in table.rows:
            cells = (
                f"| {row.rank} | {row.category} | {row.frequency} | {row.percent:.1f}% | {row.cumulative_frequency} | "
            )
            self.assertIn(f"{cells}{row.cumulative_percent:.1f}% | {row.abc} |", self.pages[1])
        quoted = " ".join(line.removeprefix("> ") for line in self.pages[1].splitlines() if line.startswith("> "))
        self.assertIn(table.sentence(), quoted)
        assert table.cutoff is not None
        self.assertAlmostEqual(table.cutoff.crossing, 2.8)

    def test_the_examples_run(self) -> None:
        for script in sorted((ROOT / "examples").glob("*.py")):  # those of the gallery are run by tests/site
            with (
                tempfile.TemporaryDirectory() as folder,
                contextlib.chdir(folder),
                contextlib.redirect_stdout(io.StringIO()) as out,
            ):
                exec(compile(script.read_text(), str(script), "exec"), {"__name__": "__main__"})
                self.assertTrue(out.getvalue().strip(), script)
        self.assertTrue(vt.__version__)
