"""``vantric pareto`` and ``vantric compare`` with every option, as a user types them."""

import io
import json
import re
from pathlib import Path

import pandas as pd
from PIL import Image

import vantric as vt
from tests.cli.test_cli import LOG, Result
from tests.folder import InFolder
from vantric.demo import data_file

ANSWERS = "Strongly disagree,Disagree,Neither,Agree,Strongly agree"


class Analysis(InFolder):
    def told(self, *arguments: object) -> dict[str, object]:
        result = Result("pareto", *arguments, "--format", "json")
        self.assertEqual(result.status, 0, result.err)
        found: dict[str, object] = json.loads(result.out)
        return found

    def test_it_says_what_the_function_says(self) -> None:
        for arguments, options in [
            (
                ["--cut", "60,80,95", "--rule", "within", "--ties", "include"],
                {"cut": (60, 80, 95), "rule": "within", "ties": "include"},
            ),
            (["--no-cut", "--keep", "5", "--rest-label", "Rest"], {"cut": None, "keep": 5, "rest_label": "Rest"}),
            (
                ["--fold-below", "2.5", "--last", "Scratch", "--last", "Stain"],
                {"fold_below": 2.5, "last": ["Scratch", "Stain"]},
            ),
            (["--order", "label", "--drop-zero"], {"order": "label", "drop_zero": True}),
            (["--order", "given"], {"order": "given"}),
            (
                ["--count", "pieces", "--weight", "rework_cost", "--missing", "category"],
                {"count": "pieces", "weight": "rework_cost", "missing": "category"},
            ),
            (["--per", "pieces", "--per-units", "100"], {"per": "pieces", "per_units": 100}),
            (["--per", "20000", "--per-name", "tiles"], {"per": 20000, "per_name": "tiles"}),
            (["--split", "kiln", "--date", "date"], {"split": "kiln", "date": "date"}),
            (["--split", "date", "--period", "quarter"], {"split": "date", "period": "quarter"}),
        ]:
            with self.subTest(arguments=arguments):
                by = "product" if "--per" in arguments else "defect"
                told = self.told(LOG, "--by", by, *arguments)
                expected = json.loads(json.dumps(vt.pareto(str(LOG), by, **options).to_dict()))  # type: ignore[arg-type]
                self.assertEqual(told, expected)

    def test_an_order_in_a_list_and_a_drill_down(self) -> None:
        log = self.file(data_file("survey.csv"))
        table = self.told(log, "--by", "answer", "--order", ANSWERS)
        self.assertEqual((table["order"], table["cutoff"]), (ANSWERS.split(","), None))
        quoted = self.file('d\n"a, b"\nc\n', "q.csv")
        self.assertEqual(self.told(quoted, "--by", "d", "--order", 'c,"a, b"')["order"], ["c", "a, b"])
        map_ = self.file(data_file("defect_families.csv"), "map.csv")
        drilled = self.told(LOG, "--drill", "family,defect", "--families", map_)
        self.assertEqual(drilled["by"], "family")
        self.assertGreater(len(drilled["drill"]), 1)  # type: ignore[arg-type]

    def test_every_ending_at_once(self) -> None:
        names = ["a.csv", "a.json", "a.xlsx", "a.md", "a.html", "a.png", "a.svg", "a.pdf"]
        outs = [word for name in names for word in ("--out", str(self.folder / name))]
        result = Result("pareto", LOG, "--by", "defect", "--split", "kiln", "--keep", "9", *outs)
        self.assertEqual(result.status, 0, result.err)
        self.assertEqual([line.split("/")[-1] for line in result.err.splitlines()], names)

    def test_looks(self) -> None:
        words = self.file('total = "Summe {total}"\n', "words.toml")
        target = self.folder / "a.svg"
        result = Result(
            "pareto",
            LOG,
            "--by",
            "defect",
            "--theme",
            "dark",
            "--size",
            "900x700",
            "--orientation",
            "horizontal",
            "--line-at",
            "edge",
            "--labels",
            "percent",
            "--label-place",
            "inside",
            "--cumulative",
            "frequency",
            "--legend",
            "below",
            "--title",
            "Mängel",
            "--note",
            "Nur Entwurf",
            "--unit",
            "Stück",
            "--color",
            "Pinhole=teal",
            "--words-file",
            words,
            "--word",
            "frequency=Anzahl",
            "--show-numbers",
            "1.234,56",
            "--decimals",
            "1",
            "--prefix",
            "~",
            "--percent-sign",
            "%",
            "--out",
            target,
        )
        self.assertEqual(result.status, 0, result.err)
        self.assertRegex(
            result.err, rf"^wrote {re.escape(str(target))}\nvantric: note: \d labels? (?:is|are) left out [^\n]*\n$"
        )
        self.assertIn('<title id="chart-title">Mängel</title>', target.read_text())
        picture = self.folder / "a.png"
        self.assertEqual(
            Result("pareto", LOG, "--by", "defect", "--size", "900x700", "--theme", "dark", "--out", picture).status, 0
        )
        with Image.open(picture) as image:
            self.assertEqual((image.size, image.getpixel((2, 2))), ((900, 700), (0x18, 0x15, 0x13)))

    def test_bad_input_is_one_line_and_writes_nothing(self) -> None:
        target = self.folder / "a.png"
        target.write_bytes(b"old")
        self.file('total = "x', "broken.toml")
        self.file('{"total": 5}', "wrong.json")
        for arguments, words in [
            (["--cut", "0"], "between 0 and 100"),
            (["--cut", "100"], "between 0 and 100"),
            (["--cut", "95,80"], "cutoffs ascend"),
            (["--cut", "80", "--no-cut"], "contradict each other"),
            (["--keep", "0"], "at least 1"),
            (["--keep", "2"], "use --keep 7 or more"),
            (["--keep", "9", "--fold-below", "2"], "give one of them"),
            (["--order", "Pinhole,Scratch"], "the order misses"),
            (["--order", "Pinhole,Pinhole"], "names 'Pinhole' twice"),
            (["--order", "lable"], "did you mean 'label'"),
            (["--order", "label", "--cut", "80"], "a cutoff needs the categories in the order of their frequency"),
            (["--split", "kilm"], "did you mean 'kiln'"),
            (["--period", "month"], "name the column with split"),
            (["--panels"], "--panels needs parts"),
            (["--drill", "kiln,shift"], "leave --by out"),
            (["--theme", "drak"], "did you mean 'dark'"),
            (["--size", "tiny"], "--size is a pair of numbers, not 'tiny'; write it as WxH"),
            (["--color", "teal"], "--color takes a name"),
            (["--color", "Pinhoel=teal"], "did you mean 'P"),
            (["--word", "total"], "--word takes a name"),
            (["--word", "totl=x"], "did you mean 'total'"),
            (["--words-file", str(self.folder / "none.toml")], "there is no file"),
            (["--words-file", str(self.folder / "broken.toml")], "is not valid TOML"),
            (["--words-file", str(self.folder / "wrong.json")], "gives no words"),
            (["--note", "x", "--no-note"], "contradict each other"),
            (["--weight", "kiln"], "column 'kiln': the count is not a number: 'Kiln"),
            (["--per", "0"], "above zero"),
        ]:
            with self.subTest(arguments=arguments):
                result = Result("pareto", LOG, "--by", "defect", *arguments, "--out", target)
                self.assertEqual((result.status, result.out, result.err.count("\n")), (2, "", 1), result.err)
                self.assertIn(words, result.err)
                self.assertEqual(target.read_bytes(), b"old")
        for arguments, words in [
            (["--theme", "dark"], "--theme is for a chart"),
            (["--color", "a=b"], "--color is for a chart"),
        ]:
            self.assertIn(words, Result("pareto", LOG, "--by", "defect", *arguments).err)


class Compare(InFolder):
    sides = ("--split", "shift", "--before", "Early", "--after", "Night")

    def test_two_parts_of_one_source(self) -> None:
        result = Result("compare", LOG, "--by", "defect", *self.sides, "--merge-spellings")
        self.assertEqual((result.status, result.err), (0, ""))
        lines = result.out.splitlines()
        self.assertEqual(lines[0], "Comparison of defect")
        self.assertTrue(all(len(line) <= 80 for line in lines), lines)
        self.assertIn("Not shown, not enough space: Share of change", result.out)
        self.assertRegex(result.out, r"\nPinhole +330 +255 +22\.1% +26\.9% +−0\.5 to \+10\.3 +no evidence\n")
        self.assertRegex(" ".join(lines), "fell by 36.5%, from 1,494 .Early. to 948 .Night.")

    def test_two_sources(self) -> None:
        before, after = self.file("d,n\na,4\nb,1\n"), self.file("d,n\na,1\nb,1\n", "after.csv")
        result = Result("compare", before, after, "--by", "d", "--count", "n", "--format", "json")
        told = json.loads(result.out)
        self.assertEqual([told[side]["name"] for side in ("before", "after")], ["Before", "After"])
        self.assertEqual([row["change"] for row in told["rows"]], [-3, 0])
        self.assertIn("Source: ", Result("compare", before, after, "--by", "d").out)

    def test_rates_and_every_ending(self) -> None:
        outs = [
            word
            for name in ("c.csv", "c.json", "c.xlsx", "c.md", "c.html", "c.png")
            for word in ("--out", str(self.folder / name))
        ]
        result = Result(
            "compare",
            LOG,
            "--by",
            "kiln",
            *self.sides,
            "--per",
            "pieces",
            "--per-units",
            "100",
            *outs,
            "--format",
            "csv",
        )
        self.assertEqual(result.status, 0, result.err)
        told = json.loads((self.folder / "c.json").read_text())
        self.assertEqual(told["unit"], "records per 100 pieces")
        frame = pd.read_csv(io.StringIO(result.out))
        log = pd.read_csv(LOG)
        early = log[log["shift"] == "Early"]
        for row in frame.itertuples():
            rate = 100 * (early["kiln"] == row.category).sum() / early["pieces"].sum()
            self.assertAlmostEqual(row.before, rate)

    def test_bad_input(self) -> None:
        other = self.file("d\na\n")
        for arguments, words in [
            ([LOG, "--by", "defect"], "give --split, --before and --after"),
            (
                [LOG, "--by", "defect", "--split", "shift", "--before", "Erly", "--after", "Night"],
                "'shift' has no 'Erly'; did you mean 'Early'",
            ),
            ([LOG, other, other, "--by", "defect"], "two sources at most"),
            ([LOG, other, "--by", "defect", "--split", "shift"], "--split needs --before and --after"),
            ([LOG, "--by", "defect", *self.sides, "--per", "1,2,3"], "two numbers"),
            (
                [LOG, "--by", "defect", *self.sides, "--line-at", "edge", "--out", self.folder / "a.png"],
                "line_at='edge'",
            ),
            (["--by", "defect"], "Missing argument"),
        ]:
            with self.subTest(arguments=arguments):
                result = Result("compare", *arguments)
                self.assertEqual((result.status, result.out, result.err.count("\n")), (2, "", 1), result.err)
                self.assertIn(words, result.err)
        self.assertEqual(list(Path(self.folder).glob("*.png")), [])
