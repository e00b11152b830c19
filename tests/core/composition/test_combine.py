"""`vantric.combine` and ``vantric combine``: from columns to a chart."""

import csv
import io
import json
import math
from importlib.resources import files
from pathlib import Path

import pandas as pd
import polars as pl
from openpyxl import load_workbook
from PIL import Image

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.errors import VantricError

DATA = Path(str(files("vantric.demo") / "data"))
FIRINGS, CREWS, LOG = DATA / "firings.csv", DATA / "crews.csv", DATA / "inspections.csv"
TABLE = "month,fired,rejected,kwh\n2026-01,640,27,90\n2026-02,,23,80\n2026-04,655,,95\n"


class Combining(InFolder):
    def refuses(self, words: str, *arguments: object, **options: object) -> None:
        with self.assertRaisesRegex(VantricError, words) as caught:
            vt.combine(*arguments, **options)
        self.assertNotIn("\n", str(caught.exception))

    def test_columns_become_series_of_every_kind(self) -> None:
        found = vt.combine(
            FIRINGS,
            x="month",
            bars=["first_firing", "second_firing=Second"],
            line="energy_kwh=Energy",
            area="rejected",
            points="margin",
            stems="sum:margin=M",
            steps="mean:energy_kwh",
        )
        kinds = {one.name: one.kind for one in found.series}
        self.assertEqual(
            kinds,
            {
                "first_firing": "bars",
                "Second": "bars",
                "rejected": "area",
                "M": "stems",
                "mean of energy_kwh": "steps",
                "Energy": "line",
                "margin": "points",
            },
        )
        self.assertEqual((found.period, len(found.categories)), ("month", 12))
        self.assertEqual((found.subtitle, found.note), ("12 records", f"Source: {FIRINGS}"))

    def test_a_missing_value_is_a_gap_and_a_missing_month_too(self) -> None:
        found = vt.combine(
            self.file(TABLE), x="month", bars="fired", line=["sum:rejected", "ratio:rejected/fired=Rate"]
        )
        self.assertEqual(found.categories, ("2026-01", "2026-02", "2026-03", "2026-04"))
        fired, rejected, rate = (one.values for one in found.series)
        self.assertEqual([math.isnan(value) for value in fired], [False, True, True, False])
        self.assertEqual([math.isnan(value) for value in rejected], [False, False, True, True])
        self.assertEqual(rate[0], 27 / 640)

    def test_a_rate_is_a_ratio_of_sums(self) -> None:
        log = self.file("day,bad,all\n2026-01-01,1,10\n2026-01-02,9,10\n2026-02-01,1,2\n")
        found = vt.combine(log, x="day", period="month", line=["ratio:bad/all=R", "percent:bad/all=P", "mean:bad=M"])
        self.assertEqual([one.values for one in found.series], [(0.5, 0.5), (50.0, 50.0), (5.0, 1.0)])
        self.assertEqual(found.series[1].unit, "%")
        self.assertEqual([one.axis for one in found.series], ["primary", "secondary", "primary"])

    def test_bare_columns_are_added_up_and_that_is_told(self) -> None:
        log = self.file("crew,n,m\nb,1,5\na,2,6\nb,3,7\n")
        found = vt.combine(log, x="crew", bars="n", line="max:m")
        self.assertEqual((found.categories, found.series[0].values), (("b", "a"), (4, 2)))
        [finding] = [one for one in vt.review(found) if one.code == "added-up"]
        self.assertIn("several records share a category: 'n' is added up", finding.message)
        self.assertFalse([one for one in vt.review(vt.combine(log, x="m", bars="n")) if one.code == "added-up"])

    def test_orders(self) -> None:
        log = self.file("crew,n\nCrew 10,1\nCrew 2,3\nCrew 1,2\n")
        for order, wanted in (
            ("given", ("Crew 10", "Crew 2", "Crew 1")),
            ("label", ("Crew 1", "Crew 2", "Crew 10")),
            ("value", ("Crew 2", "Crew 1", "Crew 10")),
        ):
            self.assertEqual(vt.combine(log, x="crew", bars="n", order=order).categories, wanted)
        numbers = vt.combine(self.file("size,n\n10,1\n9.5,3\n2,2\n"), x="size", line="n")
        self.assertEqual(numbers.categories, ("2", "9.5", "10"))

    def test_frames_and_mappings_do(self) -> None:
        wanted = vt.combine(self.file(TABLE), x="month", bars="fired", line="kwh", secondary="kwh")
        frame = pd.read_csv(io.StringIO(TABLE))
        for data in (frame, pl.from_pandas(frame), {name: frame[name].tolist() for name in frame}):
            found = vt.combine(data, x="month", bars="fired", line="kwh", secondary=["kwh"], note=wanted.note)
            self.assertEqual(found, wanted)

    def test_labels_units_and_options_by_name(self) -> None:
        found = vt.combine(
            CREWS,
            x="crew",
            bars="planned_hours=Planned",
            line="achieved_hours",
            units={"Planned": "h", "achieved_hours": "h"},
            labels={"Planned": "percent of total"},
            series={"achieved_hours": {"marker": "square", "color": "teal"}},
        )
        planned, achieved = found.series
        self.assertEqual((planned.unit, planned.texts[0], achieved.marker), ("h", "32.6%", "square"))
        self.assertEqual(achieved.role, "mark-1:#008080")
        every = vt.combine(CREWS, x="crew", bars=["planned_hours", "achieved_hours"], labels="none")
        self.assertEqual([one.texts for one in every.series], [(), ()])
        self.assertFalse(found.secondary_axis)

    def test_what_cannot_be_combined(self) -> None:
        log = self.file(TABLE)
        for options, words in (
            ({"x": "mnth", "bars": "fired"}, "no column 'mnth'; did you mean 'month'"),
            ({"x": "month", "bars": "fird"}, "no column 'fird'; did you mean 'fired'"),
            ({"x": "month", "bars": "sum:fird"}, "no column 'fird'"),
            ({"x": "month"}, "say what to draw"),
            ({"x": "month", "bars": "fired", "line": "fired"}, "'fired' is drawn twice"),
            ({"x": "month", "bars": "fired=a", "line": "kwh=a"}, "two series are called 'a'"),
            (
                {"x": "month", "bars": "fired", "secondary": "kwh"},
                "no series 'kwh', which is named for the secondary axis",
            ),
            ({"x": "month", "bars": "fired", "secondary": "fired"}, "every series is on the secondary axis"),
            ({"x": "month", "bars": "fired", "units": {"fird": "t"}}, "no series 'fird', .*did you mean 'fired'"),
            ({"x": "month", "bars": "fired", "series": {"fired": {"marker_sze": 3}}}, "did you mean 'marker_size'"),
            ({"x": "month", "line": "kwh", "series": {"kwh": {"stack": "a"}}}, "line 'kwh' have no option 'stack'"),
            ({"x": "month", "bars": "fired", "order": "random"}, "order is one of .*, not 'random'"),
            ({"x": "month", "bars": "fired", "period": "moon"}, "not 'moon'"),
            ({"x": "kwh", "bars": "fired", "period": "month"}, "record 1: column 'kwh' is not a date"),
            ({"x": "fired", "bars": "month"}, "record 1, column 'month'.*number"),
        ):
            self.refuses(words, log, **options)
        self.refuses("'month' is empty in every record", self.file("month,n\n,1\n", "e.csv"), x="month", bars="n")


class CommandLine(InFolder):
    def combine(self, *options: str, status: int = 0, source: object = FIRINGS) -> Result:
        result = Result("combine", source, "--x", "month", *options)
        self.assertEqual(result.status, status, result.err)
        return result

    def test_a_picture_of_the_full_size(self) -> None:
        target = self.folder / "c.png"
        result = self.combine(
            "--bars",
            "first_firing=Fired",
            "--line",
            "percent:rejected/first_firing=Rejected",
            "--out",
            str(target),
            "--size",
            "900x600",
        )
        with Image.open(target) as image:
            self.assertEqual(image.size, (900, 600))
            self.assertIn("Line Rejected on the secondary axis", image.text["Description"])
        self.assertIn("wrote ", result.err)
        self.assertIn("note: the secondary axis was chosen for “Rejected”", " ".join(result.out.split()))
        self.assertRegex(result.out, "2025-11 +160,557 +3.3465\n")

    def test_every_format_holds_the_same(self) -> None:
        options = ("--bars", "first_firing=Fired", "--line", "percent:rejected/first_firing=Rejected")
        found = json.loads(self.combine(*options, "--format", "json").out)
        self.assertEqual((found["format"], found["version"], found["x"]), ("vantric/combination", 1, "month"))
        self.assertEqual(found["series"][1]["axis"], "secondary")
        self.assertEqual(found["series"][1]["unit"], "%")
        rows = list(csv.reader(io.StringIO(self.combine(*options, "--format", "csv").out)))
        self.assertEqual(rows[0], ["month", "Fired", "Rejected"])
        self.assertEqual([float(row[2]) for row in rows[1:]], found["series"][1]["values"])
        self.assertIn("| month | Fired | Rejected (%) |", self.combine(*options, "--format", "markdown").out)
        for ending in ("csv", "json", "xlsx", "md", "html"):
            self.combine(*options, "--out", str(self.folder / f"t.{ending}"))
        sheet = load_workbook(self.folder / "t.xlsx").worksheets[0]
        head = next(row for row in sheet.iter_rows(values_only=True) if row[1])
        self.assertEqual(head, ("Month", "Fired", "Rejected (%)"))
        self.assertIn("<td", (self.folder / "t.html").read_text())

    def test_gaps_are_null_empty_or_a_dash(self) -> None:
        log = self.file(TABLE)
        found = json.loads(self.combine("--bars", "fired", "--period", "month", "--format", "json", source=log).out)
        self.assertEqual(found["series"][0]["values"], [640, None, None, 655])
        self.assertIn("2026-02,\n", self.combine("--bars", "fired", "--format", "csv", source=log).out)
        self.assertRegex(self.combine("--bars", "fired", source=log).out, "2026-02 +–\n")

    def test_options_reach_the_chart(self) -> None:
        kept = self.folder / "c.toml"
        self.combine(
            "--bars",
            "first_firing=A",
            "--bars",
            "second_firing=B",
            "--line",
            "energy_kwh=C",
            "--secondary",
            "C",
            "--together",
            "stacked",
            "--totals",
            "--reference",
            "5:6@secondary=Band",
            "--reference",
            "9=Goal",
            "--labels",
            "none",
            "--labels",
            "C=value",
            "--marker",
            "C=diamond",
            "--marker-size",
            "C=9",
            "--line-width",
            "C=3.5",
            "--pattern",
            "C=dashed",
            "--layer",
            "C=-1",
            "--bridge",
            "C",
            "--unit",
            "C=kWh",
            "--label-place",
            "C=below",
            "--stack",
            "A=x",
            "--stack",
            "B=x",
            "--policy",
            "separate",
            "--secondary-limits",
            "0:",
            "--secondary-zero",
            "--legend",
            "left",
            "--grid",
            "none",
            "--color",
            "A=teal",
            "--title-place",
            "center",
            "--save-chart",
            str(kept),
        )
        found = vt.read_chart(kept, allow_source=True)
        one, _, line = found.series
        self.assertEqual((one.stack, one.role, one.texts), ("x", "pale-2:#008080", ()))
        self.assertEqual((line.marker, line.marker_size, line.width, line.pattern), ("diamond", 9, 3.5, "dashed"))
        self.assertEqual((line.layer, line.bridge, line.unit, line.label_place), (-1, True, "kWh", "below"))
        self.assertEqual(
            (found.together, found.scales.policy, found.legend, found.grid), ("stacked", "separate", "left", "none")
        )
        self.assertEqual(found.scales.secondary.lower, 0)
        self.assertEqual(found.references, (vt.Reference(5, 6, "Band", "secondary"), vt.Reference(9, None, "Goal")))
        self.assertTrue(found.totals)

    def test_labels_left_out_are_counted(self) -> None:
        wide = [option for n in range(6) for option in ("--line", f"energy_kwh=Line {n}")]
        many = self.file("month,energy_kwh\n" + "".join(f"c{n},{100 + n}\n" for n in range(40)))
        result = Result(
            "combine",
            many,
            "--x",
            "month",
            "--labels",
            "value",
            *wide[:2],
            "--out",
            str(self.folder / "p.png"),
            "--size",
            "300x240",
        )
        self.assertEqual(result.status, 0, result.err)
        self.assertRegex(result.err, r"note: \d+ labels are left out of the picture \(not enough space\)")

    def test_differences_of_a_plan_have_no_more_decimals_than_tell_them_apart(self) -> None:
        crews = ["A", "B", "C"]
        for planned, actual, texts in (
            ([900, 910, 920], [90 + 1 / 3, 91 + 2 / 3, 92.0], ("-810", "-818", "-828")),
            ([9.5, 8.25, 7.0], [9.0, 8.5, 7.25], ("-0.5", "+0.25", "+0.25")),
        ):
            frame = pd.DataFrame({"crew": crews, "plan": planned, "done": actual})
            plan = vt.combine(frame, x="crew", planned="plan", actual="done").plan()
            labels = [mark.text.partition(":")[0] for mark in plan.texts if " of " in mark.text and ":" in mark.text]
            self.assertEqual(sorted(labels), sorted(texts))

    def test_bad_usage_is_one_line_and_nothing_is_written(self) -> None:
        target = self.folder / "old.png"
        target.write_bytes(b"old")
        bars, out = ("--bars", "margin"), ("--out", str(target))
        for options, words in (
            (("--bars", "mragin", *out), "did you mean 'margin'"),
            ((*bars, "--primary-log", *out), "series 'margin' holds -5,168 at '2025-12'"),
            (
                (*bars, "--together", "stacked", "--together", "overlaid"),
                "--together is given twice, as stacked and as overlaid",
            ),
            ((*bars, "--together", "stacked"), "only bars are stacked"),
            ((*bars, "--reference", "x"), "a band such as 4:6; 'x' is none of these"),
            ((*bars, "--reference", "1:x"), "'1:x' is none of these"),
            ((*bars, "--reference", "5@left"), "not at 'left'"),
            ((*bars, "--reference", "5@secondary"), "the secondary axis has no series"),
            ((*bars, "--primary-limits", "5"), "a range is two numbers"),
            ((*bars, "--primary-zero", "--no-primary-zero"), "contradict each other"),
            ((*bars, "--zero", "left"), "there is no option --zero; use --primary-zero"),
            ((*bars, "--unit", "mragin=EUR"), "there is no series 'mragin'; did you mean 'margin'?"),
            ((*bars, "--layer", "margin=0.5"), "layer is a whole number, not"),
            ((*bars, "--theme", "drak", *out), "did you mean 'dark'"),
            ((*bars, "--color", "margin=rde", *out), "did you mean 'red'"),
            ((*bars, "--theme", "dark"), "--theme is for a chart"),
            ((*bars, "--out", str(self.folder / "c.pgn")), "did you mean 'png'"),
            ((*bars, "--labels", "vlaue", *out), "did you mean 'value'"),
            ((*bars, "--save-chart", str(self.folder / "c.yaml")), "its ending is not one of .toml, .json"),
        ):
            result = self.combine(*options, status=2)
            self.assertRegex(result.err, "^vantric: error: [^\n]*\n$")
            self.assertIn(words, result.err)
        self.assertEqual(target.read_bytes(), b"old")
        self.assertEqual([path.name for path in self.folder.iterdir()], ["old.png"])

    def test_periods_of_a_log(self) -> None:
        found = json.loads(
            Result(
                "combine",
                LOG,
                "--x",
                "date",
                "--period",
                "quarter",
                "--bars",
                "sum:pieces=Pieces",
                "--line",
                "count=Records",
                "--where",
                "shift = 'Night'",
                "--format",
                "json",
            ).out
        )
        self.assertEqual(
            (found["period"], found["where"], found["categories"][0]), ("quarter", "shift = 'Night'", "2025-Q4")
        )
        with LOG.open(newline="") as file:
            rows = [row for row in csv.DictReader(file) if row["shift"] == "Night"]
        self.assertEqual(sum(found["series"][1]["values"]), len(rows))
        self.assertEqual(sum(found["series"][0]["values"]), sum(int(row["pieces"]) for row in rows))


class TallyCharts(InFolder):
    def test_bars_of_frequency_or_percent_and_the_axis_says_which(self) -> None:
        tally = vt.tally(["a", "b", "a", "a", None])
        found = tally.chart()
        self.assertEqual((found.categories, found.series[0].values), (("a", "b"), (3, 1)))
        self.assertEqual(
            (found.primary_title, found.subtitle), ("Frequency (records)", "4 records, 1 with a blank label")
        )
        percent = tally.chart(values="percent", orientation="horizontal")
        self.assertEqual((percent.series[0].values, percent.primary_unit), ((75, 25), "%"))
        self.assertEqual((percent.primary_title, percent.horizontal), ("Percent of 4 records", True))
        self.assertEqual(percent.scales.primary.lower, 0)
        self.assertEqual(vt.tally({"x": 2, "y": 1}).chart(legend="below").legend, "below")

    def test_two_way_tables_grouped_stacked_to_100_percent_either_way_round(self) -> None:
        table = vt.crosstab({"d": list("aabbb"), "k": list("xyxxy")}, "d", "k")
        grouped = table.chart()
        self.assertEqual([(one.name, one.values) for one in grouped.series], [("x", (2, 1)), ("y", (1, 1))])
        turned = table.chart(transpose=True)
        self.assertEqual((turned.categories, [one.name for one in turned.series]), (("x", "y"), ["a", "b"]))
        full = table.chart(together="percent")
        self.assertEqual((full.series[0].values[1], full.primary_title), (50.0, "Percent of each d"))
        stacked = table.chart(together="stacked", totals=True)
        self.assertEqual(stacked.totals, (("3", "2"),))
        rows = table.chart(values="percent")
        self.assertEqual((rows.series[0].values[1], rows.primary_title), (50.0, "Percent of each d"))
        columns = table.chart(values="percent", percent_of="column")
        self.assertAlmostEqual(columns.series[0].values[1], 100 / 3)
        self.assertEqual(columns.primary_title, "Percent of each k")
        whole = table.chart(values="percent", percent_of="all")
        self.assertEqual((whole.series[0].values, whole.primary_title), ((40, 20), "Percent of 5 records"))
        turned = table.chart(values="percent", percent_of="column", transpose=True)
        self.assertEqual([sum(one.values) for one in turned.series], [100, 100], "columns of the table as it is drawn")

    def test_a_strip_names_every_part(self) -> None:
        counts = {f"Cause {n}": 4000 // (n + 1) ** 2 for n in range(14)}
        plan = vt.tally(counts).chart(share_bar=True).plan()
        self.assertEqual(plan.left_out, 0)
        shown = [mark.text for mark in plan.texts if mark.text.startswith("Cause")]
        self.assertEqual(len(shown), 14)
        edges = plan.bars.edges
        self.assertAlmostEqual(edges[0, 0], plan.frame.left)
        self.assertAlmostEqual(edges[-1, 2], plan.frame.right)
        self.assertTrue(any(rule.role == "leader" for rule in plan.rules))
        none = vt.tally({"a": 1, "b": 0}).chart(share_bar=True, colors={"a": "teal"})
        self.assertEqual([(one.name, one.role) for one in none.series], [("a", "series-1:#008080")])

    def test_what_a_tally_has_no_chart_of(self) -> None:
        tally, table = vt.tally({"a": 2}), vt.crosstab({"d": ["a"], "k": ["x"]}, "d", "k")
        for call, words in (
            (lambda: tally.chart(together="stacked"), "for two-way tables"),
            (lambda: tally.chart(transpose=True), "for two-way tables"),
            (lambda: table.chart(share_bar=True), "a share bar shows the shares of one tally"),
            (lambda: tally.chart(values="prcent"), "did you mean 'percent'"),
            (lambda: tally.chart(labels="vlaue"), "did you mean 'value'"),
            (lambda: vt.tally({"a": 0}).chart(), "nothing to rank"),
        ):
            with self.assertRaisesRegex(VantricError, words):
                call()

    def test_on_the_command_line(self) -> None:
        target = self.folder / "t.svg"
        for options in (
            ("--by", "product"),
            ("--by", "product", "--split", "kiln", "--percent-of", "row"),
            ("--by", "product", "--split", "kiln", "--together", "percent", "--transpose", "--theme", "print"),
            ("--by", "defect", "--share-bar", "--merge-spellings", "--labels", "none"),
        ):
            result = Result("tally", LOG, *options, "--out", str(target))
            self.assertEqual(result.status, 0, result.err)
            self.assertIn("<svg", target.read_text())
        result = Result("tally", LOG, "--by", "product", "--split", "kiln", "--percent-of", "row", "--out", str(target))
        self.assertIn("Product by kiln (Percent of each product). Bars Kiln 1: 19.6%", target.read_text())
        for options, words in (
            (("--share-bar",), "--share-bar is for a chart"),
            (("--together", "stacked", "--out", str(target)), "for two-way tables"),
        ):
            result = Result("tally", LOG, "--by", "product", *options)
            self.assertEqual(result.status, 2)
            self.assertIn(words, result.err)
