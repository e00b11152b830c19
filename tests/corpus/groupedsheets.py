"""Sheets of groups: kilns of defects, plants of kilns, lines of shifts, with subtotals; the group is written once or always.

Each is made right first, by code of its own, and knows the slips that can be put in.
"""

from __future__ import annotations

from collections.abc import Callable
from random import Random

from tests.corpus.statedsheets import DEFECTS, Cells, Slip, add, names, put, rounded

KILNS, PLANTS = ("Kiln 1", "Kiln 2", "Kiln 3", "Kiln 4"), ("North plant", "South plant")
SHIFTS = ("Early", "Late", "Night")
PERCENT, TOTAL, RELATION = ("wrong-percent", "wrong-relation"), ("wrong-total", "wrong-relation"), ("wrong-relation",)


def percent(part: int, whole: int) -> str:
    return rounded(100 * part / whole, 1, percent=True)


def off_by(row: int, column: int, points: float) -> Callable[[Cells, Random], None]:
    """Return a slip that changes a percent by points."""
    return put(row, column, lambda c: rounded(float(c[row + 1][column].rstrip("%")) + points, 1, percent=True))


def counts_of(groups: tuple[str, ...], draw: Random) -> dict[str, dict[str, int]]:
    return {group: {name: draw.randint(4, 180) for name in names(DEFECTS, draw)} for group in groups}


def by_kiln(draw: Random, *, once: bool, beside: bool, of_group: bool) -> tuple[Cells, list[Slip]]:
    """Return counts of defects of each kiln: the kiln in every row or once, its total under either column."""
    counts = counts_of(KILNS[: draw.randint(2, 4)], draw)
    total = sum(sum(own.values()) for own in counts.values())
    cells: Cells = [["Kiln", "Defect", "Pieces", "Share of kiln" if of_group else "Share"]]
    for kiln, own in counts.items():
        base = sum(own.values()) if of_group else total
        for place, (name, count) in enumerate(own.items()):
            cells.append([kiln if not once or place == 0 else "", name, str(count), percent(count, base)])
        texts = ["", f"{kiln} total"] if beside else [f"{kiln} total", ""]
        cells.append([*texts, str(sum(own.values())), percent(sum(own.values()), base)])
    cells.append([*(["", "Grand total"] if beside else ["Grand total", ""]), str(total), "100.0%"])
    first = len(next(iter(counts.values())))
    return cells, [
        ("share", off_by(1, 3, 6), PERCENT, cells[0][3]),
        ("group total", add(first, 2), TOTAL, "total"),
        ("grand total", add(-1, 2), TOTAL, "total"),
    ]


def every_row(draw: Random) -> tuple[Cells, list[Slip]]:
    return by_kiln(draw, once=False, beside=bool(draw.getrandbits(1)), of_group=False)


def every_row_of_group(draw: Random) -> tuple[Cells, list[Slip]]:
    return by_kiln(draw, once=False, beside=bool(draw.getrandbits(1)), of_group=True)


def written_once(draw: Random) -> tuple[Cells, list[Slip]]:
    return by_kiln(draw, once=True, beside=bool(draw.getrandbits(1)), of_group=False)


def written_once_of_group(draw: Random) -> tuple[Cells, list[Slip]]:
    return by_kiln(draw, once=True, beside=bool(draw.getrandbits(1)), of_group=True)


def sections(draw: Random) -> tuple[Cells, list[Slip]]:
    """Return kilns as headings in the column of the labels, each alone in its row; with or without a total each."""
    counts = counts_of(KILNS[: draw.randint(2, 3)], draw)
    total = sum(sum(own.values()) for own in counts.values())
    cells: Cells = [["Defect", "Pieces", "Share"]]
    end = draw.choice(("Total {}", "Subtotal", "{} total", ""))
    for kiln, own in counts.items():
        cells.append([kiln, "", ""])
        cells += [[name, str(count), percent(count, total)] for name, count in own.items()]
        if end:
            cells.append([end.format(kiln), str(sum(own.values())), percent(sum(own.values()), total)])
    cells.append(["Grand total", str(total), "100.0%"])
    return cells, [("share", off_by(2, 2, 6), PERCENT, "Share"), ("grand total", add(-1, 1), TOTAL, "total")]


def heads(draw: Random) -> tuple[Cells, list[Slip]]:
    """Return kilns whose total stands beside their name, over their defects or under them."""
    counts = counts_of(KILNS[: draw.randint(3, 4)], draw)
    total, over = sum(sum(own.values()) for own in counts.values()), bool(draw.getrandbits(1))
    cells: Cells = [["Kiln", "Defect", "Pieces", "Share"]]
    for kiln, own in counts.items():
        rows = [["", name, str(count), percent(count, total)] for name, count in own.items()]
        head = [kiln if over else f"{kiln}, all", "", str(sum(own.values())), percent(sum(own.values()), total)]
        cells += [head, *rows] if over else [*rows, head]
    cells.append(["Total", "", str(total), "100.0%"])
    first = 0 if over else len(next(iter(counts.values())))
    return cells, [
        ("share", off_by(1, 3, 6), PERCENT, "Share"),
        ("kiln", add(first, 2), TOTAL, "Kiln 1"),
        ("total", add(-1, 2), TOTAL, "Total"),
    ]


def crossed(draw: Random) -> tuple[Cells, list[Slip]]:
    """Return every defect at every kiln, in rows of two labels, without a total."""
    counts = {(name, kiln): draw.randint(4, 180) for name in names(DEFECTS, draw) for kiln in KILNS[:3]}
    total = sum(counts.values())
    cells: Cells = [["Defect", "Kiln", "Pieces", "Share"]]
    cells += [[name, kiln, str(count), percent(count, total)] for (name, kiln), count in counts.items()]
    return cells, [("share", off_by(2, 3, 6), PERCENT, "Share")]


def plants(draw: Random) -> tuple[Cells, list[Slip]]:
    """Return plants of kilns of defects, each written once, with totals of both."""
    cells: Cells = [["Plant", "Kiln", "Defect", "Pieces"]]
    total = 0
    for plant in PLANTS:
        counts, of_plant = counts_of(KILNS[: draw.randint(2, 3)], draw), 0
        for number, (kiln, own) in enumerate(counts.items()):
            for place, (name, count) in enumerate(own.items()):
                cells.append([plant if number + place == 0 else "", kiln if place == 0 else "", name, str(count)])
            of_plant += sum(own.values())
            cells.append(["", f"{kiln} total", "", str(sum(own.values()))])
        cells.append([f"{plant} total", "", "", str(of_plant)])
        total += of_plant
    cells.append(["Grand total", "", "", str(total)])
    first = next(place for place, line in enumerate(cells) if "total" in line[1])
    return cells, [
        ("kiln total", add(first - 1, 3), TOTAL, "Kiln 1 total"),
        ("plant total", add(-2, 3), TOTAL, "South plant total"),
        ("grand total", add(-1, 3), TOTAL, "Grand total"),
    ]


def shifts(draw: Random) -> tuple[Cells, list[Slip]]:
    """Return lines of shifts with a rate of rejects, which in a row of totals is that of the totals."""
    cells: Cells = [["Line", "Shift", "Made", "Rejects", "Reject rate"]]
    whole = [0, 0]
    for line in ("Line A", "Line B", "Line C")[: draw.randint(2, 3)]:
        own = [0, 0]
        for place, shift in enumerate(SHIFTS):
            made = draw.randint(400, 4000)
            rejects = draw.randint(made // 100, made // 12)
            cells.append([line if place == 0 else "", shift, str(made), str(rejects), percent(rejects, made)])
            own = [own[0] + made, own[1] + rejects]
        cells.append([f"{line} total", "", *map(str, own), percent(own[1], own[0])])
        whole = [whole[0] + own[0], whole[1] + own[1]]
    cells.append(["All lines", "", *map(str, whole), percent(whole[1], whole[0])])
    return cells, [
        ("rate", off_by(1, 4, 4), RELATION, "Reject rate"),
        ("rate of a total", off_by(3, 4, 3), RELATION, "Reject rate"),
        ("total", add(3, 2, 100), TOTAL, "Line A total"),
    ]


def within(draw: Random) -> tuple[Cells, list[Slip]]:
    """Return a Pareto table of each kiln, whose running percents begin again."""
    cells: Cells = [["Kiln", "Defect", "Pieces", "Percent of kiln", "Cumulative percent"]]
    total = 0
    for kiln, own in counts_of(KILNS[: draw.randint(2, 3)], draw).items():
        base, running = sum(own.values()), 0
        for place, (name, count) in enumerate(sorted(own.items(), key=lambda item: -item[1])):
            running += count
            texts = [kiln if place == 0 else "", name, str(count)]
            cells.append([*texts, percent(count, base), percent(running, base)])
        cells.append([f"{kiln} total", "", str(base), "100.0%", ""])
        total += base
    cells.append(["Grand total", "", str(total), "", ""])
    return cells, [
        ("share", off_by(1, 3, 6), PERCENT, "Percent of kiln"),
        ("running", off_by(1, 4, 6), ("wrong-cumulative", "wrong-relation"), "Cumulative percent"),
        ("group total", add(-1, 2), TOTAL, "Grand total"),
    ]


GROUPED = (
    every_row,
    every_row_of_group,
    written_once,
    written_once_of_group,
    sections,
    heads,
    crossed,
    plants,
    shifts,
    within,
)
