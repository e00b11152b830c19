"""Planned and achieved, correlation, and what ``draw`` takes, on the command line."""

import json
import unittest

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder

SHEET = "crew,planned,achieved\nPress,1600,1376\nGlaze,1850,1499\nPack,20,9\nLab,62,66.5\nNew,5,\n"


class Gaps(InFolder):
    def gap(self, *more: object) -> Result:
        return Result("combine", self.file(SHEET), "--x", "crew", *more)

    def test_the_largest_difference_comes_first(self) -> None:
        one = self.gap("--planned", "planned", "--actual", "achieved")
        self.assertRegex(one.out, r"Glaze +1,850 +1,499.0 +-351.0 ")
        self.assertIn(
            "The largest difference is -351 at “Glaze”: 1,499 achieved of 1,850 planned, 81.0%",
            " ".join(one.out.split()),
        )
        self.assertIn("Of 4 categories, 3 below planned and 1 above.", " ".join(one.out.split()))
        self.assertIn("'New' has only one of 'planned' and 'achieved'", " ".join(one.out.split()))

    def test_over_and_under_are_series_of_their_own(self) -> None:
        for more in ({}, {"orientation": "vertical"}):
            chart = vt.combine(self.file(SHEET), "crew", planned="planned", actual="achieved", **more)  # type: ignore[arg-type]
            self.assertEqual(chart.categories, ("Glaze", "Press", "Pack", "Lab", "New"))
            roles = [one.role for one in chart.series]
            self.assertEqual(roles, ["quiet", "strong", "series-2"])
            self.assertEqual(chart.series[1].texts[0], "-351: 81.0% of 1,850")
            shown = {mark.text for mark in chart.plan().texts}
            if chart.orientation == "horizontal":
                self.assertLessEqual({text for one in chart.series for text in one.texts if text}, shown)

    def test_json_and_chart_files(self) -> None:
        target = self.folder / "gap.toml"
        data = json.loads(
            self.gap("--planned", "planned", "--actual", "achieved", "--format", "json", "--save-chart", target).out
        )
        self.assertEqual(
            [one["name"] for one in data["series"]], ["planned", "achieved", "difference", "percent of planned"]
        )
        self.assertTrue(data["sentence"].startswith("The largest difference"))
        self.assertIn("3 of 4 categories stayed below plan; Glaze by the most, 351", Result("draw", target).out)

    def test_a_chart_file_of_the_second_edition_is_read_with_a_note(self) -> None:
        data = self.file(SHEET)
        file = self.file(
            f'format = "vantric/chart"\nversion = 2\nkind = "combine"\n[data]\nsource = "{data.name}"\n'
            '[combine]\nx = "crew"\nplanned = "planned"\nachieved = "achieved"\n',
            "old.toml",
        )
        result = Result("draw", file)
        self.assertEqual(result.status, 0, result.err)
        self.assertIn("'achieved' is called 'actual' now", result.err)

    def test_bad_wishes_are_one_line(self) -> None:
        both = ("--planned", "planned", "--actual", "achieved")
        for more, words in (
            (("--gap", "planned,achieved"), "for two columns write --planned planned --actual achieved"),
            (("--planned", "planned", "--achieved", "achieved"), "there is no option --achieved; use --actual"),
            (("--planned", "planned"), "planned is set beside actual"),
            ((*both, "--bars", "planned"), "leave bars, line and the others out"),
            ((*both, "--together", "stacked"), "leave together out"),
            (("--planned", "planned", "--actual", "done"), "no column 'done'"),
            (("--planned", "planned", "--actual", "planned"), "name two columns"),
            (("--bars", "planned", "--secondary-bars", "beside"), "secondary_bars is for bars on the secondary axis"),
            (("--bars", "planned", "--relate", "planned,planned"), "related to itself"),
            (("--gap", "x"), "a number"),
        ):
            result = self.gap(*more)
            self.assertEqual((result.status, result.err.count("\n")), (2, 1), more)
            self.assertIn(words, result.err)

    def test_a_gap_between_bars_is_still_a_number(self) -> None:
        self.assertEqual(self.gap("--bars", "planned", "--bars", "achieved", "--gap", "0.3").status, 0)

    def test_the_result_has_a_chart(self) -> None:
        chart = vt.gap({"a": 10, "b": 5}, {"a": 4, "b": 6}).chart()
        self.assertEqual(chart.categories, ("a", "b"))
        self.assertTrue(chart.description.startswith("The largest difference is -6"))


class Relations(InFolder):
    def test_asked_for_with_the_chart(self) -> None:
        rows = "".join(f"{n},{n},{n * n}\n" for n in range(1, 13))
        sheet = self.file(f"x,a,b\n{rows}")
        result = Result("combine", sheet, "--x", "x", "--bars", "a", "--line", "b", "--relate", "a,b")
        self.assertIn(
            "The Spearman correlation is 1.00: every pair is in the same order. A relation does not show a cause.",
            " ".join(result.out.split()),
        )
        both = ("combine", sheet, "--x", "x", "--bars", "a", "--line", "b")
        self.assertIn("relations", json.loads(Result(*both, "--relate", "a,b", "--format", "json").out))
        self.assertIn("stands alone", Result(*both, "--relate", "a").err)
        target = self.folder / "never.png"
        self.assertIn("no series 'c' to relate", Result(*both, "--relate", "a,c", "--out", target).err)
        self.assertFalse(target.exists())


class Draw(InFolder):
    def test_looks_and_words_in_place_of_the_file_s_own(self) -> None:
        log = self.file("d\na\na\nb\n")
        chart, words = self.folder / "c.toml", self.file('total = "Summe {total}"\n', "words.toml")
        Result("pareto", log, "--by", "d", "--save-chart", chart)
        target = self.folder / "c.svg"
        result = Result(
            "draw",
            chart,
            "--title",
            "Mängel",
            "--theme",
            "dark",
            "--size",
            "900x600",
            "--words-file",
            words,
            "--show-numbers",
            "1.234,56",
            "--out",
            target,
        )
        self.assertEqual(result.status, 0, result.err)
        content = target.read_text(encoding="utf-8")
        for words_ in ("Mängel", "Summe 3", 'viewBox="0 0 900 600"', "66,7%"):
            self.assertIn(words_, content)
        self.assertIn("--title", Result("draw", "--help").out)


class Conditions(InFolder):
    def test_text_stands_in_single_quotes(self) -> None:
        log = self.file("line,d\nL1,a\nL2,b\n")
        for where in ('line = "L1"', "line = L1", "line IN (L1, L2)", 'line LIKE "L1"'):
            said = Result("tally", log, "--by", "d", "--where", where).err
            self.assertIn("text stands in single quotes: 'L1'", said, where)
        self.assertNotIn("quotes", Result("tally", log, "--by", "d", "--where", "lin = 'L1'").err)

    def test_warnings_write_numbers_as_people_do(self) -> None:
        sheet = self.file("d,n,p\na,1226250,60\nb,817500,40\nTotal,2043751,100\n")
        said = Result("review", sheet, "--by", "d", "--count", "n", "--percent-column", "p").out
        self.assertIn("2,043,751", said)
        self.assertNotRegex(said, r"\de\+\d")


if __name__ == "__main__":
    unittest.main()
