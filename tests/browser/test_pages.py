"""Pages in a real browser: pointing, keys, touch, sorting, cutting anew, printing, both schemes, nothing from outside."""

from __future__ import annotations

import io
import random
import re
import tempfile
import unittest
from decimal import Decimal
from pathlib import Path
from typing import Any, ClassVar

import vantric as vt
from tests.browser.chromium import FOUND
from tests.browser.opened import Browser
from vantric.demo import data_file

HOSTILE = (
    "</script><script>document.title='run'</script>",
    "<img src=x onerror=document.title='run'>",
    "&lt;b&gt; &amp;",
    "</title></svg><script>document.title='run'</script>",
    "line\u2028separator\u2029here",
    "'\"><svg onload=alert(1)>",
    "]]> <!-- -->",
    "{{7*7}} ${7*7}",
    "=1+1",
    "javascript:alert(1)",
    "\u202eright to left",
    "a\tb",
)


def page_of(result: Any) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        return Path(result.save(Path(folder, "page.html"))).read_bytes()


def demo() -> vt.ParetoTable:
    return vt.pareto(_log(), "defect")


def _log() -> dict[str, list[str]]:
    head, *rows = data_file("inspections.csv").decode().splitlines()
    names = head.split(",")
    cells = [row.split(",") for row in rows if row.count(",") == len(names) - 1]
    return {name: [row[at] for row in cells] for at, name in enumerate(names)}


#: A straight line has no extent, so that no browser calls it visible.
STYLE = "one => getComputedStyle(one).display"


@unittest.skipUnless(FOUND, "SKIPPED: no Chromium is installed (Debian's package chromium)")
class InABrowser(unittest.TestCase):
    browser: ClassVar[Browser]
    pareto: ClassVar[bytes]

    @classmethod
    def setUpClass(cls) -> None:
        cls.browser = Browser()
        cls.addClassCleanup(cls.browser.close)
        cls.pareto = page_of(demo())


class Pointing(InABrowser):
    def test_pointing_shows_exact_values_and_points_the_category_out_everywhere(self) -> None:
        with self.browser.opened(self.pareto) as seen:
            target = seen.page.locator(".view:visible .target").nth(1)
            target.hover()
            tip = seen.page.locator(".tip").inner_text()
            row = demo().rows[1]
            self.assertIn(f"{row.category}\nFrequency: {row.frequency} records", tip)
            self.assertIn(f"Percent: {row.percent:.3f}%", tip)
            on = seen.page.locator(".on")
            self.assertEqual(on.locator("th").inner_text(), row.category)
            self.assertGreaterEqual(seen.page.locator("svg .on").count(), 6)  # bar, point and target of three views
            seen.page.locator("tbody tr").nth(3).hover()
            marked = seen.page.locator("rect.on.strong").first.get_attribute("data-category")
            self.assertEqual(marked, seen.page.locator("tbody tr").nth(3).get_attribute("data-category"))
            seen.page.mouse.move(2, 2)
            self.assertEqual(seen.page.locator(".on").count(), 0)
            self.assertEqual(seen.said, [])

    def test_the_keyboard_reaches_every_mark_and_leaves_the_chart(self) -> None:
        with self.browser.opened(self.pareto) as seen:
            first = seen.page.locator(".view:visible .target").first
            first.focus()
            self.assertIn("Pinhole", seen.page.locator(".tip").inner_text())
            seen.page.keyboard.press("Tab")
            self.assertIn("Edge chip", seen.page.locator(".tip").inner_text())
            seen.page.keyboard.press("ArrowRight")
            self.assertIn("Warping", seen.page.locator(".tip").inner_text())
            seen.page.keyboard.press("End")
            self.assertIn("Rank: 24 of 24", seen.page.locator(".tip").inner_text())
            seen.page.keyboard.press("Escape")
            self.assertFalse(seen.page.locator(".tip").is_visible())
            seen.page.locator(".skip").focus()
            seen.page.keyboard.press("Enter")
            seen.page.keyboard.press("Tab")
            self.assertFalse(seen.page.evaluate("document.activeElement.classList.contains('target')"))

    def test_touch_shows_and_hides(self) -> None:
        with self.browser.opened(self.pareto, has_touch=True, size=(390, 844)) as seen:
            seen.page.locator(".view:visible .target").nth(1).tap()
            self.assertIn("Edge chip", seen.page.locator(".tip").inner_text())
            seen.page.locator("h1").tap()
            self.assertFalse(seen.page.locator(".tip").is_visible())

    def test_a_screen_reader_hears_sentence_chart_and_table(self) -> None:
        with self.browser.opened(self.pareto) as seen:
            heard = seen.page.locator("body").aria_snapshot()
            sentence = demo().sentence()
            self.assertIn(sentence[:60], heard)
            self.assertRegex(heard, "table")
            chart = seen.page.locator(".view:visible svg")
            names = chart.get_attribute("aria-labelledby").split()
            texts = [seen.page.locator(f"#{name}").text_content() for name in names]
            self.assertEqual(texts, ["7 of 24 categories account for 81% of 3,834 records", sentence])
            self.assertRegex(chart.locator(".target").first.get_attribute("aria-label"), "Pinhole; Frequency: ")


class Working(InABrowser):
    def test_tables_sort_by_column_and_back(self) -> None:
        table = vt.pareto({"b 10": 4, "b 9": 1.5, "a": 3, "rest of it": 30}, last="rest of it")
        with self.browser.opened(page_of(table)) as seen:
            given = seen.shown("tbody th")
            press = seen.page.get_by_role("button", name="Frequency", exact=True)
            press.click()
            self.assertEqual(seen.shown("tbody th"), ["b 10", "a", "b 9", "rest of it"])  # what is last stays last
            press.click()
            self.assertEqual(seen.shown("tbody th"), ["b 9", "a", "b 10", "rest of it"])
            head = seen.page.locator("th", has=press)
            self.assertEqual(head.get_attribute("aria-sort"), "ascending")
            press.click()
            self.assertEqual(seen.shown("tbody th"), given)
            seen.page.get_by_role("button", name="Category", exact=True).click()
            self.assertEqual(seen.shown("tbody th"), ["a", "b 9", "b 10", "rest of it"])

    def test_numbers_of_other_tables_sort_as_numbers(self) -> None:
        found = vt.compare({"a": 100, "b": 9, "c": 40}, {"a": 9, "b": 100, "c": 45})
        with self.browser.opened(page_of(found)) as seen:
            press = seen.page.get_by_role("button", name="Change", exact=True)
            press.click()
            self.assertEqual(seen.shown("tbody th"), ["b", "c", "a"])

    def test_the_switch_shows_values_percents_and_intervals(self) -> None:
        with self.browser.opened(self.pareto) as seen:
            self.assertIn("664", seen.shown("svg .value text"))
            seen.page.get_by_label("percents").check()
            self.assertIn("17%", seen.shown("svg .value text"))
            self.assertEqual(seen.shown("thead .only-intervals"), [])
            seen.page.get_by_label("intervals").check()
            self.assertEqual(seen.shown("thead .only-intervals"), ["Low, 95%", "High, 95%"])
            self.assertEqual(seen.page.locator(".view:visible").count(), 1)
            self.assertGreater(seen.page.locator(".view:visible .interval").count(), 0)

    def test_the_vital_few_are_cut_anew_by_the_exact_rule(self) -> None:
        chance = random.Random(7)
        tables: list[dict[str, Any]] = [
            {f"c{n}": 10 for n in range(10)},
            {f"c{n}": Decimal("0.1") for n in range(10)},
            {f"c{n}": 0.1 for n in range(10)},
            {f"c{n}": 10**20 + n for n in range(8)},
            {f"c{n}": chance.choice([0, 1, 2, 3, 5, 8]) + (n == 0) for n in range(12)},
            {f"c{n}": round(chance.expovariate(0.1), 2) for n in range(14)},
            {"one": 4},
            {"a": 80, "b": 20},
        ]
        checked = 0
        for number, counts in enumerate(tables):
            for rule, ties in (("reach", "exclude"), ("within", "exclude"), ("reach", "include")):
                how = {"rule": rule, "ties": ties}
                with self.browser.opened(page_of(vt.pareto(counts, **how))) as seen:
                    typed = seen.page.get_by_label("Cutoff in percent, typed")
                    for cut in (1, 10, 20, 33.3, 50, 60, 79.99, 90, 99.5):
                        typed.fill(str(cut))
                        wanted = vt.pareto(counts, cut=cut, **how)
                        rows = seen.page.locator("tr.vital")
                        self.assertEqual(rows.count(), wanted.cutoff.count, (number, rule, ties, cut))
                        said = seen.page.locator(".said").inner_text()
                        if wanted.cutoff.count:
                            reached = re.search(r"with ([\d.,]+)%: ", said)
                            assert reached is not None, said
                            self.assertLessEqual(abs(float(reached[1]) - wanted.cutoff.cumulative_percent), 0.0500001)
                        checked += 1
                    self.assertEqual(seen.said, [])
        self.assertEqual(checked, len(tables) * 27)

    def test_a_cut_is_said_in_the_marks_of_the_page(self) -> None:
        table = vt.pareto({f"c{n:04d}": 1 for n in range(1020)} | {"first": 510})
        for language, words in (
            ("de", ["50,5\u00a0%", "is reached by 264 of 1.021 categories", "“first”"]),
            ("fr", ["50,5\u00a0% cutoff", "264 of 1\u202f021"]),
            ("en", ["is reached by 264 of 1,021 categories, with 50.52%: “first”,", "and 256 more"]),
        ):
            with self.browser.opened(page_of(table.chart(language=language))) as seen:
                seen.page.get_by_role("spinbutton").fill("50.5")
                said = seen.page.locator(".said").inner_text()
                for word in words:
                    self.assertIn(word, said)
                self.assertEqual(seen.said, [])

    def test_a_cut_moves_the_line_the_bars_and_the_classes(self) -> None:
        with self.browser.opened(self.pareto) as seen:
            seen.page.get_by_label("Cutoff in percent", exact=True).fill("50")
            self.assertEqual(seen.page.locator(".view:visible rect.strong").count(), 3)
            self.assertEqual([text for text in seen.shown("tbody .abc") if text == "A"], ["A"] * 3)
            line = seen.page.locator(".view:visible .recut-line").bounding_box()
            frame = seen.page.locator(".view:visible .targets").bounding_box()
            plan = demo().chart(title="", subtitle="", note="").plan()
            share = float(plan.scales.secondary.fraction(50.0))
            self.assertTrue(plan.horizontal)
            self.assertAlmostEqual((line["x"] - frame["x"]) / frame["width"], share, delta=0.005)
            for gone in ("bands", "rims", "bracket", "class-name"):  # what they say is of the other cutoff
                self.assertFalse(seen.page.locator(f".view:visible .{gone}").first.is_visible(), gone)
            self.assertEqual(seen.page.locator(".view:visible g.cut").first.evaluate(STYLE), "none")
            seen.page.get_by_role("button", name="Reset").click()
            self.assertEqual(seen.page.locator(".view:visible rect.strong").count(), demo().cutoff.count)
            self.assertEqual(seen.page.locator(".recut-line").count(), 0)
            self.assertNotEqual(seen.page.locator(".view:visible g.cut").first.evaluate(STYLE), "none")

    def test_a_cutoff_that_is_none_is_said_to_be_none(self) -> None:
        with self.browser.opened(self.pareto) as seen:
            for text in ("0", "100", "0.5", "-3", ""):
                seen.page.get_by_label("Cutoff in percent, typed").fill(text)
                self.assertIn("at least 1 and less than 100", seen.page.locator(".said").inner_text())


class Standing(InABrowser):
    def test_nothing_comes_from_outside_and_nothing_else_runs(self) -> None:
        with self.browser.opened(self.pareto) as seen:
            self.assertEqual([url for url in seen.asked if not url.startswith(("file:", "data:"))], [])
            self.assertEqual(seen.said, [])
            seen.page.evaluate(
                "() => { const one = document.createElement('script'); one.textContent = 'window.ran = 1';"
                " document.body.append(one); document.body.insertAdjacentHTML('beforeend',"
                ' \'<img src=x onerror="window.ran = 1"><p style="color:red" id=styled>x</p>\'); }'
            )
            seen.page.wait_for_timeout(200)
            self.assertIsNone(seen.page.evaluate("() => window.ran ?? null"))
            self.assertTrue(any("Content Security Policy" in text for text in seen.said))
        self.assertNotRegex(self.pareto.decode(), r"<[^>]+\sstyle=")

    def test_hostile_labels_are_shown_as_typed(self) -> None:
        counts = {label: 20 - at for at, label in enumerate(HOSTILE)}
        table = vt.pareto(counts)
        chart = table.chart(title="<script>document.title='run'</script>")
        for result in (table, chart, vt.tally(counts), vt.compare(counts, dict(reversed(counts.items())))):
            with self.browser.opened(page_of(result)) as seen:
                self.assertNotEqual(seen.page.title(), "run")
                self.assertEqual(seen.said, [])
                shown = seen.shown("tbody th")
                for label in HOSTILE[:4]:
                    self.assertIn(label, shown)
                self.assertEqual(seen.page.locator("img, main script, svg script, svg svg").count(), 0)

    def test_without_scripts_the_picture_and_the_table_stay(self) -> None:
        with self.browser.opened(self.pareto, java_script_enabled=False) as seen:
            self.assertEqual(seen.page.locator("svg:visible").count(), 1)
            self.assertEqual(seen.page.locator("tbody tr:visible").count(), 24)
            self.assertTrue(seen.page.locator("thead .only-intervals").first.is_visible())
            self.assertIn("Pinhole", seen.page.locator(".target title").first.text_content())

    def test_texts_are_as_wide_as_they_were_measured(self) -> None:
        from vantric.core.layout.text_layout import table_measure

        with self.browser.opened(self.pareto) as seen:
            seen.page.evaluate("() => document.fonts.ready")
            found = seen.page.evaluate(
                "() => [...document.querySelectorAll('.view:not([hidden]) svg text')].map(one => [one.textContent,"
                " parseFloat(getComputedStyle(one).fontSize), getComputedStyle(one).fontWeight, one.getComputedTextLength()])"
            )
            self.assertGreater(len(found), 40)
            for text, size, weight, width in found:
                self.assertAlmostEqual(width, table_measure(text, size, weight == "600"), delta=0.6, msg=text)

    def test_light_dark_and_narrow_and_wide(self) -> None:
        grounds = set()
        for scheme, size in (("light", (390, 844)), ("dark", (1280, 800)), ("light", (2560, 1440))):
            with self.browser.opened(self.pareto, color_scheme=scheme, size=size) as seen:
                self.assertEqual(
                    seen.page.evaluate("() => document.documentElement.scrollWidth > innerWidth"), False, size
                )
                grounds.add(seen.page.evaluate("() => getComputedStyle(document.body).backgroundColor"))
                self.assertEqual(
                    seen.page.evaluate(
                        "() => getComputedStyle(document.body).backgroundColor ==="
                        " getComputedStyle(document.querySelector('svg .ground')).fill"
                    ),
                    True,
                )
        self.assertEqual(grounds, {"rgb(255, 255, 255)", "rgb(24, 21, 19)"})

    def test_no_violation_by_axe(self) -> None:
        from axe_playwright_python.sync_playwright import Axe

        pages = {
            "pareto": self.pareto,
            "report": report_page(),
            "panels": page_of(vt.pareto(_log(), "defect", split="kiln", keep=7).chart(panels=True)),
        }
        for name, content in pages.items():
            for scheme in ("light", "dark"):
                with self.browser.opened(content, color_scheme=scheme, bypass_csp=True) as seen:
                    if name == "pareto":
                        seen.page.get_by_label("intervals").check()
                        seen.page.get_by_label("Cutoff in percent", exact=True).fill("50")
                    found = Axe().run(seen.page)
                    self.assertEqual(found.violations_count, 0, f"{name}, {scheme}: {found.generate_report()}")

    def test_a_page_is_small(self) -> None:
        self.assertLessEqual(len(self.pareto), 120_000)
        self.assertLess(len(report_page()), 400_000)


REPORT = """
format = "vantric/report"
version = 2
title = "Monthly"
text = "What the *inspectors* found: <b>bold</b> [link](javascript:alert(1))"
[sources.log]
source = "inspections.csv"
[[sections]]
kind = "pareto"
title = "Defects"
[sections.counting]
by = "defect"
merge_spellings = true
[[sections]]
kind = "crosstab"
title = "Products"
[sections.counting]
by = "product"
[sections.crossing]
split = "kiln"
[[sections]]
kind = "trend"
title = "Over time"
[sections.counting]
by = "defect"
date = "date"
[[sections]]
kind = "text"
title = "What is next"
text = "Look at the glaze."
"""


def report_page() -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        Path(folder, "inspections.csv").write_bytes(data_file("inspections.csv"))
        Path(folder, "monthly.toml").write_text(REPORT, encoding="utf-8")
        made = vt.report(Path(folder, "monthly.toml"))
        made.save(Path(folder, "last.json"))
        again = vt.report(Path(folder, "monthly.toml"), previous=Path(folder, "last.json"))
        return again.save(Path(folder, "page.html")).read_bytes()


class Reports(InABrowser):
    def test_a_category_points_itself_out_in_every_chart_and_table(self) -> None:
        with self.browser.opened(report_page()) as seen:
            self.assertIn("Since last time", seen.page.locator("header").inner_text())
            self.assertEqual(seen.page.locator("header a[href^=javascript]").count(), 0)
            self.assertIn("<b>bold</b>", seen.page.locator("header").inner_text())
            seen.page.locator("#s1 .view:visible .target").first.hover()
            self.assertEqual(seen.page.locator("#s3 tr.on th").inner_text(), "Pinhole")
            self.assertEqual(seen.said, [])

    def test_printing_starts_each_section_on_a_page_and_cuts_no_row(self) -> None:
        from pypdf import PdfReader

        for form in ("A4", "Letter"):
            with self.browser.opened(report_page()) as seen:
                pdf = PdfReader(
                    io.BytesIO(seen.page.pdf(format=form, prefer_css_page_size=False, print_background=True))
                )
            texts = [page.extract_text() for page in pdf.pages]
            starts = [
                next(at for at, text in enumerate(texts) if re.search(rf"^{title}$", text, re.MULTILINE))
                for title in ("Defects", "Products", "Over time", "What is next")
            ]
            self.assertEqual(starts, [1, 2, 3, 4], form)  # a page a section, behind what changed since last time
            self.assertEqual(len(texts), 5, form)
            self.assertNotIn("Show", texts[0].split())
            for row in vt.pareto(_log(), "defect", merge_spellings=True).rows:
                line = rf"{row.rank}\s+{re.escape(row.category)}\s+{row.frequency:,}\s+{row.percent:.1f}%"
                self.assertTrue(any(re.search(line, text) for text in texts), f"{form}: {line}")


if __name__ == "__main__":
    unittest.main()
