"""Write what is made from the code and from data of others: ``python -m tools.generate [--package]``.

What the package needs is not committed: typed dictionaries, the JSON Schemas of files, words of calendars, widths of
letters and forms of numbers. They are made when the project is installed or built (`hatch_build.py`), and again by
`make generated`. With ``--package`` only these are written; else the pages and schemas of the documentation too.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from tools import advances, calendarwords, languages


def data_files() -> dict[Path, str]:
    """Return the path and the content of what is made from the Unicode locale data and from the base font."""
    return {
        calendarwords.PATH: calendarwords.text(),
        advances.PATH: advances.text(),
        languages.PATH: languages.text(),
    }


def package_files() -> dict[Path, str]:
    """Return the path and the content of what is made from the option classes for the package."""
    from tools import keywords, manpage, schema
    from vantric.rendering.web_font import latin_face, latin_path

    return {
        **{latin_path(bold): latin_face(bold) for bold in (False, True)},
        **keywords.files(),
        schema.PATH: _json(schema.schema()),
        schema.REPORT_PATH: _json(schema.report_schema()),
        manpage.PATH: manpage.text(),
    }


def page_files() -> dict[Path, str]:
    """Return the path and the content of every generated file of the documentation."""
    from tools import findingspage, optionspage, shapes

    return {
        **{path: _json(shape) for path, shape in shapes.schemas().items()},
        optionspage.PATH: optionspage.text(),
        findingspage.PATH: findingspage.text(),
    }


def _json(shape: dict[str, Any]) -> str:
    return json.dumps(shape, indent=2, ensure_ascii=False) + "\n"


def _write(files: dict[Path, str]) -> None:
    for path, text in files.items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")


def write_package() -> None:
    """Write what the package needs."""
    _write(data_files())  # the package cannot be imported without them
    _write(package_files())


if __name__ == "__main__":
    write_package()
    if "--package" not in sys.argv[1:]:
        _write(page_files())
