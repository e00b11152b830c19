"""Results handed over by their ending: from Python, from commands, from chart files; what is beside a text."""

from __future__ import annotations

import re
import unittest
from pathlib import Path

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.demo import data_file

KINDS = ("html", "xlsx", "pptx", "md")


class Handed(InFolder):
    def setUp(self) -> None:
        super().setUp()
        for name in ("inspections.csv", "firings.csv"):
            (self.folder / name).write_bytes(data_file(name))
        self.log = self.folder / "inspections.csv"

    def test_a_chart_is_saved_as_what_its_table_is(self) -> None:
        table = vt.pareto(self.log, "defect", merge_spellings=True)
        for kind in ("html", "xlsx", "pptx"):
            one = table.save(self.folder / f"table.{kind}").read_bytes()
            self.assertEqual(one, table.chart().save(self.folder / f"chart.{kind}").read_bytes(), kind)
            again = vt.pareto_chart(self.log, "defect", merge_spellings=True).save(self.folder / f"again.{kind}")
            self.assertEqual(one, again.read_bytes(), kind)

    def test_every_command_hands_over(self) -> None:
        commands = {
            "pareto": ("--by", "defect"),
            "tally": ("--by", "product", "--split", "kiln"),
            "compare": ("--by", "defect", "--split", "shift", "--before", "Early", "--after", "Night"),
            "trend": ("--by", "defect", "--date", "date"),
            "combine": ("--x", "kiln", "--bars", "sum:pieces"),
        }
        for command, more in commands.items():
            outs = [part for kind in KINDS for part in ("--out", self.folder / f"{command}.{kind}")]
            chart_file = self.folder / f"{command}.toml"
            result = Result(command, self.log, *more, *outs, "--save-chart", chart_file)
            self.assertEqual(result.status, 0, result.err)
            page = (self.folder / f"{command}.html").read_text(encoding="utf-8")
            self.assertIn('class="chart"', page)
            self.assertIn("<table", page)
            drawn = Result(
                "draw", chart_file, *(part for kind in KINDS for part in ("-o", self.folder / f"again.{kind}"))
            )
            self.assertEqual(drawn.status, 0, drawn.err)
            plain = re.sub(r"<details.*?</details>", "", page, flags=re.DOTALL)
            again = (self.folder / "again.html").read_text(encoding="utf-8").replace(f"{self.folder}/", "")
            shown = plain.replace(f"{self.folder}/", "")
            self.assertEqual(re.findall(r"<td[^>]*>[^<]*", again), re.findall(r"<td[^>]*>[^<]*", shown), command)

    def test_options_of_the_chart_reach_the_page(self) -> None:
        result = Result(
            "pareto", self.log, "--by", "defect", "--title", "Mine & yours", "--out", self.folder / "a.html"
        )
        self.assertEqual(result.status, 0)
        self.assertIn("<h1>Mine &amp; yours</h1>", (self.folder / "a.html").read_text())
        refused = Result("pareto", self.log, "--by", "defect", "--title", "x", "--out", self.folder / "a.csv")
        self.assertEqual(refused.status, 2)

    def test_the_notes_say_source_filter_and_date(self) -> None:
        table = vt.pareto(self.log, "defect", where="kiln = 'Kiln 2'", date="date")
        page = table.save(self.folder / "a.html").read_text()
        self.assertRegex(page, r"<dt>Source</dt><dd>[^<]*inspections\.csv</dd>")
        self.assertIn("<dt>Dates</dt><dd>2025-11-01 to 2026-10-31</dd>", page)
        self.assertIn("<dt>Filter</dt><dd>kiln = &#x27;Kiln 2&#x27;</dd>", page)
        undated = vt.pareto(self.log, "defect").save(self.folder / "b.html").read_text()
        self.assertRegex(undated, r"<dt>Data</dt><dd>file last changed on \d{4}-\d\d-\d\d</dd>")

    def test_a_text_shows_a_picture_beside_it(self) -> None:
        table = vt.pareto({"a": 2, "b": 1})
        text = table.save(self.folder / "odd name (1).md").read_text()
        self.assertIn("](odd%20name%20%281%29.svg)", text)
        self.assertIn("<svg", (self.folder / "odd name (1).svg").read_text())
        table.save(self.folder / "odd name (1).md")  # its own picture is replaced
        (self.folder / "mine.svg").write_text("<svg>drawn by hand</svg>")
        with self.assertRaisesRegex(vt.VantricError, "no picture of a chart"):
            table.save(self.folder / "mine.md")
        self.assertEqual((self.folder / "mine.svg").read_text(), "<svg>drawn by hand</svg>")
        self.assertFalse((self.folder / "mine.md").exists())
        outs = ("--out", self.folder / "c.md", "--out", self.folder / "sub.png")
        self.assertEqual(Result("pareto", self.log, "--by", "defect", *outs).status, 0)
        self.assertIn("(sub.png)", (self.folder / "c.md").read_text())
        self.assertFalse((self.folder / "c.svg").exists())

    def test_a_source_is_never_replaced(self) -> None:
        chart = vt.pareto_chart(self.log, "defect")
        (self.folder / "link.html").symlink_to(self.log)
        with self.assertRaisesRegex(vt.VantricError, "source"):
            chart.save(self.folder / "link.html")
        self.assertEqual(self.log.read_bytes(), data_file("inspections.csv"))

    def test_a_notebook_cell_is_an_image_that_shows_its_values(self) -> None:
        shown = vt.pareto_chart({"a</script><script>": 2, "b": 1})._repr_mimebundle_()[0]
        html = shown["text/html"]
        self.assertEqual(html.count("<script>"), 1)
        self.assertIn("a&lt;/script&gt;&lt;script&gt;", html)
        self.assertIn('class="target"', html)
        self.assertTrue(shown["image/png"].startswith(b"\x89PNG"))

    def test_the_same_result_gives_the_same_page(self) -> None:
        table = vt.pareto(self.log, "defect")
        one, two = (table.save(self.folder / f"{n}.html").read_bytes() for n in range(2))
        self.assertEqual(one, two)
        self.assertEqual(Path(self.folder / "0.html").suffix, ".html")


if __name__ == "__main__":
    unittest.main()
