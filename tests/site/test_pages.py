"""The pages of the documentation: every command and every block of Python on them runs, and shows what they say."""

import contextlib
import io
import re
import tempfile
import unittest
from pathlib import Path

from docs.building.running import DOCS, Block, WrongPageError, blocks_of, put_sheets, run_page

import vantric
from vantric.demo import DATA

PAGES = sorted(path for path in DOCS.rglob("*.md") if not {"made", "_build", "gallery", "building"} & set(path.parts))
HOWTO = sorted(path for path in (DOCS / "howto").glob("*.md") if path.stem != "index")
#: Pages of others that are included.
INCLUDED = {"changes.md", "security.md", "contributing.md"}


def built_after(page: Path) -> bool:
    """Whether the site was built after the last change of a page and of the code."""
    index = DOCS / "_build/html/index.html"
    newest = max(
        path.stat().st_mtime for path in [page, *(DOCS.parent / "src").rglob("*.py"), *(DOCS / "building").glob("*.py")]
    )
    return index.exists() and index.stat().st_mtime > newest


class Pages(unittest.TestCase):
    def test_everything_on_every_page_runs(self) -> None:
        for page in [*PAGES, DOCS.parent / "README.md"]:
            if page.name in INCLUDED or (page in HOWTO and built_after(page)):
                continue  # the build has run it, by the same runner
            with (
                self.subTest(page=page.name),
                tempfile.TemporaryDirectory() as name,
                contextlib.redirect_stdout(io.StringIO()),
            ):
                put_sheets(Path(name))
                made = {path.name for path in run_page(page, Path(name))}
                wanted = set(re.findall(r"\(made/([\w-]+\.png)\)", page.read_text(encoding="utf-8")))
                self.assertLessEqual(wanted, made)

    def test_a_how_to_page_has_its_sheet_command_python_and_picture(self) -> None:
        self.assertGreaterEqual(len(HOWTO), 24)
        listed = (DOCS / "howto/index.md").read_text(encoding="utf-8")
        for page in HOWTO:
            text = page.read_text(encoding="utf-8")
            kinds = {block.kind for block in blocks_of(text)}
            self.assertIn(f"\n{page.stem}\n", listed)
            self.assertIn("python", kinds, page.name)
            self.assertTrue({"console", "sh"} & kinds, page.name)
            self.assertRegex(text, r"!\[[^]]{10,}\]\(made/[\w-]+\.png\)", page.name)
            [sheet] = re.findall(r"```\{sheet\} (.*)\n", text)
            self.assertIn(sheet, {*DATA, *(path.name for path in (DOCS / "howto/sheets").iterdir())})

    def test_only_the_cluster_s_command_is_not_run_here(self) -> None:
        found = [
            page.name for page in PAGES for block in blocks_of(page.read_text(encoding="utf-8")) if block.kind == "sh"
        ]
        self.assertEqual(found, ["from-a-cluster.md"])  # tests/clusters runs it

    def test_every_public_name_is_on_the_python_page(self) -> None:
        page = (DOCS / "reference/python.md").read_text(encoding="utf-8")
        for name in set(vantric.__all__) - {"__version__"}:
            self.assertTrue(f"vantric.{name}\n" in page or f"`{name}`" in page, name)

    def test_every_kind_of_error_is_on_the_page_of_errors(self) -> None:
        import vantric.errors as errors

        page = (DOCS / "reference/errors.md").read_text(encoding="utf-8")
        kinds = [
            name
            for name, kind in vars(errors).items()
            if isinstance(kind, type) and issubclass(kind, errors.VantricError)
        ]
        for name in kinds:
            self.assertIn(name, page)

    def test_few_pictures_are_committed(self) -> None:
        self.assertLess(len(list((DOCS / "screenshots").iterdir())), 20)
        self.assertEqual(list((DOCS.parent / "examples").rglob("*.png")), [])
        self.assertEqual(
            [
                path
                for path in DOCS.rglob("*.png")
                if path.parent.name not in ("screenshots", "made", "images", "thumb", "_images")
                and "_build" not in path.parts
            ],
            [],
        )


class Running(unittest.TestCase):
    def page(self, text: str) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "work"
            folder.mkdir()
            put_sheets(folder)
            page = Path(name) / "page.md"
            page.write_text(text, encoding="utf-8")
            run_page(page, folder)

    def test_a_page_that_says_what_is_not_so_is_wrong(self) -> None:
        for text, words in (
            (
                "```console\n$ vantric scales 0:650 0:100\n```\n\n```text\nno such line\n```\n",
                "this is not shown: no such line",
            ),
            (
                "```console\n$ vantric pareto inspections.csv --by nothing | cat > a\n$ false\n```\n",
                "ends with status 1",
            ),
            ("```python\n1 / 0\n```\n", "ZeroDivisionError"),
        ):
            with self.assertRaisesRegex(WrongPageError, words):
                self.page(text)
        self.page("```python\nprint(1)\n```\n\n```text\n1\n```\n")

    def test_what_a_page_sets_up_does_not_reach_the_home_of_who_runs_it(self) -> None:
        before = {path: path.read_bytes() for path in Path.home().glob(".*rc") if path.is_file()}
        self.page("```console\n$ vantric completion bash --install\n```\n")
        self.assertEqual({path: path.read_bytes() for path in Path.home().glob(".*rc") if path.is_file()}, before)

    def test_blocks_are_found(self) -> None:
        self.assertEqual(
            blocks_of("a\n```python\nx = 1\n```\n```text\n1\n```\n"),
            [Block("python", "x = 1\n", 2), Block("text", "1\n", 5)],
        )


if __name__ == "__main__":
    unittest.main()
