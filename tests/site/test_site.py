"""The built site: every link leads somewhere, it is whole in a browser, and the search finds what people ask for."""

import re
import shutil
import unittest
from html.parser import HTMLParser
from pathlib import Path
from urllib.parse import unquote, urlsplit

from docs.building.running import DOCS

SITE = DOCS / "_build" / "html"
PAGES = (
    "index.html",
    "start.html",
    "howto/index.html",
    "howto/rank-a-log.html",
    "howto/from-a-cluster.html",
    "gallery/index.html",
    "gallery/1_pareto/plot_01_defects.html",
    "pareto.html",
    "certainty.html",
    "findings.html",
    "options.html",
    "reference/python.html",
    "reference/made/commands.html",
    "reference/errors.html",
    "languages.html",
    "search.html",
)
#: What people type -> a page that must be among the first found.
ASKED = {
    "total row": "howto/counts-with-a-total",
    "before after": "howto/before-and-after",
    "rate": "howto/rates-per-piece",
    "workbook": "howto/hand-it-over",
    "database": "howto/from-a-database",
    "two-way": "howto/two-way-tables",
    "secondary axis": "axes",
    "german": "languages",
    "exit status": "reference/errors",
    "cutoff": "pareto",
    "negative": "howto/negative-months",
    "many categories": "howto/many-categories",
}
AMONG = 12


class Links(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.ids: set[str] = set()
        self.targets: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        given = dict(attrs)
        self.ids |= {str(given[name]) for name in ("id", "name") if given.get(name)}
        self.targets += [str(given[name]) for name in ("href", "src") if given.get(name)]


@unittest.skipUnless(SITE.exists(), "SKIPPED: the site is not built; make docs builds it")
class Site(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.pages: dict[Path, Links] = {}
        for path in SITE.rglob("*.html"):
            found = Links()
            found.feed(path.read_text(encoding="utf-8"))
            cls.pages[path] = found

    def test_every_link_inside_the_site_leads_somewhere(self) -> None:
        self.assertGreater(len(self.pages), 90)
        for path, found in self.pages.items():
            for target in found.targets:
                parts = urlsplit(target)
                if parts.scheme or parts.netloc or not (parts.path or parts.fragment):
                    continue
                place = (path.parent / unquote(parts.path)).resolve() if parts.path else path
                self.assertTrue(place.exists(), f"{path.relative_to(SITE)} leads to {target}")
                if parts.fragment and place in self.pages:
                    self.assertIn(unquote(parts.fragment), self.pages[place].ids, f"{path.relative_to(SITE)}: {target}")

    def test_nothing_is_loaded_from_a_network(self) -> None:
        for path in [*self.pages, *SITE.rglob("*.css")]:
            text = path.read_text(encoding="utf-8")
            for loaded in re.findall(
                r'(?:<script[^>]*src|<img[^>]*src|<link[^>]*href)="(https?:[^"]*)"|@import\s+["\'](https?:[^"\']*)',
                text,
            ):
                self.fail(f"{path}: {loaded}")

    def test_the_gallery_has_forty_charts_each_a_click_from_its_code(self) -> None:
        scripts = sorted((DOCS.parent / "examples/gallery").rglob("plot_*.py"))
        self.assertGreaterEqual(len(scripts), 40)
        index = self.pages[SITE / "gallery/index.html"].targets
        for script in scripts:
            page = f"{script.parent.name}/{script.stem}.html"
            self.assertTrue(any(page in target for target in index), page)
            text = (SITE / "gallery" / page).read_text(encoding="utf-8")
            self.assertIn("vantric", text)
            self.assertRegex(text, rf'<img alt="[^"]{{20,}}"[^>]*src="[^"]*{script.stem}_001\.png"')

    def test_every_how_to_page_shows_its_picture(self) -> None:
        for path in (SITE / "howto").glob("*.html"):
            if path.stem != "index":
                text = path.read_text(encoding="utf-8")
                self.assertRegex(text, r'<img alt="[^"]{10,}" src="\.\./_images/', path.name)
                self.assertIn("sheet-table", text)


@unittest.skipUnless(SITE.exists() and shutil.which("chromium"), "SKIPPED: no site, or no Chromium")
class InABrowser(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        from playwright.sync_api import sync_playwright

        driver = sync_playwright().start()
        cls.addClassCleanup(driver.stop)
        cls.browser = driver.chromium.launch(
            executable_path=shutil.which("chromium"), args=["--no-sandbox", "--allow-file-access-from-files"]
        )
        cls.addClassCleanup(cls.browser.close)

    def test_pages_are_whole_at_every_width_in_both_schemes(self) -> None:
        for width, scheme in ((1280, "light"), (390, "light"), (390, "dark"), (1280, "dark")):
            page = self.browser.new_page(viewport={"width": width, "height": 800}, color_scheme=scheme)
            wrong: list[str] = []
            page.on("requestfailed", lambda request, wrong=wrong: wrong.append(request.url))
            page.on("pageerror", lambda error, wrong=wrong: wrong.append(str(error)))
            for name in PAGES:
                with self.subTest(page=name, width=width, scheme=scheme):
                    page.goto((SITE / name).as_uri())
                    self.assertLessEqual(
                        page.evaluate("document.documentElement.scrollWidth"), width, "it moves sideways"
                    )
                    broken = page.evaluate(
                        "[...document.images].filter((one) => one.complete && !one.naturalWidth).map((one) => one.src)"
                    )
                    self.assertEqual([*broken, *wrong], [])
            page.close()

    def test_the_search_finds_what_people_ask_for(self) -> None:
        page = self.browser.new_page()
        for words, wanted in ASKED.items():
            with self.subTest(words=words):
                page.goto(f"{(SITE / 'search.html').as_uri()}?q={words}")
                page.wait_for_selector("#search-results p.search-summary")
                page.wait_for_function(
                    "/finished|did not match/.test(document.querySelector('p.search-summary').textContent)"
                )
                found = page.eval_on_selector_all(
                    "#search-results li > a:first-of-type", "(all) => all.map((one) => one.getAttribute('href'))"
                )
                self.assertTrue(any(wanted in one for one in found[:AMONG]), f"{wanted} is not among {found[:AMONG]}")


if __name__ == "__main__":
    unittest.main()
