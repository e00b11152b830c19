"""Every number of every output, parsed back by its language: the same numbers in every language, in every format."""

import io
import math
import re
import tempfile
import unittest
import warnings
from collections import Counter
from collections.abc import Callable
from decimal import Decimal, InvalidOperation
from html.parser import HTMLParser
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import some
from vantric.core.messages.languages import Language, language
from vantric.core.numbers.number_format import marks_of

#: What is no number: names of the data and of files, colors; what only English counts.
_NAMES = re.compile(r"[A-Z]\d+\b|\S*\.(?:csv|toml)|#[0-9a-f]{6}|\d+x\d+|merged into \d+")


def dates_of(tongue: Language) -> re.Pattern[str]:
    """Return the dates of a language: with their months as numbers, or by their names."""
    months = "|".join(map(re.escape, tongue.months)) or "Jan"
    named = rf"\d{{1,2}} (?:de )?(?:{months})(?: de)? \d{{4}}"
    return re.compile(
        rf"\d{{4}}-\d\d(?:-\d\d)?|\d\d\.\d\d\.\d{{4}}|\d{{4}}/\d\d/\d\d|{named}|(?:{months})\b[ \n]*\d*|\b20\d\d\b"
    )


def numbers_in(text: str, tongue: Language, example: str | None = None) -> Counter[Decimal]:
    """Return every number of a text, as a language reads its marks."""
    thousands, decimal = marks_of(example or tongue.show_numbers or "1,234.56")
    plain = _NAMES.sub(" ", dates_of(tongue).sub(" ", text))
    gap = re.escape(thousands)
    found = re.findall(rf"\d+(?:{gap}\d{{3}})*(?:{re.escape(decimal)}\d+)?", plain)
    texts = (item.replace(thousands, "").replace(decimal, ".") for item in found)
    return Counter(Decimal(item).normalize() for item in texts)


class _Text(HTMLParser):
    """The text of a page, and what assistive technology reads of it."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.parts: list[str] = []
        self.skipped = 0
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: Any) -> None:
        self.skipped += tag in ("script", "style")
        self.parts += [str(value) for name, value in attrs if name in ("aria-label", "data-tip") and value]

    def handle_endtag(self, tag: str) -> None:
        self.skipped -= tag in ("script", "style")

    def handle_data(self, data: str) -> None:
        if not self.skipped:
            self.parts.append(data)


def page_of(path: Path) -> str:
    return " ".join(_Text(path.read_text(encoding="utf-8")).parts)


def sheets_of(path: Path) -> str:
    """Return the texts of a workbook; its numbers are numbers, which the reader's program writes."""
    import openpyxl

    book = openpyxl.load_workbook(path)
    cells = (cell.value for sheet in book for row in sheet.iter_rows() for cell in row)
    return " ".join(cell for cell in cells if isinstance(cell, str) and not cell.startswith("="))


def slides_of(path: Path) -> str:
    from pptx import Presentation

    show = Presentation(io.BytesIO(path.read_bytes()))
    texts = [slide.notes_slide.notes_text_frame.text for slide in show.slides if slide.has_notes_slide]
    return " ".join(
        [*texts, *(shape.text_frame.text for slide in show.slides for shape in slide.shapes if shape.has_text_frame)]
    )


def text_of(path: Path) -> str:
    return path.read_text(encoding="utf-8").replace("\\", "")


READERS: dict[str, Callable[[Path], str]] = {
    ".html": page_of,
    ".md": text_of,
    ".xlsx": sheets_of,
    ".pptx": slides_of,
    ".svg": page_of,
}


class EveryNumber(unittest.TestCase):
    """A log large enough for thousands marks, with shares, intervals, tests, folds, merges and findings."""

    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        # English alone has letters for thousands at marks: without them every number is the same in every language.
        exact = patch("vantric.core.numbers.number_format._SHORTENED", math.inf)
        exact.start()
        cls.addClassCleanup(exact.stop)
        chance = np.random.default_rng(5)
        names = np.array(["Pinhole", "Chip", "pinhole", "Warp", "Crack", "Stain", "n/a", ""])
        labels = chance.choice(names, 24_000, p=[0.3, 0.24, 0.05, 0.15, 0.1, 0.06, 0.05, 0.05])
        kilns = chance.choice(["East", "West"], 24_000, p=[0.6, 0.4])
        labels[(labels == "Chip") & (kilns == "West")] = "Warp"
        months = chance.integers(1, 13, 24_000)
        sizes = np.round(chance.lognormal(2, 1, 24_000), 2)
        rows = zip(labels, kilns, months, sizes, strict=True)
        lines = [f"{d},{k},2026-{m:02d}-15,{s:.2f}" for d, k, m, s in rows]
        cls.log = cls.folder / "log.csv"
        cls.log.write_text("defect,kiln,date,cost\n" + "\n".join(lines) + "\n", encoding="utf-8")
        cls.sheet = cls.folder / "sheet.csv"
        sheet = [f"Crew {name},{1000 + 137 * n},{1250.5 + 91 * n}" for n, name in enumerate("ABCDEFGH")]
        cls.sheet.write_text("crew,done,target\n" + "\n".join(sheet) + "\n", encoding="utf-8")

    def charts(self, **look: Any) -> dict[str, Any]:
        log, base = self.log, vt.tally(self.log, "defect", na=("n/a",))
        sides = vt.crosstab(log, "defect", "kiln", merge_spellings=True)
        return {
            "pareto": vt.pareto(log, "defect", keep=5).chart(intervals=True, concentration=True, **look),
            "weighted": vt.pareto(log, "defect", weight="cost", merge_spellings=True).chart(**look),
            "parts": vt.pareto(log, "defect", split="kiln", merge_spellings=True).chart(**look),
            "rates": vt.pareto({"a": 3456, "b": 1234}, per={"a": 98_765, "b": 54_321}, per_units=1000).chart(**look),
            "tally": base.chart(**look),
            "crosstab": sides.chart(**look),
            "compare": sides.compare("East", "West").chart(**look),
            "trend": vt.trend(log, "defect", date="date", merge_spellings=True).chart(**look),
            "gap": vt.combine(self.sheet, x="crew", planned="target", actual="done", **look),
        }

    def test_charts_and_all_that_is_handed_over_with_them(self) -> None:
        warnings.simplefilter("ignore")  # a machine may have no font for every script
        self.addCleanup(warnings.resetwarnings)
        english = self.written("en")
        for code in some(("de", "fr", "tr"), 3):
            for name, text in self.written(code).items():
                with self.subTest(code=code, file=name):
                    self.assertEqual(self.differ(text, english[name], code), {})

    def written(self, code: str) -> dict[str, str]:
        """Return file -> its text, of every chart in every format."""
        texts = {}
        # Wide, so that the longer percents of another language have room too: what has none is left out and told.
        for name, chart in self.charts(language=code, size=(1920, 1200)).items():
            for ending, read in READERS.items():
                path = self.folder / f"{name}{ending}"
                chart.save(path)
                texts[path.name] = read(path)
                path.unlink()
        return texts

    def differ(self, text: str, english: str, code: str) -> dict[Decimal, tuple[int, int]]:
        """Return the numbers that one of two texts has more often."""
        mine, other = numbers_in(text, language(code)), numbers_in(english, language("en"))
        # Ticks of axes may be others where words are longer or shorter: they are whole and are in the plan.
        return {
            item: (mine[item], other[item])
            for item in mine.keys() | other.keys()
            if bool(mine[item]) != bool(other[item])
        }

    def test_terminal(self) -> None:
        log = str(self.log)
        for command in (
            ("pareto", log, "--by", "defect", "--keep", "4", "--intervals", "--concentration"),
            ("pareto", log, "--by", "defect", "--split", "kiln", "--merge-spellings"),
            ("tally", log, "--by", "defect", "--split", "kiln"),
            ("compare", log, "--by", "defect", "--split", "kiln", "--before", "East", "--after", "West"),
            ("trend", log, "--by", "defect", "--date", "date"),
            (
                "combine",
                str(self.sheet),
                "--x",
                "crew",
                "--bars",
                "done",
                "--line",
                "target",
                "--relate",
                "done,target",
            ),
        ):
            english = Result(*command).out
            for code in some(("fr", "de", "tr"), 3):
                with self.subTest(command=command[0], code=code):
                    found = Result(*command, "--language", code)
                    self.assertEqual(found.status, 0, found.err)
                    self.assertEqual(self.differ(found.out, english, code), {})

    def test_a_report_with_what_changed_since_last_time(self) -> None:
        text = """format = "vantric/report"
version = 2
title = "Month"
[sources.log]
source = "log.csv"
[[sections]]
kind = "pareto"
[sections.counting]
by = "defect"
merge_spellings = true
[sections.chart]
language = "XX"
[[sections]]
kind = "tally"
[sections.counting]
by = "kiln"
[sections.chart]
language = "XX"
"""
        last = self.folder / "last.csv"
        lines = self.log.read_text(encoding="utf-8").splitlines()
        last.write_text("\n".join([*lines[:15_000], ""]), encoding="utf-8")
        texts = {}
        for code in ("en", *some(("de", "fr", "tr"), 3)):
            path = self.folder / f"report-{code}.toml"
            path.write_text(text.replace("XX", code), encoding="utf-8")
            report = vt.report(path, previous=last)
            for ending in (".md", ".html", ".xlsx", ".pptx"):
                target = self.folder / f"month{ending}"
                report.save(target)
                texts[code, ending] = READERS[ending](target)
            codes = [finding.code for section in report.sections for finding in section.findings]
            texts[code, "codes"] = " ".join(codes)
        for code, ending in texts:
            if ending == "codes":
                self.assertEqual(texts[code, ending], texts["en", ending], "no finding is there twice")
                continue
            with self.subTest(code=code, ending=ending):
                self.assertEqual(self.differ(texts[code, ending], texts["en", ending], code), {})

    def test_marks_that_are_given_hold_for_every_number(self) -> None:
        english = self.written("en")
        for name, chart in self.charts(show_numbers="1.234,56").items():
            for ending in (".html", ".md"):
                path = self.folder / f"{name}{ending}"
                chart.save(path)
                mine = numbers_in(READERS[ending](path), language("en"), "1.234,56")
                other = numbers_in(english[path.name], language("en"))
                self.assertEqual(set(mine), set(other), path.name)

    def test_a_number_in_the_marks_of_another_language_would_be_found(self) -> None:
        self.assertEqual(
            self.differ("3,834 records", "3,834 records", "de"), {Decimal("3.834"): (1, 0), Decimal(3834): (0, 1)}
        )
        with self.assertRaises(InvalidOperation):
            Decimal("3.834.5")


if __name__ == "__main__":
    unittest.main()
