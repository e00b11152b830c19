"""Write what is made from the code: stubs of the options, the schema of chart files, the options page of the docs."""

from __future__ import annotations

import json
from pathlib import Path

from tools import advances, calendarwords, findingspage, keywords, languages, manpage, optionspage, schema, shapes


def generated() -> dict[Path, str]:
    """Return the path and the content of every generated file."""
    written = {schema.PATH: schema.schema(), schema.REPORT_PATH: schema.report_schema(), **shapes.schemas()}
    return {
        **keywords.files(),
        **{path: json.dumps(shape, indent=2, ensure_ascii=False) + "\n" for path, shape in written.items()},
        optionspage.PATH: optionspage.text(),
        calendarwords.PATH: calendarwords.text(),
        advances.PATH: advances.text(),
        languages.PATH: languages.text(),
        manpage.PATH: manpage.text(),
        findingspage.PATH: findingspage.text(),
    }


if __name__ == "__main__":
    for path, text in generated().items():
        path.write_text(text, encoding="utf-8")
