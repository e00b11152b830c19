"""Make the demo data: ``python -m tools.demo.make_data [FOLDER]``.

Everything is made up, and the same at every run: the draws start from a fixed number, and only `random.Random.random`
is asked, whose sequence Python keeps from version to version.
"""

from __future__ import annotations

import csv
import io
import math
import sys
from collections.abc import Callable, Iterable, Sequence
from datetime import date, timedelta
from pathlib import Path
from random import Random
from typing import Any

from tools.demo.flawed import (
    FLAWED_CHART,
    FLAWED_LOG,
    FLAWED_OVERLAY,
    FLAWED_PARETO,
    FLAWED_RATES,
    FLAWED_RATES_CHART,
    FLAWED_SHEET,
    FLOATING_LINE,
)
from tools.demo.workbooks import kiln_sheets, made_book, rework_costs, scrap_years
from vantric import demo as example

_DEFECTS = (("Pinhole", 88), ("Warping", 61), ("Edge chip", 44), ("Scratch", 38), ("Stain", 12), ("Press crack", 7))
_CAUSES = (("Mold worn", 52), ("Glaze too thin", 40), ("Kiln too fast", 31), ("Handling", 9))


def flawed_book(dice: Random) -> bytes:
    """Return a workbook of two sheets with a chart each.

    The percents of the first are divided by a sum with the Total row in it, which its chart draws as a bar; the axis of
    the second begins at 20, and its cumulative line floats free of the bars.
    """

    def fill(book: Any) -> None:
        defects, causes = book.worksheets[0], book.create_sheet("Causes")
        defects.title = "Defects"
        last = _table(defects, "Defects of March 2026", "Defect", _DEFECTS, "=B{row}/SUM(B$4:B${total})")
        _chart(defects, "Defects of March 2026", last + 1)
        last = _table(causes, "Causes of March 2026", "Cause", _CAUSES, "=B{row}/B${total}")
        bars = _chart(causes, "Causes of March 2026", last)
        bars.y_axis.scaling.min = 20

    return made_book(fill)


def _table(page: Any, title: str, label: str, counts: tuple[tuple[str, int], ...], percent: str) -> int:
    """Write a table with formulas below a title; return the last row of its categories."""
    page.append([title])
    page.append([])
    page.append([label, "Pieces", "Percent", "Cumulative percent"])
    total = 4 + len(counts)
    for row, (name, number) in enumerate(counts, 4):
        cumulative = f"=SUM(B$4:B{row})/B${total}"
        page.append([name, number, percent.format(row=row, total=total), cumulative])
        for column in (3, 4):
            page.cell(row, column).number_format = "0.0%"
    page.append(["Total", f"=SUM(B4:B{total - 1})"])
    return total - 1


def _chart(page: Any, title: str, last: int) -> Any:
    """Add a chart of bars with a cumulative line on the secondary axis; return its bars."""
    from openpyxl.chart import BarChart, LineChart, Reference

    bars, line = BarChart(), LineChart()
    labels = Reference(page, min_col=1, min_row=4, max_row=last)
    for part, column in ((bars, 2), (line, 4)):
        part.add_data(Reference(page, min_col=column, min_row=3, max_row=last), titles_from_data=True)
        part.set_categories(labels)
    bars.title, bars.y_axis.title, line.y_axis.title = title, "Pieces", "Cumulative percent"
    bars.x_axis.title = "Defect"
    bars.x_axis.delete = bars.y_axis.delete = line.y_axis.delete = False
    bars.y_axis.scaling.min, line.y_axis.scaling.max, line.y_axis.scaling.min = 0, 1, 0
    line.y_axis.axId, line.y_axis.crosses = 200, "max"
    bars += line
    page.add_chart(bars, "F3")
    return bars


_START = 20261104
#: File -> what makes its bytes.
MADE: dict[str, Callable[[Random], bytes]] = {
    "kiln_sheets.xlsx": kiln_sheets,
    "scrap_years.xlsx": scrap_years,
    "rework_costs.csv": rework_costs,
    "flawed_book.xlsx": flawed_book,
}
_RECORDS = 4000
_FIRST_DAY, _DAYS = date(2025, 11, 1), 365

#: Defects as typed, how often each is typed, and the family it belongs to.
DEFECTS: tuple[tuple[str, float, str], ...] = (
    ("Pinhole", 880, "Glazing"),
    ("Edge chip", 640, "Handling"),
    ("Warping", 520, "Firing"),
    ("Glaze crawl", 390, "Glazing"),
    ("Shade variation", 300, "Firing"),
    ("Press crack", 210, "Pressing"),
    ("Scratch", 150, "Handling"),
    ("Drying crack", 120, "Drying"),
    ("Size out of tolerance", 95, "Pressing"),
    ("edge chip", 78, "Handling"),
    ("Print shift", 66, "Decoration"),
    ("Speck", 58, "Glazing"),
    ("Bloating", 47, "Firing"),
    ("PINHOLE", 41, "Glazing"),
    ("Lamination", 36, "Pressing"),
    ("Glaze drip", 31, "Glazing"),
    ("Black core", 26, "Firing"),
    ("warping ", 22, "Firing"),
    ("Bare patch", 18, "Glazing"),
    ("Corner break", 16, "Handling"),
    ("Cooling crack", 12, "Firing"),
    ("Glaze  crawl", 10, "Glazing"),
    ("Stain", 7, "Decoration"),
    (" Scratch", 5, "Handling"),
)
_MISSING = (("", 120.0), ("  ", 40.0))
_KILNS = (("Kiln 1", 21.0), ("Kiln 2", 34.0), ("Kiln 3", 17.0), ("Kiln 4", 28.0))
_SHIFTS = (("Early", 40.0), ("Late", 35.0), ("Night", 25.0))
_PRODUCTS = (("Terra 30x30", 34.0), ("Slate 60x60", 28.0), ("Mosaic 5x5", 15.0), ("Plank 20x120", 23.0))
_ANSWERS = (
    ("Strongly disagree", 8.0),
    ("Disagree", 17.0),
    ("Neither", 24.0),
    ("Agree", 33.0),
    ("Strongly agree", 18.0),
)
_STATEMENTS = ("I know the defect targets", "Scrap is recorded the same day", "The checklists help me")
_CREWS = (
    ("Kiln loading", 2400),
    ("Glazing line", 1850),
    ("Pressing", 1600),
    ("Sorting and packing", 980),
    ("Drying", 310),
    ("Mould shop", 145),
    ("Laboratory", 62),
    ("Night relief", 18),
    ("First aid", 2),
)


class _Dice:
    """Draws from `random()` alone."""

    def __init__(self, start: int) -> None:
        self._random = Random(start).random

    def pick(self, weighted: Sequence[tuple[str, float]]) -> str:
        aim = self._random() * sum(weight for _, weight in weighted)
        for label, weight in weighted:
            aim -= weight
            if aim < 0:
                return label
        return weighted[-1][0]

    def whole(self, low: int, high: int) -> int:
        return low + int(self._random() * (high - low + 1))

    def between(self, low: float, high: float) -> float:
        return low + self._random() * (high - low)


def make_all() -> dict[str, str]:
    """Return file name -> content of the demo files."""
    return {
        "inspections.csv": _inspections(_Dice(_START)),
        "defect_families.csv": _csv(("defect", "family"), ((defect, family) for defect, _, family in DEFECTS)),
        "firings.csv": _firings(_Dice(_START + 1)),
        "crews.csv": _crews(_Dice(_START + 2)),
        "survey.csv": _survey(_Dice(_START + 3)),
        "flawed_sheet.csv": FLAWED_SHEET,
        "flawed_chart.toml": FLAWED_CHART,
        "flawed_overlay.toml": FLAWED_OVERLAY,
        "flawed_pareto.toml": FLAWED_PARETO,
        "flawed_log.csv": FLAWED_LOG,
        "flawed_rates.csv": FLAWED_RATES,
        "flawed_rates.toml": FLAWED_RATES_CHART,
        "floating_line.toml": FLOATING_LINE,
    }


def _inspections(dice: _Dice) -> str:
    """Make a record for each lot with a defect: most lots lose a few pieces, some a pallet."""
    weights = [(defect, weight) for defect, weight, _ in DEFECTS] + list(_MISSING)
    rows = []
    for number in range(_RECORDS):
        day = _FIRST_DAY + timedelta(days=number * _DAYS // _RECORDS)
        defect = dice.pick(weights)
        pieces = 1 + int(-math.log(1 - dice.between(0, 0.999)) * (9 if "crack" in defect else 4))
        cost = round(pieces * dice.between(0.4, 6.0), 2)
        rows.append(
            (
                day.isoformat(),
                dice.pick(_KILNS),
                dice.pick(_SHIFTS),
                dice.pick(_PRODUCTS),
                defect,
                pieces,
                f"{cost:.2f}",
            )
        )
    return _csv(("date", "kiln", "shift", "product", "defect", "pieces", "rework_cost"), rows)


def _firings(dice: _Dice) -> str:
    """Make a row a month; the kilns stand still for repair in August."""
    rows = []
    for place in range(12):
        month = f"{2025 + (place + 10) // 12}-{(place + 10) % 12 + 1:02d}"
        load = 0.35 if month.endswith("-08") else dice.between(0.85, 1.1)
        first = round(182_000 * load)
        second = round(first * dice.between(0.28, 0.36))
        rejected = round((first + second) * dice.between(0.021, 0.048))
        energy = round(first * 1.9 + second * 2.6 + 61_000)
        margin = round(first * 0.42 + second * 0.55 - energy * 0.155 - rejected * 2.9 - 1_000)
        rows.append((month, first, second, rejected, energy, margin))
    return _csv(("month", "first_firing", "second_firing", "rejected", "energy_kwh", "margin"), rows)


def _crews(dice: _Dice) -> str:
    rows = [(crew, hours, round(hours * dice.between(0.78, 1.12), 1)) for crew, hours in _CREWS]
    return _csv(("crew", "planned_hours", "achieved_hours"), rows)


def _survey(dice: _Dice) -> str:
    """Answers on an ordinal scale; a third of them missing."""
    answers = [*_ANSWERS, ("", 50.0)]
    rows = [
        (person, dice.pick(_SHIFTS), statement, dice.pick(answers))
        for person in range(1, 141)
        for statement in _STATEMENTS
    ]
    return _csv(("person", "shift", "statement", "answer"), rows)


def _csv(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(head)
    writer.writerows(rows)
    return out.getvalue()


def main(folder: Path = Path(example.__file__).parent / "data") -> None:
    """Write the files into a folder."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, content in make_all().items():
        (folder / name).write_text(content, encoding="utf-8", newline="")
    for name, made in MADE.items():
        (folder / name).write_bytes(made(Random(_START)))


if __name__ == "__main__":
    main(*map(Path, sys.argv[1:2]))
