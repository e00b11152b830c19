"""Report files: every key, every way to be wrong with its line, sources in place of others, what changed since."""

from __future__ import annotations

import contextlib
import json
import os
import shlex
import sqlite3
import subprocess
import sys
import unittest
from pathlib import Path

import jsonschema

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import some
from tests.folder import InFolder
from vantric.demo import data_file
from vantric.files.models import report_schema_text

HEAD = 'format = "vantric/report"\nversion = 2\n[sources.log]\nsource = "inspections.csv"\n'
PARETO = '[[sections]]\nkind = "pareto"\n[sections.counting]\nby = "defect"\nmerge_spellings = true\n'


class Case(InFolder):
    def setUp(self) -> None:
        super().setUp()
        for name in ("inspections.csv", "firings.csv"):
            (self.folder / name).write_bytes(data_file(name))

    def written(self, text: str, name: str = "r.toml") -> Path:
        path = self.folder / name
        path.write_text(text, encoding="utf-8")
        return path

    def made(self, text: str, **how: object) -> vt.Report:
        return vt.report(self.written(text), **how)  # type: ignore[arg-type]

    def refused(self, text: str, *words: str, name: str = "r.toml") -> str:
        path = self.written(text, name)
        with self.assertRaises(vt.VantricError) as caught:
            vt.report(path)
        for word in words:
            self.assertIn(word, str(caught.exception))
        result = Result("report", path, "--out", self.folder / "out.html")
        self.assertEqual((result.status, result.err.count("\n")), (2, 1), result.err)
        self.assertFalse((self.folder / "out.html").exists())
        return str(caught.exception)


class Made(Case):
    def test_sections_are_what_the_functions_make(self) -> None:
        report = self.made(HEAD + PARETO + '[[sections]]\nkind = "text"\ntitle = "Next"\ntext = "*Look*"\n')
        table = vt.pareto(self.folder / "inspections.csv", "defect", merge_spellings=True)
        self.assertEqual(report.sections[0].sentence, table.sentence())
        self.assertEqual(report.sections[0].live, table)
        self.assertEqual((report.sections[1].kind, report.sections[1].text), ("text", "*Look*"))
        self.assertIn("sentence", dir(report))
        self.assertNotIn("ready", dir(report))

    def test_a_section_beats_what_is_shared_key_by_key(self) -> None:
        text = HEAD + (
            '[shared.counting]\nmerge_spellings = true\ncount = "pieces"\n[shared.chart]\ntheme = "print"\n'
            'colors = { "Vital few" = "#123456" }\n[shared.analysis]\ncut = 60\n'
            + PARETO
            + 'count = "rework_cost"\n[sections.chart]\ncolors = { "Useful many" = "#abcdef" }\n'
        )
        report = self.made(text)
        table = report.sections[0].live
        self.assertEqual((table.origin.count, table.cuts), ("rework_cost", (60,)))
        [view, *_] = report.sections[0].views()
        self.assertEqual(view.chart.theme, "print")
        colors = {role for bars in view.chart.bars for role in bars.colors}
        self.assertEqual(colors, {"#123456", "#abcdef"})

    def test_conditions_hold_together(self) -> None:
        text = (
            HEAD
            + "where = \"kiln = 'Kiln 2' OR kiln = 'Kiln 3'\"\n"
            + PARETO.replace("[sections.counting]", "where = \"shift = 'Night'\"\n[sections.counting]")
        )
        wanted = vt.tally(
            self.folder / "inspections.csv",
            "defect",
            merge_spellings=True,
            where="(kiln = 'Kiln 2' OR kiln = 'Kiln 3') AND shift = 'Night'",
        )
        self.assertEqual(self.made(text).sections[0].live.tally, wanted)

    def test_no_condition_closes_the_bracket_of_another_and_the_error_says_whose_it_is(self) -> None:
        def text(shared: str, source: str, section: str) -> str:
            lines = (f'where = "{condition}"\n' if condition else "" for condition in (source, section))
            head, own = (
                f"{part}{line}" for part, line in zip((HEAD, '[[sections]]\nkind = "pareto"\n'), lines, strict=True)
            )
            common = f'[shared.data]\nwhere = "{shared}"\n' if shared else ""
            return head + common + own + '[sections.counting]\nby = "defect"\n'

        fine = "kiln = 'Kiln 2'"
        for broken in (
            "1=1) OR (1=1",
            "1=1) OR 1=1 --",
            "1=1) OR (1=1 /*",
            "(1=1",
            "*/ 1=1",
            "pieces > 'a",
            "kilm = 3",
            "1=1; SELECT 1",
        ):
            places = (
                ("shared.data: where", (broken, fine, fine)),
                ("sources.log: where", (fine, broken, fine)),
                ("section 1 (pareto): where", (fine, fine, broken)),
                ("sources.log: where", ("", broken, "")),
            )
            for place, conditions in some(places[len(broken) % 4 :] + places[: len(broken) % 4], 4):
                with self.subTest(place=place, condition=broken):
                    self.refused(text(*conditions), place)
        wanted = self.made(text("", "", f"{fine} AND shift = 'Night' AND pieces > 2")).sections[0].live
        for conditions in (
            (f"{fine} -- a comment", "shift = 'Night' -- another", "pieces > 2 -- /* and one"),
            (f"{fine} /* a */", "shift = 'Night' OR 1=2", "1=2 OR pieces > 2"),
        ):
            table = self.made(text(*conditions)).sections[0].live
            self.assertEqual(table.tally, wanted.tally)

    def test_conditions_on_a_database_are_checked_alone_too(self) -> None:
        with sqlite3.connect(self.folder / "log.db") as database:
            database.execute("CREATE TABLE t (defect TEXT, pieces INT)")
            database.executemany("INSERT INTO t VALUES (?, ?)", [("Chip", 1), ("Chip", 2), ("Warp", 3), ("Warp", 9)])
        database.close()
        head = 'format = "vantric/report"\nversion = 2\n[sources.log]\nsource = "sqlite:///log.db"\ntable = "t"\n'
        section = '[[sections]]\nkind = "tally"\nwhere = "{}"\n[sections.counting]\nby = "defect"\n'
        with contextlib.chdir(self.folder):
            for condition, total in (("pieces > 1 -- a comment", 2), ("pieces > 1 OR 1=1", 3)):
                text = f'{head}where = "pieces < 5 -- few"\n{section.format(condition)}'
                self.assertEqual(self.made(text, allow_source=True).sections[0].base, f"{total} records")
            for condition in ("1=1) OR (1=1", "1=1 /* open", "1=1; SELECT 1", "1=1 UNION SELECT 1", "no_such = 1"):
                with self.subTest(condition), self.assertRaisesRegex(vt.VantricError, r"section 1 \(tally\)"):
                    self.made(f"{head}where = 'pieces < 5'\n{section.format(condition)}", allow_source=True)

    def test_sections_of_different_conditions_read_one_open_file_rightly(self) -> None:
        parts = "".join(
            PARETO.replace("[sections.counting]", f'where = "{where}"\n[sections.counting]')
            for where in ("kiln = 'Kiln 1'", "date >= DATE '2026-03-01'", "pieces > 2", "date < DATE '2026-03-01'")
        )
        for section in self.made(HEAD + parts).sections:
            alone = vt.tally(
                self.folder / "inspections.csv", "defect", merge_spellings=True, where=section.live.origin.where
            )
            self.assertEqual(section.live.tally, alone)

    def test_the_time_of_reading_is_kept_by_a_file_that_stays_open(self) -> None:
        path = self.written(HEAD + PARETO + PARETO)
        self.assertEqual(len(vt.report(path, timeout=60).sections), 2)
        with self.assertRaisesRegex(vt.VantricError, "time given with timeout is over"):
            vt.report(path, timeout=1e-6)

    def test_standard_input_serves_all_sections(self) -> None:
        path = self.written(HEAD.replace("inspections.csv", "-") + PARETO + PARETO)
        command = [sys.executable, "-m", "vantric", "report", str(path), "--format", "json"]
        found = subprocess.run(command, input=data_file("inspections.csv"), capture_output=True)
        self.assertEqual(found.returncode, 0, found.stderr)
        sections = json.loads(found.stdout)["sections"]
        self.assertEqual(sections[0]["past"]["rows"], sections[1]["past"]["rows"])

    def test_series_are_named_as_in_python(self) -> None:
        plain = (
            '[[sections]]\nkind = "combine"\n[sections.combine]\nx = "month"\nbars = "first_firing=Fired"\n'
            'line = ["percent:rejected/first_firing=Rejected"]\nsecondary = ["Rejected"]\nunits = { Fired = "tiles" }\n'
        )
        head = HEAD.replace("inspections", "firings")
        chart = self.made(head + plain).sections[0].views()[0].chart
        wanted = vt.combine(
            self.folder / "firings.csv",
            x="month",
            bars="first_firing=Fired",
            line="percent:rejected/first_firing=Rejected",
            secondary="Rejected",
            units={"Fired": "tiles"},
        )
        self.assertEqual(chart.series, wanted.series)
        self.refused(head + plain.replace('["Rejected"]', '["Rejectd"]'), "there is no series 'Rejectd'", "Rejected")
        chart_file = self.folder / "c.toml"
        chart_file.write_text(
            'format = "vantric/chart"\nversion = 2\nkind = "combine"\n[data]\nsource = "firings.csv"\n'
            + plain.partition("[sections.combine]")[2].join(["[combine]", ""])
        )
        self.assertEqual(vt.read_chart(chart_file).series, wanted.series)

    def test_two_sources_are_compared(self) -> None:
        (self.folder / "later.csv").write_bytes(data_file("inspections.csv"))
        text = (
            HEAD
            + '[sources.later]\nsource = "later.csv"\n'
            + PARETO.replace('"pareto"', '"compare"').replace(
                "[sections.counting]", 'data = ["log", "later"]\n[sections.counting]'
            )
        )
        self.assertIn("no evidence of a change", self.made(text).sections[0].sentence.casefold())

    def test_data_in_place_of_a_source_may_be_anywhere(self) -> None:
        inner = self.folder / "reports"
        inner.mkdir()
        path = inner / "r.toml"
        path.write_text(HEAD.replace("inspections.csv", "old.csv") + PARETO)
        found = vt.report(path, data={"log": self.folder / "inspections.csv"})
        self.assertEqual(found.sections[0].live.tally.origin.source, str(self.folder / "inspections.csv"))
        before = Path.cwd()
        os.chdir(self.folder)
        try:
            result = Result("report", "reports/r.toml", "--data", "log=inspections.csv", "-o", "r.html", "-o", "r.json")
        finally:
            os.chdir(before)
        self.assertEqual(result.status, 0, result.err)
        with self.assertRaisesRegex(vt.VantricError, "has no source 'lod'; did you mean 'log'"):
            vt.report(path, data={"lod": "x.csv"})

    def test_a_file_elsewhere_is_read_only_if_it_may_be(self) -> None:
        inner = self.folder / "reports"
        inner.mkdir()
        path = inner / "r.toml"
        path.write_text(HEAD.replace("inspections.csv", "../inspections.csv") + PARETO)
        with self.assertRaisesRegex(vt.VantricError, "allow_source"):
            vt.report(path)
        self.assertTrue(vt.report(path, allow_source=True).sections)

    def test_every_ending_and_nothing_replaces_a_source(self) -> None:
        path = self.written(HEAD + PARETO)
        outs = [f"out.{kind}" for kind in ("html", "xlsx", "pptx", "md", "json")]
        result = Result("report", path, *(part for name in outs for part in ("--out", self.folder / name)))
        self.assertEqual(result.status, 0, result.err)
        self.assertTrue((self.folder / "out-1.svg").exists())
        text = (self.folder / "out.md").read_text()
        title = r"6 of \d+ categories account for \d+% of [\d,]+ records"
        self.assertRegex(text, rf"(?s)^# Report\n.*## {title}\n\n!\[{title}\]\(out-1\.svg\)")
        for name in ("inspections.csv", "r.toml"):
            result = Result("report", path, "--out", self.folder / name)
            self.assertEqual(result.status, 2)
        self.assertEqual(Result("report", path, "--out", self.folder / "x.png").status, 2)


class Wrong(Case):
    def test_each_with_its_line_and_the_nearest_right_thing(self) -> None:
        cases = {
            "a wrong key": (HEAD + PARETO.replace("by =", "bye ="), "line 8", "counting has no key 'bye'", "'by'"),
            "a wrong table": (
                HEAD + PARETO.replace("sections.counting", "sections.countin"),
                "line 7",
                "'countin'",
                "counting",
            ),
            "a wrong kind": (HEAD + PARETO.replace('"pareto"', '"paretto"'), "line 6", "'paretto'", "pareto"),
            "a wrong value": (HEAD + PARETO + "[sections.analysis]\ncut = 200\n", "line 10", "200"),
            "an unknown source": (
                HEAD + PARETO.replace('"pareto"', '"pareto"\ndata = "lag"'),
                "line 7",
                "'lag'",
                "'log'",
            ),
            "a source without a file": (
                HEAD.replace('source = "inspections.csv"', 'sheet = ["A"]') + PARETO,
                "line 3",
                "source is missing",
            ),
            "a shared key": ("".join([HEAD, "[shared.counting]\nbyy = 1\n", PARETO]), "line 6", "'byy'"),
            "a shared value": (HEAD + '[shared.chart]\ntheme = "drak"\n' + PARETO, "line 6", "'drak'", "'dark'"),
            "a shared limit": (HEAD + "[shared.data]\nmemory = 100\n" + PARETO, "line 6", "'memory'"),
            "a previous that there is not": ('previous = "lgo"\n' + HEAD + PARETO, "line 1", "'lgo'", "'log'"),
            "a previous source": ('previous = { log = "lgo" }\n' + HEAD + PARETO, "line 1", "'lgo'", "'log'"),
            "a key of the head": ("titel = 1\n" + HEAD + PARETO, "line 1", "'titel'", "'title'"),
            "no sections": (HEAD, "at least one section"),
            "no source": ('format = "vantric/report"\nversion = 2\n' + PARETO, "line 3", "no source"),
            "a version": (HEAD.replace("version = 2", "version = 3") + PARETO, "line 2", "version is 2"),
            "a contradiction": (
                HEAD
                + PARETO.replace('"pareto"', '"compare"\ndata = ["log", "log"]')
                + '[sections.sides]\nsplit = "shift"\nbefore = "Early"\nafter = "Night"\n',
                "line 12",
                "also the parts",
            ),
            "columns and labels": (HEAD + PARETO + 'by_columns = ["a"]\n', "section 1 (pareto)", "leave by"),
            "one side only": (HEAD + PARETO.replace('"pareto"', '"compare"'), "two sources"),
            "a crosstab without a split": (
                HEAD + PARETO.replace('"pareto"', '"crosstab"'),
                "crossing.split is missing",
            ),
            "text with data": (HEAD + '[[sections]]\nkind = "text"\ntext = "x"\ndata = "log"\n', "line 8", "no data"),
            "a column that there is not": (
                HEAD + PARETO.replace('"defect"', '"defekt"'),
                "line 8",
                "'defekt'",
                "'defect'",
            ),
            "a file that there is not": (HEAD.replace("inspections", "inspection") + PARETO, "line 5", "section 1"),
            "a condition that is none": (HEAD + 'where = "kiln ="\n' + PARETO, "section 1"),
            "not TOML": (HEAD + "x = = 1\n", "line 5"),
            "a chart file": ('format = "vantric/chart"\nversion = 2\n', "vantric draw draws it"),
        }
        for name, (text, *words) in cases.items():
            with self.subTest(name):
                self.refused(text, *words)

    def test_json_has_lines_too(self) -> None:
        text = json.dumps(
            {
                "format": "vantric/report",
                "version": 2,
                "sources": {"log": {"source": "inspections.csv"}},
                "sections": [
                    {"kind": "text", "text": "a"},
                    {"kind": "pareto", "counting": {"by": "defect", "kount": "x"}},
                ],
            },
            indent=1,
        )
        line = next(at for at, one in enumerate(text.splitlines(), 1) if "kount" in one)
        self.refused(text, f"line {line}:", "section 2 (pareto)", "'kount'", "'count'", name="r.json")

    def test_a_section_that_fails_is_named_and_left_out_on_request_only(self) -> None:
        path = self.written(HEAD + PARETO + PARETO.replace('"defect"', '"defekt"'))
        self.refused(path.read_text(), "section 2 (pareto)", "--partial")
        out = self.folder / "out.html"
        result = Result("report", path, "--partial", "--out", out)
        self.assertEqual(result.status, 0)
        self.assertIn("section 2 (pareto)", result.err)
        self.assertIn("section 2 (pareto) could not be made", out.read_text())
        made = vt.report(path, partial=True)
        self.assertEqual([one.code for one in made.review() if one.severity == "error"], ["section-failed"])
        self.assertEqual(Result("report", path, "--partial", "--strict", "--out", out).status, 1)

    def test_the_command_itself(self) -> None:
        for arguments, words in (
            ((), "name a report file"),
            (("r.toml", "--data", "log"), "NAME=FILE"),
            (("--new", "x.toml"), "--from"),
            (("r.toml", "--new", "x.toml", "--from", "y.csv"), "no more"),
        ):
            result = Result("report", *arguments)
            self.assertEqual(result.status, 2)
            self.assertIn(words, result.err)


class Since(Case):
    def log(self, name: str, counts: dict[str, int]) -> Path:
        path = self.folder / name
        path.write_text("defect\n" + "".join(f"{label}\n" * number for label, number in counts.items()))
        return path

    def test_ranks_new_gone_and_beyond_chance(self) -> None:
        old = {"Pinhole": 90, "Warping": 60, "Scratch": 30, "Stain": 4}
        new = {"Pinhole": 40, "Warping": 65, "Scratch": 90, "Crack": 6}
        self.log("old.csv", old)
        self.log("new.csv", new)
        text = HEAD.replace("inspections", "old") + PARETO
        self.made(text).save(self.folder / "last.json")
        kinds = {"the last report": "last.json", "a file of data": "old.csv"}
        said = {}
        for name, previous in kinds.items():
            found = self.made(text, data={"log": self.folder / "new.csv"}, previous=self.folder / previous)
            said[name] = found.changed
        self.assertEqual(said["the last report"], said["a file of data"])
        [line] = said["the last report"]
        for words in (
            "“Scratch” rose from",
            "statistically significant",
            "“Crack”",
            "“Stain”",
            "“Scratch” from 3 to 1",
        ):
            self.assertIn(words, line)
        two = text.replace("[[sections]]", '[sources.last]\nsource = "old.csv"\n[[sections]]').replace(
            'kind = "pareto"', 'kind = "pareto"\ndata = "log"'
        )
        two = two.replace("version = 2\n", 'version = 2\nprevious = "last"\n')
        self.assertEqual(self.made(two, data={"log": self.folder / "new.csv"}).changed, said["the last report"])

    def test_the_last_report_under_a_condition_or_weighed_is_compared_too(self) -> None:
        parts = PARETO.replace("[sections.counting]", "where = \"kiln = 'Kiln 2'\"\n[sections.counting]")
        for more in ("", 'count = "pieces"\n', 'count = "pieces"\nweight = "rework_cost"\n'):
            self.made(HEAD + parts + more).save(self.folder / "last.json")
            [line] = self.made(HEAD + parts + more, previous=self.folder / "last.json").changed
            self.assertIn("on both sides", line)
            self.assertIn("No rank among the leading ones changed", line)
            other = HEAD + parts.replace("Kiln 2", "Kiln 3") + more
            [line] = self.made(other, previous=self.folder / "last.json").changed
            self.assertIn("Last time it was of records where kiln = 'Kiln 2'.", line)

    def test_no_evidence_is_not_a_change(self) -> None:
        self.log("old.csv", {"a": 10, "b": 9})
        self.log("new.csv", {"a": 9, "b": 10})
        found = self.made(HEAD.replace("inspections", "new") + PARETO, previous=self.folder / "old.csv").changed[0]
        self.assertIn("No evidence of a change", found)
        self.assertIn("significant or not", found)

    def test_other_settings_are_not_compared(self) -> None:
        self.made(HEAD + PARETO).save(self.folder / "last.json")
        found = self.made(HEAD + PARETO.replace('"defect"', '"product"'), previous=self.folder / "last.json")
        self.assertIn("by was 'defect' and is 'product'", found.changed[0])

    def test_values_that_are_no_longer_what_they_were(self) -> None:
        combine = '[[sections]]\nkind = "combine"\n[sections.combine]\nx = "month"\nbars = "fired"\n'
        rows = ["month,fired", "2026-01,640", "2026-02,590"]
        (self.folder / "f.csv").write_text("\n".join(rows))
        head = HEAD.replace("inspections", "f")
        self.made(head + combine).save(self.folder / "last.json")
        (self.folder / "f.csv").write_text("\n".join([rows[0], rows[1], "2026-02,595", "2026-03,601"]))
        found = self.made(head + combine, previous=self.folder / "last.json")
        [line] = found.changed
        self.assertIn("## Since last time", found.markdown())
        self.assertIn("New: “2026-03”", line)
        self.assertIn("“fired” of 2026-02 was 590 and is 595", line)

    def test_what_no_report_wrote_is_one_line(self) -> None:
        for content in (
            "{",
            "[]",
            '{"format": "vantric/report-results"}',
            '{"format": "vantric/report-results", "sections": [{"kind": "pareto", "at": 1, "past": {"rows": 3}}]}',
        ):
            (self.folder / "last.json").write_text(content)
            result = Result("report", self.written(HEAD + PARETO), "--previous", self.folder / "last.json")
            self.assertEqual((result.status, result.err.count("\n")), (2, 1), result.err)


class First(Case):
    def test_a_first_report_file_makes_a_report(self) -> None:
        for source in ("inspections.csv", "firings.csv"):
            target = self.folder / f"{source[:4]}.toml"
            result = Result("report", "--new", target, "--from", self.folder / source)
            if source == "firings.csv":
                self.assertEqual(result.status, 2)
                continue
            self.assertEqual(result.status, 0, result.err)
            self.assertIn("# ", target.read_text())
            made = vt.report(target)
            self.assertEqual([one.kind for one in made.sections], ["pareto", "tally", "trend", "combine"])
            again = Result("report", "--new", target, "--from", self.folder / source)
            self.assertEqual(again.status, 2)

    def test_the_command_that_it_names_makes_the_report(self) -> None:
        (self.folder / "sub").mkdir()
        before = Path.cwd()
        os.chdir(self.folder)
        try:
            for target in ("here.toml", "sub/there.toml"):
                said = Result("report", "--new", target, "--from", "inspections.csv").out
                words = shlex.split(said.strip().rpartition("vantric ")[2])
                self.assertEqual(Result(*words).status, 0, said)
        finally:
            os.chdir(before)

    def test_hostile_names_are_quoted(self) -> None:
        (self.folder / 'odd "name".csv').write_text('"de""fect\\n",n\na,1\na,2\nb,3\n')
        target = self.folder / "odd.toml"
        self.assertEqual(Result("report", "--new", target, "--from", self.folder / 'odd "name".csv').status, 0)
        self.assertEqual(len(vt.report(target).sections), 1)


class Schema(Case):
    def test_the_schema_takes_what_the_reader_takes(self) -> None:
        import tomllib

        schema = json.loads(report_schema_text())
        good = HEAD + PARETO + '[[sections]]\nkind = "text"\ntext = "x"\n'
        jsonschema.validate(tomllib.loads(good), schema)
        for bad in (
            good.replace("by =", "bye ="),
            good.replace('"pareto"', '"pie"'),
            good.replace("sources.log", "source.log"),
        ):
            with self.assertRaises(jsonschema.ValidationError):
                jsonschema.validate(tomllib.loads(bad), schema)


if __name__ == "__main__":
    unittest.main()
