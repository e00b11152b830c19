"""The options page of the docs: every option of every command, made from the option classes."""

from __future__ import annotations

from pathlib import Path

import vantric
from vantric.core.charts.series import KINDS
from vantric.core.charts.settings import (
    AxisPeriod,
    CombinationChartSettings,
    ComparisonChartSettings,
    ParetoChartSettings,
    TallyChartSettings,
)
from vantric.files.models import SHAPES
from vantric.options import NOTHING, Option, known_options
from vantric.options.option_types import spelled
from vantric.reading.settings import (
    CategorySettings,
    ComparisonSettings,
    CountSettings,
    CrosstabSettings,
    FileReading,
    ParetoSettings,
    ReadSettings,
)

PATH = Path(vantric.__file__).parents[2] / "docs/options.md"
_HEAD = """# Options

Every option, under the one name that it has on every command, in Python and in chart files. On the command line `_` is
`-`, a yes-or-no option is a flag, and the options of several values are repeated (`--color Pinhole=teal --color
Warping=#164a6e`). This page is made from the code by `make generated`.

"""
_PAGES = (
    ("Sources", (ReadSettings, FileReading)),
    ("Counting", (CountSettings,)),
    ("Pareto tables", (ParetoSettings,)),
    ("Two-way tables", (CrosstabSettings,)),
    ("Comparisons", (ComparisonSettings,)),
    ("Columns side by side", (CategorySettings, AxisPeriod)),
    ("The look of Pareto charts and comparisons", (ParetoChartSettings, ComparisonChartSettings)),
    ("The look of tallies and two-way tables", (TallyChartSettings,)),
    ("Combination charts and scales", (CombinationChartSettings,)),
    ("One series", tuple(KINDS.values())),
)


def text() -> str:
    """Return the page."""
    shown: set[str] = set()
    parts = [_HEAD]
    for title, kinds in _PAGES:
        rows = [one for one in known_options(*kinds).values() if f"{one.name}{one.help}" not in shown]
        shown |= {f"{one.name}{one.help}" for one in rows}
        parts.append(
            f"## {title}\n\n| option | command line | takes | default | what it does |\n|---|---|---|---|---|\n"
        )
        parts.append("".join(map(_row, rows)) + "\n")
    kinds_of_files = "\n".join(
        f"- `{kind}`: {', '.join(f'`{name}`' for name in shape.sections)}" for kind, shape in SHAPES.items()
    )
    parts.append(f"## Sections of chart files\n\n{kinds_of_files}\n")
    return "".join(parts)


def _row(one: Option) -> str:
    flag = (
        f"`{one.flag}{f' {one.declared.metavar}' if one.declared.metavar else ''}`" if one.in_place("command") else "–"
    )
    if one.declared.off is not NOTHING:
        flag += f", `--no-{one.name.replace('_', '-')}`"
    default = "required" if one.default is NOTHING else f"`{one.default!r}`"
    cells = (f"`{one.name}`", flag, f"`{spelled(one.kind)}`", default, one.help)
    return "| " + " | ".join(cell.replace("|", "\\|") for cell in cells) + " |\n"
