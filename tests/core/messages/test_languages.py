"""Languages: every set complete, numbers and dates as CLDR writes them, every chart readable in it."""

import re
import tempfile
import unittest
import warnings
from decimal import Decimal
from pathlib import Path

import vantric as vt
from tests.cli.test_cli import Result
from tests.rendered import faults
from vantric.core.messages.formatter import Formatter
from vantric.core.messages.languages import LANGUAGES, WORDS, Language, language
from vantric.core.messages.message import interval
from vantric.core.numbers.number_format import NumberStyle, with_unit
from vantric.demo import data_file
from vantric.errors import VantricError
from vantric.tables.table import Column, Table

OTHERS = [code for code in LANGUAGES if code != "en"]


class Forms(unittest.TestCase):
    def test_forms_are_those_of_cldr(self) -> None:
        import datetime

        from babel.dates import format_date
        from babel.numbers import format_decimal, format_percent

        day = datetime.date(2026, 1, 5)
        for code in OTHERS:
            found = language(code)
            style = NumberStyle(show_numbers=found.show_numbers, percent_sign=found.percent_sign)
            self.assertEqual(style.amount(12345.5), format_decimal(12345.5, locale=code), code)
            self.assertEqual(style.percents(80, decimals=0), format_percent(0.8, locale=code), code)
            self.assertEqual(
                found.day("2026-01-05").replace("\xa0", " "),
                _stand_alone(format_date(day, "medium", locale=code), code),
                code,
            )

    def test_numbers_of_tables_are_read_back(self) -> None:
        from babel.numbers import parse_decimal

        texts = ("0", "5", "999", "1,234", "-1,234.5", "12,480.25", "1,000,000", "0.001", "123,456,789.125", "+10.3")
        for code in OTHERS:
            found = language(code)
            local = Formatter(found, NumberStyle(show_numbers=found.show_numbers, percent_sign=found.percent_sign))
            for text in texts:
                plain = Decimal(text.replace(",", ""))
                self.assertEqual(
                    parse_decimal(local.number(text).removeprefix("+"), locale=code), plain, f"{code}: {text}"
                )
                percent = local.number(f"{text}%")
                self.assertEqual(
                    parse_decimal(re.sub(r"[%\s+]", "", percent) if " " not in text else percent, locale=code),
                    plain,
                    percent,
                )
            ends = [local.number(text) for text in ("12.5%", "14.0%")]
            self.assertEqual(local.text(interval("12.5%", "14.0%")), "–".join(ends))
            for text in ("2026-01-05", "Kiln 3", "v1.2.3", "A-1", "–", ""):
                table = Table((Column("Name", [text], kind="text"), Column("Number", [1234.5])), local=local)
                self.assertEqual(table.shown(0), [text, local.number("1,234.5")])

    def test_what_is_no_day_stays(self) -> None:
        for text in ("", "January", "2026-01", "2026-W03", "5/1/2026"):
            self.assertEqual(language("de").day(text), text)
        self.assertEqual(Language().day("2026-01-05"), "2026-01-05")

    def test_a_percent_sign_in_front(self) -> None:
        self.assertEqual(with_unit("80", "%#"), "%80")
        self.assertEqual(with_unit("-5,2", "%#"), "-%5,2")
        self.assertEqual(with_unit("80", " %"), "80 %")


def _stand_alone(text: str, code: str) -> str:
    """Return a date of CLDR with the stand-alone name of the month, which charts use, in place of that of dates."""
    from babel import Locale

    months = Locale.parse(code).months
    for at in range(1, 13):
        text = text.replace(months["format"]["abbreviated"][at], months["stand-alone"]["abbreviated"][at])
    return text.replace("\xa0", " ")


class InEveryLanguage(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        for name in ("inspections.csv", "firings.csv", "crews.csv"):
            (cls.folder / name).write_bytes(data_file(name))
        cls.log = cls.folder / "inspections.csv"

    def charts(self, code: str) -> list[vt.Chart | vt.PanelChart]:
        log, firings = self.log, self.folder / "firings.csv"
        table = vt.pareto(log, "defect", merge_spellings=True, keep=9, date="date")
        found = vt.combine(
            firings,
            x="month",
            bars=["first_firing=A", "second_firing=B"],
            line="percent:rejected/first_firing=C",
            language=code,
        )
        return [
            vt.pareto_chart(table, language=code),
            vt.pareto_chart(table, language=code, intervals=True),
            vt.pareto_chart(vt.pareto(log, "defect", split="kiln", keep=9), language=code, orientation="horizontal"),
            vt.crosstab(log, "defect", "shift").compare("Early", "Night").chart(language=code),
            vt.combine(
                self.folder / "crews.csv", x="crew", planned="planned_hours", actual="achieved_hours", language=code
            ),
            found,
            vt.pareto_chart(vt.pareto(log, "defect", split="kiln", keep=9), panels=True, language=code),
            vt.trend(log, "defect", date="date").chart(language=code),
            vt.tally(log, "defect").chart(share_bar=True, keep=9, language=code),
        ]

    def test_no_label_covers_another_in_any_language(self) -> None:
        quiet = warnings.catch_warnings()
        quiet.__enter__()
        self.addCleanup(quiet.__exit__, None, None, None)
        warnings.simplefilter("ignore")  # a machine may have no font for every script
        for code in LANGUAGES:
            for at, chart in enumerate(self.charts(code)):
                with self.subTest(code=code, at=at):
                    self.assertEqual(chart.language, code)
                    self.assertEqual(list(faults(chart)), [])

    def test_charts_speak_no_english_but_for_what_is_the_user_s(self) -> None:
        table = vt.pareto(self.log, "kiln", date="date", keep=2, cut=50)
        known = {text for text in WORDS.values() if len(text) > 6 and "{" not in text}
        for code in OTHERS:
            shown = " ".join(mark.text for mark in vt.pareto_chart(table, language=code).plan().texts)
            self.assertEqual([one for one in known if re.search(rf"\b{re.escape(one)}\b", shown)], [], code)
        for code in ("de", "ja"):
            heads = [text for chart in self.charts(code) for text in (chart.title, chart.subtitle)]
            self.assertEqual([text for text in heads if re.search(r"records|blank|\bof\b|\band\b", text)], [], code)

    def test_pages_and_tables(self) -> None:
        table = vt.pareto(self.log, "defect", merge_spellings=True, keep=9, date="date")
        for code in OTHERS:
            found, path = language(code), self.folder / f"{code}.html"
            vt.pareto_chart(table, language=code).save(path)
            page = path.read_text(encoding="utf-8")
            self.assertIn(f'<html lang="{code}">', page)
            for word in ("rank", "category", "cumulative percent", "class", "total label", "skip the chart"):
                self.assertIn(f">{found.messages[word]}<", page, word)
            records = Formatter(found, NumberStyle(show_numbers=found.show_numbers)).style.plain(3834)
            self.assertRegex(
                page, rf'<p class="sentence" lang="en">\d of 19 categories account for .* {records} records'
            )
            self.assertIn(str(found.messages["rest label"]), page)
            self.assertNotIn(">Rank<", page)
            self.assertNotIn(">Other", page)
            self.assertIn(f">{found.messages['rest label']} (10)<", page)
            trend = Result("trend", str(self.log), "--by", "defect", "--date", "date", "--language", code).out
            self.assertIn(str(found.messages["trend label"]), trend.splitlines()[0])

    def test_labels_of_the_data_stay_as_they_are(self) -> None:
        rows = {"Total loss": 5, "Rank": 3, "Class": 2, "Percent": 1}
        chart = vt.pareto_chart(vt.pareto(rows), language="de")
        self.assertEqual(chart.categories, tuple(rows))
        path = self.folder / "labels.html"
        chart.save(path)
        for label in rows:
            self.assertIn(f'<th scope="row">{label}</th>', path.read_text(encoding="utf-8"))
        split = vt.pareto({"d": ["a", "b", "a"], "s": ["Rank", "Class", "Total"]}, by="d", split="s", cut=None)
        other = self.folder / "split.html"
        vt.pareto_chart(split, language="de").save(other)
        for label in ("Rank", "Class", "Total"):
            self.assertRegex(other.read_text(encoding="utf-8"), rf"<th[^>]*>{label}</th>")

    def test_what_is_given_wins_over_the_language(self) -> None:
        table = vt.pareto(self.log, "defect", keep=9, rest_label="Rest")
        chart = vt.pareto_chart(
            table, language="de", show_numbers="1,234.56", percent_sign="%", words={"frequency": "Stück"}
        )
        texts = [mark.text for mark in chart.plan().texts]
        self.assertIn("3,000", texts)
        self.assertIn("80%", texts)
        self.assertTrue(any("Stück" in text for text in texts))
        self.assertIn("Rest", chart.categories)

    def test_a_language_that_there_is_not(self) -> None:
        with self.assertRaisesRegex(VantricError, "language is one of 'en', 'de'"):
            vt.pareto_chart({"a": 1}, language="xx")  # type: ignore[arg-type]

    def test_a_chart_file_keeps_its_language(self) -> None:
        path = self.folder / "chart.toml"
        chart = vt.pareto(self.log, "defect", keep=9).chart(language="pl")
        chart.save(path)
        self.assertIn('language = "pl"', path.read_text(encoding="utf-8"))
        self.assertEqual(vt.read_chart(path), chart)


if __name__ == "__main__":
    unittest.main()
