"""Sheets whose columns are worked out from others, as plants, hospitals, call centers and shops make them.

Each is made right first, by code of its own; then one slip is put in, of which the cell and the code of the finding are
known.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterator, Sequence
from random import Random
from typing import NamedTuple

Cells = list[list[str]]
#: A slip: what is changed, and the codes under which it may be told, with words of the message.
Slip = tuple[str, Callable[[Cells, Random], None], tuple[str, ...], str]


#: Makes a right sheet, and the slips that can be put in it.
Maker = Callable[[Random], tuple[Cells, list[Slip]]]


class Sheet(NamedTuple):
    """A sheet as text, what it is, and, of one with a slip, how it is to be told."""

    name: str
    text: str
    codes: tuple[str, ...] = ()
    words: str = ""


DEFECTS = ("Pinhole", "Crack", "Chip", "Warping", "Stain", "Speck", "Crawl", "Blister", "Scratch", "Dent")
ITEMS = ("Energy", "Wages", "Clay", "Glaze", "Repairs", "Freight", "Rent", "Training", "Packaging", "Tools")
LINES = ("Line A", "Line B", "Line C", "Line D", "Line E", "Line F", "Line G")
WARDS = ("Ward 1", "Ward 2", "Ward 3", "Ward 4", "Ward 5", "Ward 6")
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def rounded(value: float, decimals: int, *, percent: bool = False) -> str:
    return f"{value:.{decimals}f}" + ("%" if percent else "")


def names(pool: tuple[str, ...], draw: Random) -> list[str]:
    return draw.sample(pool, draw.randint(4, min(8, len(pool))))


def with_total(cells: Cells, *columns: int, label: str = "Total") -> Cells:
    """Add a row of totals; other columns stay blank."""
    row = [label, *[""] * (len(cells[0]) - 1)]
    for column in columns:
        row[column] = str(sum(int(line[column]) for line in cells[1:]))
    return [*cells, row]


def add(row: int, column: int, by: int | None = None) -> Callable[[Cells, Random], None]:
    """Return a slip that changes a whole number; rows count from the first of the data, or from the end."""

    def change(cells: Cells, draw: Random) -> None:
        line = cells[row if row < 0 else row + 1]
        line[column] = str(int(line[column]) + (by or draw.choice((9, 10, -9, 27, 100))))

    return change


def put(row: int, column: int, value: Callable[[Cells], str]) -> Callable[[Cells, Random], None]:
    def change(cells: Cells, draw: Random) -> None:
        cells[row if row < 0 else row + 1][column] = value(cells)

    return change


RELATION, TOTAL = ("wrong-relation",), ("wrong-total", "wrong-relation")


def budget(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Item", "Planned", "Actual", "Deviation", "Deviation %"]]
    for name in names(ITEMS, draw):
        planned = draw.randint(20, 900) * 10
        actual = planned + draw.randint(-planned // 5, planned // 4)
        cells.append(
            [
                name,
                str(planned),
                str(actual),
                str(actual - planned),
                rounded(100 * (actual - planned) / planned, 1, percent=True),
            ]
        )
    cells = with_total(cells, 1, 2, 3)
    last = cells[-1]
    last[4] = rounded(100 * int(last[3]) / int(last[1]), 1, percent=True)
    return cells, [
        ("sign", put(1, 3, lambda c: str(-int(c[2][3]) or 70)), RELATION, "Deviation"),
        ("difference", add(2, 3), RELATION, "Deviation"),
        (
            "other base",
            put(0, 4, lambda c: rounded(100 * int(c[1][3]) / int(c[1][2]) + 3, 1, percent=True)),
            RELATION,
            "Deviation %",
        ),
        ("total", add(-1, 1), TOTAL, "Planned"),
    ]


def two_way(draw: Random) -> tuple[Cells, list[Slip]]:
    lines = draw.sample(LINES, draw.randint(3, 5))
    cells: Cells = [["Defect", *lines, "Total"]]
    for name in names(DEFECTS, draw):
        counts = [draw.randint(3, 90) for _ in lines]
        cells.append([name, *map(str, counts), str(sum(counts))])
    cells = with_total(cells, *range(1, len(lines) + 2))
    return cells, [
        ("row total", add(1, len(lines) + 1), RELATION, "Total"),
        ("column total", add(-1, 2), TOTAL, lines[1]),
    ]


def rates(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Line", "Made", "Rejects", "Reject rate"]]
    for name in names(LINES, draw):
        made = draw.randint(400, 4000)
        rejects = draw.randint(made // 100, made // 12)
        cells.append([name, str(made), str(rejects), rounded(100 * rejects / made, 2, percent=True)])
    cells = with_total(cells, 1, 2)
    cells[-1][3] = rounded(100 * int(cells[-1][2]) / int(cells[-1][1]), 2, percent=True)

    def mean(table: Cells) -> str:
        values = [float(line[3].rstrip("%")) for line in table[1:-1]]
        text = rounded(sum(values) / len(values), 2, percent=True)
        return (
            text
            if abs(float(text[:-1]) - float(table[-1][3][:-1])) > 0.02
            else rounded(sum(values) / len(values) + 0.5, 2, percent=True)
        )

    return cells, [
        (
            "rate",
            put(1, 3, lambda c: rounded(float(c[2][3].rstrip("%")) + 1.5, 2, percent=True)),
            RELATION,
            "Reject rate",
        ),
        (
            "mean of rates",
            put(-1, 3, mean),
            RELATION,
            "Reject rate",
        ),
        (
            "more than made",
            put(2, 2, lambda c: str(2 * int(c[3][1]))),
            ("part-exceeds-whole", "wrong-relation"),
            "Rejects",
        ),
    ]


def years(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Defect", "2023", "2024", "Change", "Change %"]]
    for name in names(DEFECTS, draw):
        before, after = draw.randint(20, 400), draw.randint(20, 400)
        cells.append(
            [
                name,
                str(before),
                str(after),
                str(after - before),
                rounded(100 * (after - before) / before, 1, percent=True),
            ]
        )
    cells = with_total(cells, 1, 2, 3)
    cells[-1][4] = rounded(100 * int(cells[-1][3]) / int(cells[-1][1]), 1, percent=True)
    return cells, [
        ("change", add(1, 3), RELATION, "Change"),
        (
            "percent",
            put(2, 4, lambda c: rounded(float(c[3][4].rstrip("%")) + 4, 1, percent=True)),
            RELATION,
            "Change %",
        ),
        ("total", add(-1, 2), TOTAL, "2024"),
    ]


def prices(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Article", "Quantity", "Unit price", "Amount"]]
    total = 0.0
    for name in names(ITEMS, draw):
        quantity, price = draw.randint(2, 60), draw.randint(110, 9900) / 100
        total += round(quantity * price, 2)
        cells.append([name, str(quantity), f"{price:.2f}", f"{quantity * price:.2f}"])
    cells.append(["Total", "", "", f"{total:.2f}"])
    return cells, [
        ("product", put(1, 3, lambda c: f"{float(c[2][3]) + 12:.2f}"), RELATION, "Amount"),
        ("total", put(-1, 3, lambda c: f"{float(c[-1][3]) + 30:.2f}"), TOTAL, "Amount"),
    ]


def calls(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Hour", "Offered", "Answered", "Abandoned", "Answered %"]]
    for hour in range(8, 8 + draw.randint(5, 10)):
        offered = draw.randint(80, 400)
        lost = draw.randint(3, offered // 6)
        cells.append(
            [
                f"{hour:02d}-{hour + 1:02d} h",
                str(offered),
                str(offered - lost),
                str(lost),
                rounded(100 * (offered - lost) / offered, 1, percent=True),
            ]
        )
    return cells, [
        ("left", add(2, 3), RELATION, "Abandoned"),
        (
            "level",
            put(1, 4, lambda c: rounded(float(c[2][4].rstrip("%")) - 6, 1, percent=True)),
            RELATION,
            "Answered %",
        ),
    ]


def wards(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Ward", "Falls", "Bed days", "Falls per 1000"]]
    for name in names(WARDS, draw):
        falls, days = draw.randint(4, 40), draw.randint(900, 6000)
        cells.append([name, str(falls), str(days), rounded(1000 * falls / days, 2)])
    return cells, [("rate", put(1, 3, lambda c: rounded(float(c[2][3]) / 10, 2)), RELATION, "Falls per 1000")]


def means(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Shift", "Mon", "Tue", "Wed", "Thu", "Mean"]]
    for name in ("Early", "Late", "Night", "Weekend", "Spare")[: draw.randint(3, 5)]:
        counts = [draw.randint(5, 60) for _ in range(4)]
        cells.append([name, *map(str, counts), rounded(sum(counts) / 4, 2)])
    return cells, [("mean", put(1, 5, lambda c: rounded(float(c[2][5]) + 3, 2)), RELATION, "Mean")]


def ranks(draw: Random) -> tuple[Cells, list[Slip]]:
    counts = draw.sample(range(5, 400), draw.randint(5, 9))
    order = sorted(counts, reverse=True)
    cells: Cells = [["Cause", "Count", "Rank"]]
    cells += [[name, str(count), str(order.index(count) + 1)] for name, count in zip(DEFECTS, counts, strict=False)]

    def swapped(table: Cells, _: Random) -> None:
        table[1][2], table[2][2] = table[2][2], table[1][2]

    return cells, [("swapped", swapped, ("wrong-rank",), "Rank")]


def classes(draw: Random) -> tuple[Cells, list[Slip]]:
    counts = sorted((draw.randint(4, 300) for _ in range(draw.randint(6, 10))), reverse=True)
    total, running = sum(counts), 0
    cells: Cells = [["Cause", "Count", "Percent", "Cumulative percent", "Class"]]
    for name, count in zip(DEFECTS, counts, strict=False):
        before, running = running / total, running + count
        cells.append(
            [
                name,
                str(count),
                rounded(100 * count / total, 1, percent=True),
                rounded(100 * running / total, 1, percent=True),
                "A" if before < 0.8 else "B" if before < 0.95 else "C",
            ]
        )

    return cells, [("class", put(1, 4, lambda c: "C"), ("wrong-class",), "Class")]


def row_shares(draw: Random) -> tuple[Cells, list[Slip]]:
    lines = draw.sample(LINES, 3)
    cells: Cells = [["Defect", *lines, "Total", *[f"{line} %" for line in lines]]]
    for name in names(DEFECTS, draw):
        counts = [draw.randint(3, 90) for _ in lines]
        shares = [rounded(100 * count / sum(counts), 1, percent=True) for count in counts]
        cells.append([name, *map(str, counts), str(sum(counts)), *shares])
    return cells, [
        (
            "share",
            put(1, 5, lambda c: rounded(float(c[2][5].rstrip("%")) + 7, 1, percent=True)),
            RELATION,
            f"{lines[0]} %",
        )
    ]


def subtotals(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Defect", "Count", "Pieces"]]
    sums = [0, 0]
    for group in ("surface", "edge", "body"):
        rows = [[name, draw.randint(4, 90), draw.randint(5, 300)] for name in draw.sample(DEFECTS, 3)]
        cells += [[f"{row[0]} {group}", str(row[1]), str(row[2])] for row in rows]
        own = [sum(int(row[column]) for row in rows) for column in (1, 2)]
        sums = [one + other for one, other in zip(sums, own, strict=True)]
        cells.append([f"Subtotal {group}", *map(str, own)])
    cells.append(["Grand total", *map(str, sums)])
    return cells, [
        ("subtotals again", put(-1, 1, lambda c: str(2 * int(c[-1][1]))), TOTAL, "Count"),
        ("subtotal", add(3, 2), TOTAL, "Pieces"),
    ]


def stock(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Material", "Opening", "Received", "Used", "Closing"]]
    for name in names(ITEMS, draw):
        opening, received = draw.randint(40, 900), draw.randint(20, 600)
        used = draw.randint(10, opening + received - 5)
        cells.append([name, str(opening), str(received), str(used), str(opening + received - used)])
    return cells, [("closing", add(1, 4), RELATION, "Closing")]


def risks(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Failure", "Severity", "Occurrence", "Detection", "RPN"]]
    for name in draw.sample(DEFECTS, 8):
        scores = [draw.randint(2, 10) for _ in range(3)]
        cells.append([name, *map(str, scores), str(scores[0] * scores[1] * scores[2])])
    return cells, [("product", add(2, 4), RELATION, "RPN")]


def yields(draw: Random) -> tuple[Cells, list[Slip]]:
    cells: Cells = [["Month", "Input", "Good", "Scrap", "Yield"]]
    for month in MONTHS[: draw.randint(6, 12)]:
        fed = draw.randint(900, 5000)
        scrap = draw.randint(9, fed // 12)
        cells.append(
            [month, str(fed), str(fed - scrap), str(scrap), rounded(100 * (fed - scrap) / fed, 1, percent=True)]
        )
    return cells, [
        ("scrap", add(2, 3), RELATION, "Scrap"),
        ("yield", put(1, 4, lambda c: rounded(float(c[2][4].rstrip("%")) - 9, 1, percent=True)), RELATION, "Yield"),
        (
            "more good than input",
            put(3, 2, lambda c: str(int(c[4][1]) + 60)),
            ("part-exceeds-whole", "wrong-relation"),
            "Good",
        ),
    ]


def over_time(draw: Random) -> tuple[Cells, list[Slip]]:
    """Years of a sum, its index of the first year, and its change since the year before."""
    cells: Cells = [["Year", "Sales", "Index (2019 = 100)", "Change to previous year"]]
    sales = [draw.randint(200, 900)]
    sales += [int(sales[0] * (1 + 0.07 * draw.uniform(-3, 5))) for _ in range(draw.randint(4, 7))]
    for place, value in enumerate(sales):
        change = rounded(100 * (value / sales[place - 1] - 1), 1, percent=True) if place else ""
        cells.append([str(2019 + place), str(value), rounded(100 * value / sales[0], 1), change])
    return cells, [
        ("index", put(2, 2, lambda c: rounded(float(c[3][2]) + 11, 1)), RELATION, "Index"),
        ("change", put(3, 3, lambda c: rounded(float(c[4][3].rstrip("%")) + 6, 1, percent=True)), RELATION, "Change"),
    ]


def both_shares(draw: Random) -> tuple[Cells, list[Slip]]:
    """Two counts, and the share of each in its row."""
    cells: Cells = [["Ward", "Day", "Night", "Day %", "Night %"]]
    for name in names(WARDS, draw):
        day, night = draw.randint(10, 90), draw.randint(5, 60)
        cells.append(
            [
                name,
                str(day),
                str(night),
                *(rounded(100 * part / (day + night), 1, percent=True) for part in (day, night)),
            ]
        )
    return cells, [
        (
            "share of the first",
            put(1, 3, lambda c: rounded(float(c[2][3].rstrip("%")) + 7, 1, percent=True)),
            RELATION,
            "Day %",
        ),
        (
            "share of the second",
            put(2, 4, lambda c: rounded(float(c[3][4].rstrip("%")) - 4, 1, percent=True)),
            RELATION,
            "Night %",
        ),
    ]


def running_counts(draw: Random) -> tuple[Cells, list[Slip]]:
    """Counts of months with what they come to, which are no percents."""
    cells: Cells = [["Month", "New", "Cumulative"]]
    total = 0
    for month in MONTHS[: draw.randint(4, 9)]:
        new = draw.randint(3, 30)
        total += new
        cells.append([month, str(new), str(total)])
    return cells, [
        ("the last", add(-1, 2), ("wrong-cumulative",), "Cumulative"),
        ("one", add(1, 2), ("wrong-cumulative",), "Cumulative"),
    ]


def unrelated(draw: Random) -> tuple[Cells, list[Slip]]:
    """Return measures that nothing relates."""
    cells: Cells = [["Kiln", "Temperature", "Gas m3", "Age", "Operators"]]
    for name in ("Kiln 1", "Kiln 2", "Kiln 3", "Kiln 4", "Kiln 5", "Kiln 6"):
        cells.append(
            [
                name,
                str(draw.randint(980, 1240)),
                str(draw.randint(2000, 9000)),
                str(draw.randint(1, 40)),
                str(draw.randint(2, 9)),
            ]
        )
    return cells, []


MAKERS: tuple[Maker, ...] = (
    budget,
    two_way,
    rates,
    years,
    prices,
    calls,
    wards,
    means,
    ranks,
    classes,
    row_shares,
    over_time,
    both_shares,
    running_counts,
    subtotals,
    stock,
    risks,
    yields,
    unrelated,
)


def written(cells: Cells) -> str:
    text = io.StringIO()
    csv.writer(text, lineterminator="\n").writerows(cells)
    return text.getvalue()


def good(seeds: range, makers: Sequence[Maker] = MAKERS) -> Iterator[Sheet]:
    """Yield sheets that are right."""
    for make in makers:
        for seed in seeds:
            cells, _ = make(Random(f"{make.__name__} {seed}"))
            yield Sheet(f"{make.__name__} {seed}", written(cells))


def flawed(seeds: range, makers: Sequence[Maker] = MAKERS) -> Iterator[Sheet]:
    """Yield sheets with one slip each."""
    for make in makers:
        for seed in seeds:
            for number, (name, _, codes, words) in enumerate(make(Random(f"{make.__name__} {seed}"))[1]):
                draw = Random(f"{make.__name__} {seed}")
                cells, slips = make(draw)
                before = written(cells)
                slips[number][1](cells, draw)
                if written(cells) != before:
                    yield Sheet(f"{make.__name__} {seed}: {name}", written(cells), codes, words)
