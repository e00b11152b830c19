"""Findings: each is found where it should be, documented, and nowhere else."""

import ast
import re
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

import vantric as vt
from tests.folder import InFolder
from vantric.core.review.finding import known_codes

ROOT = Path(vt.__file__).parent
PAGE = (ROOT.parent.parent / "docs" / "findings.md").read_text(encoding="utf-8")
CODE = re.compile(r"[a-z]+(?:-[a-z0-9]+)*")
MAKERS = {"error", "warning", "note", "make", "kind", "Note", "_of_axis", "_of_chart", "_on_two_axes"}
MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
CREWS = ["Pressing", "Glazing", "Kilns", "Packing"]
SERIES = [640.0, 590.0, 610.0, 655.0]


def codes_in_the_source() -> set[str]:
    """Return every text in the code that is a code: the first argument of what makes findings, or what `code` is."""
    found = set()
    for path in ROOT.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            values: list[ast.AST] = []
            if isinstance(node, ast.Call):
                name = getattr(node.func, "id", "")
                if name in MAKERS:
                    values = list(node.args[2:3] if name == "_of_axis" else node.args[:1])
            elif isinstance(node, ast.Assign) and "code" in ast.unparse(node.targets[0]).strip("()").split(", "):
                values = [node.value]
            for value in values:
                texts = {
                    one.value for one in ast.walk(value) if isinstance(one, ast.Constant) and isinstance(one.value, str)
                }
                found |= {text for text in texts if CODE.fullmatch(text)}
    return found - {"currency", "warning", "note", "error", "primary", "secondary", "percent", "running", "cumulative"}


def pareto(counts: dict[str, Any], **options: Any) -> vt.ParetoTable:
    return vt.pareto(counts, **options)


def chart(*series: Any, categories: Any = MONTHS, **options: Any) -> vt.Chart:
    return vt.Chart(categories, series, **options)


def weighed() -> vt.ParetoTable:
    return vt.pareto({"d": ["a", "a", "a", "b"], "w": [1, 1, 1, 90]}, "d", weight="w")


def rates() -> vt.ParetoTable:
    return vt.pareto({"d": list("aab"), "n": [10, 10, 50]}, "d", per={"a": 20, "b": 50})


#: Code -> what gives it.
EXAMPLES: dict[str, Callable[[], Any]] = {
    "total-as-category": lambda: pareto({"Pinhole": 60, "Crack": 40, "Total": 100}, keep_totals=True),
    "similar-labels": lambda: pareto({"Edge chip": 60, "edge chip": 40}),
    "near-labels": lambda: pareto({"Scratch": 60, "Scrach": 40}),
    "more-missing": lambda: pareto({"d": ["a"] * 30 + [None] * 40}, by="d"),
    "numbers-as-labels": lambda: vt.tally([f"{n / 7:.3f}" for n in range(40)]),
    "percents-as-counts": lambda: pareto({"a": 38.1, "b": 35.5, "c": 26.4}),
    "mixed-values": lambda: pareto({"a": 88, "b": 61, "c": 0.19, "d": 0.16}),
    "flat-profile": lambda: pareto({f"Cell {n}": 20 + n % 2 for n in range(8)}),
    "unsure-rates": lambda: vt.pareto({"a": 30, "b": 12}, per={"a": 100, "b": 38}),
    "stratum-reversal": lambda: vt.crosstab(
        {"d": ["a"] * 90 + ["b"] * 10 + ["a"] * 10 + ["b"] * 60, "s": ["x"] * 100 + ["y"] * 70}, "d", "s"
    ),
    "missing-by-stratum": lambda: vt.crosstab(
        {"d": (["a"] * 94 + [None] * 6) + (["b"] * 50 + [None] * 50), "s": ["x"] * 100 + ["y"] * 100}, "d", "s"
    ),
    "rest-above-vital": lambda: pareto({"a": 300, "b": 90, "c": 12} | {f"d{n}": 7 for n in range(14)}, keep=3),
    "tie-at-cutoff": lambda: pareto({"a": 60, "b": 20, "c": 20}),
    "good-as-defect": lambda: vt.tally({"defect": ["OK"] * 9 + ["Pinhole"] * 3 + ["Crack"] * 2}, "defect"),
    "test-entries": lambda: vt.tally({"defect": ["TEST"] + ["Pinhole"] * 3 + ["Crack"] * 2}, "defect"),
    "ties": lambda: pareto({"a": 60, "b": 20, "c": 20}),
    "few-records": lambda: pareto({"a": 70, "b": 10, "c": 9, "d": 6, "e": 5}),
    "rule-decides": lambda: pareto({"a": 68, "b": 25, "c": 3, "d": 2, "e": 1, "f": 1}),
    "small-base": lambda: pareto({"a": 2, "b": 1, "c": 1}),
    "unknown-first": lambda: vt.pareto(["n/a"] * 60 + ["b"] * 20 + ["c"] * 3),
    "rest-first": lambda: pareto({"Misc.": 60, "b": 20, "c": 3}),
    "one-record": lambda: vt.pareto({"d": list("aaaabbbbccc"), "n": [3] * 10 + [90]}, "d", weight="n"),
    "repeated-records": lambda: vt.pareto({"d": list("aabbbccd") * 2, "n": list(range(8)) * 2}, "d"),
    "mixed-units": lambda: vt.pareto({"d": list("aab"), "n": [1, 2, 3], "unit": ["kg", "kg", "l"]}, "d", count="n"),
    "counted-again": lambda: vt.pareto({"d": ["a;b", "a", "b"], "n": [1, 2, 3]}, "d", count="n", separator=";"),
    "unlike-periods": lambda: vt.compare(
        {"d": list("ab"), "t": ["2026-01-01", "2026-03-31"]},
        {"d": list("ab"), "t": ["2026-04-01", "2026-04-30"]},
        "d",
        date="t",
    ),
    "several-units": lambda: chart(
        vt.Bars("a", SERIES, unit="t", axis="primary"), vt.Bars("b", SERIES, unit="kWh", axis="primary")
    ),
    "stretched-axis": lambda: chart(
        vt.Bars("a", SERIES), vt.Line("b", [4.0, 4.1, 4.2, 4.1], axis="secondary"), secondary_limits=(4, 4.2)
    ),
    "secondary-without-zero": lambda: chart(vt.Bars("a", SERIES), vt.Line("b", [90, 95, 92, 99], axis="secondary")),
    "zeros-apart": lambda: chart(
        vt.Bars("a", [30, -20, 10, 5]), vt.Bars("b", SERIES, axis="secondary"), policy="separate"
    ),
    "mark-on-wrong-axis": lambda: chart(
        vt.Bars("a", SERIES),
        vt.Line("b", [4, 5, 4, 6], unit="%", axis="secondary"),
        references=[vt.Reference(80, text="80%")],
    ),
    "stacked-rates": lambda: chart(
        vt.Bars("rate a", [4, 5, 4, 6], unit="%"), vt.Bars("rate b", [4, 5, 4, 6], unit="%"), together="stacked"
    ),
    "hidden-area": lambda: chart(vt.Area("a", [1, 2, 1, 2]), vt.Area("b", [3, 4, 3, 4])),
    "rank-by-count": weighed,
    "sum-of-rates": rates,
    "many-categories": lambda: pareto({f"c{n}": 900 // (n + 1) for n in range(70)}),
    "uneven-totals": lambda: vt.compare({"a": 10, "b": 5}, {"a": 100, "b": 50}),
    "bars-without-zero": lambda: chart(vt.Bars("a", SERIES), primary_zero=False),
    "clipped-data": lambda: chart(vt.Bars("a", SERIES), primary_limits=(0, 600), clip=True),
    "flat-series": lambda: chart(vt.Bars("a", SERIES), vt.Line("b", [4, 5, 4, 6], axis="primary")),
    "untitled-axis": lambda: chart(vt.Bars("a", SERIES), primary_title=""),
    "percent-as-counts": lambda: chart(
        vt.Bars("a", SERIES, axis="primary"), vt.Bars("b", SERIES, unit="%", axis="primary")
    ),
    "floating-line": lambda: chart(
        vt.Bars("n", [60, 30, 10]),
        vt.Line("Cumulative percent", [60, 90, 100], axis="secondary", unit="%"),
        categories=["a", "b", "c"],
    ),
    "log-bars": lambda: chart(vt.Bars("a", SERIES), primary_log=True),
    "two-grids": lambda: chart(vt.Bars("a", SERIES), vt.Line("b", [4, 5, 4, 6], axis="secondary"), policy="separate"),
    "crossing-lines": lambda: chart(vt.Line("a", [1, 9, 1, 9]), vt.Line("b", [900, 100, 900, 100], axis="secondary")),
    "coinciding-lines": lambda: chart(vt.Line("a", [1, 3, 2, 4]), vt.Line("b", [100, 300, 200, 400], axis="secondary")),
    "axis-chosen": lambda: chart(vt.Bars("a", SERIES, unit="t"), vt.Line("b", SERIES, unit="%")),
    "unlike-stack": lambda: chart(
        vt.Bars("a", SERIES, unit="t", axis="primary"),
        vt.Bars("b", SERIES, unit="kWh", axis="primary"),
        together="stacked",
    ),
    "wrong-cumulative": lambda: chart(
        vt.Bars("n", [60, 30, 10]),
        vt.Line("Cumulative percent", [60, 80, 100], unit="%", axis="secondary"),
        categories=["a", "b", "c"],
    ),
    "not-descending": lambda: chart(
        vt.Bars("n", [10, 30, 60]),
        vt.Line("Cumulative percent", [10, 40, 100], unit="%", axis="secondary"),
        categories=["a", "b", "c"],
    ),
    "many-series": lambda: chart(*(vt.Line(f"s{n}", SERIES) for n in range(8))),
    "hidden-bars": lambda: chart(
        vt.Bars("a", SERIES, bar_width=0.5), vt.Bars("b", [900] * 4, bar_width=0.6), together="overlaid"
    ),
    "mean-of-rates": lambda: vt.combine(
        {"m": ["2026-01", "2026-01"], "reject_rate": [2, 4]}, x="m", line="mean:reject_rate"
    ),
    "unordered-line": lambda: chart(vt.Line("a", SERIES), categories=CREWS),
    "one-unit-two-scales": lambda: chart(
        vt.Bars("Good", SERIES, unit="tiles"), vt.Bars("Scrap", [12, 9, 15, 20], unit="tiles", axis="secondary")
    ),
    "zero-base": lambda: vt.combine({"m": ["a", "b"], "n": [3, 4], "o": [2, 0]}, "m", line="growth:n/o"),
    "one-side-only": lambda: vt.combine({"m": ["a", "b"], "p": [3, 4], "q": [2, None]}, "m", planned="p", actual="q"),
    "mean-of-one": lambda: vt.combine({"m": ["2026-01", "2026-02"], "n": [2, 4]}, x="m", bars="mean:n"),
    "added-up": lambda: vt.combine({"m": ["2026-01", "2026-01"], "n": [2, 4]}, x="m", bars="n"),
    "merged-spellings": lambda: vt.pareto(["Warping"] * 25 + ["warping"], merge_spellings=True),
    "no-family": lambda: vt.pareto(["a"] * 25 + ["b"], families={"a": "A"}),
    "read-numbers": lambda: vt.tally({"d": ["a", "b"], "n": ["1200 EUR", "3 EUR"]}, "d", weight="n"),
    "outer-labels": lambda: vt.tally({"d": ["a", None, "b"], "n": [1, 2, 3], "k": ["x", "y", "x"]}, "d", count="n"),
    "counts-beside": lambda: vt.tally({"d": ["a", "b", "c"], "n": [3, 2, 1]}, "d"),
    "several-labels": lambda: vt.tally(["Leak; Jam", "Leak", "Jam"]),
    "missing-values": lambda: vt.combine({"d": ["a", "b"], "n": [3, None]}, "d", bars="n"),
    "partial-period": lambda: vt.combine(
        {"t": [f"2026-0{m}-{d:02d}" for m in (1, 2, 3) for d in range(1, 29) if m < 3 or d < 11], "n": [3] * 66},
        "t",
        bars="sum:n",
        period="month",
    ),
    "repeated-exposure": lambda: vt.pareto({"d": list("aabb"), "n": [10, 10, 50, 50]}, "d", per="n"),
    "once-a-group": lambda: vt.pareto(
        {"d": list("aaaabbbb"), "k": list("xxyyxxyy"), "n": [10, 10, 20, 20] * 2}, "d", per="once:n"
    ),
    "no-unit": lambda: vt.pareto({"d": ["a"] * 25, "u": [*range(24), None]}, "d", unique="u"),
}
#: Said of sources only, or of sheets: shown by other tests.
ELSEWHERE = {
    "number-style",
    "percent-cells",
    "header-again",
    "other-tables",
    "other-sheets",
    "sheets-read",
    "hidden-rows",
    "total-column",
    "header-like-data",
    "missing-code",
    "unread-column",
    "chosen-column",
    "total-row",
    "notes-below",
    "encoding",
    "wrong-percent",
    "wrong-total",
    *(
        "wrong-relation",
        "two-directions",
        "part-exceeds-whole",
        "shares-beyond-100",
        "wrong-rank",
        "wrong-class",
        "text-not-summed",
    ),
    *("code-amount", "future-zeros", "uneven-steps", "summary-differs"),
    "not-ending-at-100",
    "not-sorted",
    "old-chart-file",
    "section-failed",
    "other-base",
    "repeated-label",
    "negative-count",
    "blank-cell",
    "percents-too-small",
    "rows-not-drawn",
    "unlike-ranges",
    "no-alternative",
    "unread-chart",
    "unread-formula",
    "nothing-to-check",
    "long-sheet",
    "unread-sheets",
    "missing-column",
    *("total-sheet", "possible-total", "left-out", "renamed", "ditto", "page-lines", "section-lines", "line-ends"),
    *("crossed-out", "hidden-columns", "time-zones", "own-exposure"),
}


class Each(unittest.TestCase):
    def test_is_found_where_it_should_be(self) -> None:
        for code, make in EXAMPLES.items():
            with self.subTest(code=code):
                found = [finding for finding in vt.review(make()) if finding.code == code]
                self.assertEqual(len(found), 1)
                self.assertTrue(found[0].message and found[0].where)
                self.assertNotIn("\n", found[0].message)
                self.assertTrue(found[0].fix or found[0].severity == "note")

    def test_is_documented_with_its_severity_and_an_example(self) -> None:
        documented = dict(re.findall(r"^\| `([a-z0-9-]+)` \| (error|warning|note)", PAGE, re.MULTILINE))
        self.assertEqual(documented, {code.name: code.severity for code in known_codes().values()})
        self.assertEqual(set(documented), set(EXAMPLES) | ELSEWHERE)
        self.assertEqual(set(documented), codes_in_the_source())
        for code, make in EXAMPLES.items():
            [found] = [finding for finding in vt.review(make()) if finding.code == code]
            self.assertEqual(documented[code], found.severity, code)
        for one in known_codes().values():
            self.assertTrue(one.example and one.fires and one.why, one.name)
            self.assertTrue(one.fix or one.severity == "note", one.name)

    def test_a_code_that_there_is_not_is_not_ignored_in_silence(self) -> None:
        with self.assertRaisesRegex(vt.VantricError, "there is no finding 'tiez' to ignore; did you mean 'ties'"):
            vt.review(EXAMPLES["ties"](), ignore=["tiez"])

    def test_can_be_silenced(self) -> None:
        table = EXAMPLES["tie-at-cutoff"]()
        codes = [finding.code for finding in vt.review(table)]
        self.assertEqual(
            [f.code for f in vt.review(table, ignore=["ties"])], [code for code in codes if code != "ties"]
        )

    def test_a_review_changes_nothing(self) -> None:
        for make in EXAMPLES.values():
            one, other = make(), make()
            vt.review(one)
            self.assertEqual(one, other)


class FalseAlarms(InFolder):
    """What is good gives no warning."""

    def no_warning(self, result: Any) -> None:
        found = [finding for finding in vt.review(result) if finding.severity != "note"]
        self.assertEqual([(finding.code, finding.message) for finding in found], [])

    def test_good_tables(self) -> None:
        for counts in (
            {
                "Pinhole": 88,
                "Warping": 61,
                "Edge chip": 44,
                "Scratch": 38,
                "Stain": 20,
                "Speck": 9,
                "Bloating": 5,
                "Drip": 3,
            },
            {"Line A": 100, "Line B": 40, "Line C": 12},
            {"Kiln 1": 90, "Kiln 2": 70, "Kiln 3": 50},
            {"2024": 50, "2025": 20, "2026": 10},
            {f"{n}": 400 // n for n in range(1, 9)},
            {"yes": 400, "no": 100},
            {"a": 99.5, "b": 12.25, "c": 3.75},
            {"a": 12, "b": 7, "c": 0.5, "d": 0.25},
            {"a": 900, "b": 40.5, "c": 12, "d": 0.5},
            {"Total loss": 60, "Chip": 30, "Crack": 5},
            {"only": 25},
            {"Cracks": 80, "Tracks": 15, "Glaze drip": 4, "Glaze drops": 1},
        ):
            with self.subTest(counts=counts):
                self.no_warning(vt.pareto(counts))
                self.no_warning(vt.tally(counts))
                self.no_warning(vt.pareto_chart(counts))
        self.no_warning(vt.compare({"a": 100, "b": 50}, {"a": 90, "b": 60}))

    def test_good_charts(self) -> None:
        rate = [4.2, 3.9, 5.1, 4.4]
        for good in (
            chart(vt.Bars("Fired", SERIES, unit="tiles"), vt.Line("Rejected", rate, unit="%")),
            chart(vt.Bars("a", SERIES), vt.Bars("b", [300, 200, 250, 280])),
            chart(vt.Bars("a", SERIES), vt.Bars("b", [300, 200, 250, 280]), together="stacked", totals=True),
            chart(vt.Bars("a", SERIES), vt.Bars("b", [300, 200, 250, 280]), together="percent"),
            chart(vt.Bars("a", SERIES), vt.Bars("b", [300, 200, 250, 280]), together="overlaid"),
            chart(vt.Line("a", SERIES), vt.Line("b", [500, 640, 600, 610])),
            chart(vt.Points("a", SERIES), categories=CREWS),
            chart(vt.Bars("a", SERIES), orientation="horizontal", categories=CREWS),
            chart(vt.Area("Planned", [2400, 62, 18, 2]), vt.Bars("Done", [2401, 66, 14, 1.6]), primary_log=True),
            chart(vt.Bars("Margin", [3, -2, 1, -4], unit="EUR"), vt.Line("Fired", SERIES, unit="tiles")),
            vt.tally({"a": 3, "b": 2}).chart(values="percent"),
            vt.tally({"a": 30, "b": 20}).chart(share_bar=True),
            vt.crosstab({"d": list("aabbb"), "k": list("xyxxy")}, "d", "k").chart(together="stacked"),
        ):
            with self.subTest(chart=repr(good)):
                self.no_warning(good)

    def test_the_demo_data(self) -> None:
        data = ROOT / "demo" / "data"
        self.no_warning(vt.pareto(data / "inspections.csv", "defect", merge_spellings=True))
        self.no_warning(
            vt.pareto(data / "inspections.csv", "defect", count="pieces", weight="rework_cost", merge_spellings=True)
        )
        for options in (
            {"x": "month", "bars": "first_firing=Fired", "line": "percent:rejected/first_firing=Rejected"},
            {
                "x": "month",
                "bars": ["first_firing", "second_firing"],
                "line": "energy_kwh",
                "together": "stacked",
                "secondary": "energy_kwh",
            },
            {"x": "month", "bars": ["first_firing", "margin"]},
        ):
            self.no_warning(vt.combine(data / "firings.csv", **options))
