"""What Sphinx calls: pages are run before they are read, sheets are shown, reference pages are made."""

from __future__ import annotations

import csv
import os
import re
import shutil
import tempfile
from pathlib import Path
from typing import Any

from docs.building import reference
from docs.building.pictures import put_thumbnails
from docs.building.running import DOCS, SHEETS, put_sheets, run_page
from docutils import nodes
from sphinx.application import Sphinx
from sphinx.util import logging
from sphinx.util.docutils import SphinxDirective

from vantric.demo import DATA, data_file

_ROWS = 5
_WIDE = 24
_PICTURES = (".png",)
_log = logging.getLogger(__name__)


class Sheet(SphinxDirective):
    """The first rows of a sheet, and the sheet itself to download."""

    has_content = True

    def run(self) -> list[nodes.Node]:
        """Return a caption with a link, and a table."""
        name = self.content[0].strip()
        target = DOCS / "howto" / "made" / name
        content = data_file(name) if name in DATA else (SHEETS / name).read_bytes()
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(content)
        rows = _first_rows(content)
        caption = nodes.paragraph(classes=["sheet-caption"])
        parsed, _ = self.parse_inline(f"The sheet {{download}}`{name} <made/{name}>`, its first rows:")
        caption += parsed
        return [caption, _table(rows)]


def _first_rows(content: bytes) -> list[list[str]]:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    sign = ";" if text.splitlines()[0].count(";") else ","
    rows = list(csv.reader(text.splitlines()[: _ROWS + 1], delimiter=sign))
    wide = max(map(len, rows))
    return [[cell[:_WIDE] for cell in [*row, *[""] * (wide - len(row))]] for row in rows]


def _table(rows: list[list[str]]) -> nodes.table:
    table = nodes.table(classes=["sheet-table"])
    group = nodes.tgroup(cols=len(rows[0]))
    table += group
    group += [nodes.colspec(colwidth=1) for _ in rows[0]]
    head, body = nodes.thead(), nodes.tbody()
    group += [head, body]
    for at, row in enumerate(rows):
        line = nodes.row()
        line += [nodes.entry("", nodes.paragraph(text=cell)) for cell in row]
        (head if at == 0 else body).append(line)
    return table


def run_pages(app: Sphinx) -> None:
    """Run the blocks of every how-to page, and keep the pictures that they make."""
    made = DOCS / "howto" / "made"
    made.mkdir(exist_ok=True)
    for page in sorted((DOCS / "howto").glob("*.md")):
        if page.stem == "index" or _is_made(page, made):
            continue
        _log.info("running %s", page.name)
        with tempfile.TemporaryDirectory() as name:
            put_sheets(Path(name))
            for path in run_page(page, Path(name)):
                if path.suffix in _PICTURES:
                    shutil.copyfile(path, made / path.name)


def _is_made(page: Path, made: Path) -> bool:
    """Whether the pictures of a page are newer than the page: only for one who writes it, never in a clean checkout."""
    names = re.findall(r"\(made/([\w-]+\.png)\)", page.read_text(encoding="utf-8"))
    return bool(os.environ.get("VANTRIC_DOCS_QUICK")) and all(
        (made / name).exists() and (made / name).stat().st_mtime > page.stat().st_mtime for name in names
    )


def tidy(app: Sphinx, error: Exception | None) -> None:
    """Remove the pictures that the examples of the gallery save beside themselves."""
    for path in (DOCS.parent / "examples" / "gallery").rglob("*.png"):
        path.unlink()


def setup(app: Sphinx) -> dict[str, Any]:
    """Have Sphinx run the pages and make the reference before it reads them."""
    app.add_directive("sheet", Sheet)
    app.connect("builder-inited", reference.make, priority=100)
    app.connect("builder-inited", run_pages, priority=200)
    app.connect("builder-inited", put_thumbnails, priority=900)
    app.connect("build-finished", tidy)
    return {"parallel_read_safe": True, "version": "1"}
