"""What is odd in size, beside a part of it: the time must not grow faster than the size."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from pathlib import Path
from random import Random

from openpyxl import Workbook

from measure import Line, Process, in_turns

TALLY = ("-m", "vantric", "tally")


def growth() -> list[Line]:
    """Ten times the columns, and ten times the signs of a label: at most ten times the time and a half."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for columns in (10_000, 100_000):
            names = ",".join(f"column number {n}" for n in range(columns))
            (folder / f"{columns}.csv").write_text(f"{names}\n{','.join('1' * columns)}\n")
        for signs in (100_000, 1_000_000):
            chance = Random(signs)
            labels = ("".join(chance.choices("abcdefgh ", k=signs)) for _ in range(4))
            (folder / f"signs{signs}.csv").write_text("\n".join(["label", *labels, ""]))
        wide = [_tally(folder / f"{n}.csv", "column number 9") for n in (100_000, 10_000)]
        long = [_tally(folder / f"signs{n}.csv", "label") for n in (1_000_000, 100_000)]
        return [
            _beside("(k) 100,000 columns, ten times 10,000 beside", *wide, 10),
            _beside("(l) labels of 1,000,000 signs, ten times 100,000 beside", *long, 10),
        ]


def outputs() -> list[Line]:
    """Eight times the categories of a page, sections of a report, rows of running sums, sheets read together."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for categories in (1_000, 8_000):
            rows = "".join(f"category {n:05d},{2 * categories - n}\n" for n in range(categories))
            (folder / f"page{categories}.csv").write_text(f"label,n\n{rows}")
        section = '[[sections]]\nkind = "tally"\n[sections.counting]\nby = "label"\ncount = "n"\n'
        (folder / "log.csv").write_text("label,n\n" + "".join(f"d{n % 7},{n}\n" for n in range(500)))
        for sections in (25, 200):
            head = 'format = "vantric/report"\nversion = 2\n[sources.log]\nsource = "log.csv"\n'
            (folder / f"report{sections}.toml").write_text(head + section * sections)
        for rows_ in (250, 2_000):
            book = Workbook()
            book.worksheets[0].append(["Defect", "Count", "Cumulative"])
            for row in range(2, rows_ + 2):
                book.worksheets[0].append([f"defect {row * 7919}", 2 * rows_ - row, f"=SUM(B$2:B{row})"])
            book.save(folder / f"running{rows_}.xlsx")
        for sheets in (100, 800):
            book = Workbook()
            for number in range(sheets):
                sheet = book.create_sheet(f"S{number}")
                for row in (("label", "n"), ("a", 5), ("b", 3)):
                    sheet.append(row)
            book.save(folder / f"sheets{sheets}.xlsx")
        page = [
            Process(
                "-m",
                "vantric",
                "pareto",
                str(folder / f"page{n}.csv"),
                "--by",
                "label",
                "--count",
                "n",
                "--out",
                str(folder / "page.html"),
            )
            for n in (8_000, 1_000)
        ]
        report = [
            Process("-m", "vantric", "report", str(folder / f"report{n}.toml"), "--out", str(folder / "report.html"))
            for n in (200, 25)
        ]
        review = [Process("-m", "vantric", "review", str(folder / f"running{n}.xlsx")) for n in (2_000, 250)]
        together = [
            Process(*TALLY, str(folder / f"sheets{n}.xlsx"), "--by", "label", "--count", "n", "--sheet", "*")
            for n in (800, 100)
        ]
        return [
            _beside("a page of 8,000 categories, eight times 1,000 beside", *page, 8, rounds=2),
            _beside("a report of 200 sections, eight times 25 beside", *report, 8, rounds=2),
            _beside("a review of 2,000 running sums, eight times 250 beside", *review, 8, rounds=2),
            _beside("800 sheets read together, eight times 100 beside", *together, 8, rounds=2),
        ]


def named_totals() -> list[Line]:
    """Eight times the rows of a sheet that may each be a total, by their words or by what they add up."""
    import vantric as vt

    def counted(path: Path) -> None:
        with suppress(vt.VantricError):  # which rows are totals is asked
            vt.tally(path, "defect", count="n")

    lines = []
    with tempfile.TemporaryDirectory() as name:
        for what, words in (("that are named totals", "Total"), ("that may be totals", "All defects")):
            works = []
            for rows in (16_000, 2_000):
                path = Path(name) / f"{what} {rows}.csv"
                chance = Random(rows)
                labels = (chance.choice(("Chip", "Crack", words)) for _ in range(rows))
                path.write_text("defect,n\n" + "".join(f"{label},{chance.randrange(1, 9)}\n" for label in labels))
                works.append(partial(counted, path))
            large, small, peaks = in_turns(*works, 3)
            lines.append(Line(f"16,000 rows {what}, eight times 2,000 beside", large, 8 * small, peaks, 1.5))
    return lines


def wrong_cells() -> list[Line]:
    """Eight times the rows of a sheet whose percents are all wrong, each in its own way or under many subtotals."""
    import vantric as vt

    lines = []
    with tempfile.TemporaryDirectory() as name:
        for what, every in (("wrong percents", 0), ("rows with a subtotal in five", 5)):
            works = []
            for rows in (4_000, 500):
                chance, book, above = Random(rows), Workbook(), 0
                book.worksheets[0].append(["Defect", "Count", "Percent"])
                for row in range(rows):
                    count = chance.randrange(1, 900)
                    if every and row % every == every - 1:
                        book.worksheets[0].append(["Subtotal", above, None])
                        above = 0
                    else:
                        book.worksheets[0].append([f"defect {row}", count, chance.randrange(1_000) / 10])
                        above += count
                book.save(path := Path(name) / f"{what} {rows}.xlsx")
                works.append(partial(vt.review, path))
            large, small, peaks = in_turns(*works, 2)
            lines.append(Line(f"a review of 4,000 {what}, eight times 500 beside", large, 8 * small, peaks, 1.5))
    return lines


def many_labels(folder: Path) -> list[Line]:
    """Five million different labels of 200 signs, beside five times a million."""
    works = []
    for labels in (5_000_000, 1_000_000):
        path = folder / f"{labels}.csv"
        with path.open("w") as file:
            file.write("label\n")
            file.writelines(f"{n:012d}{'x' * 188}\n" for n in range(labels))
        works.append(_tally(path, "label"))
    return [_beside("5 million labels of 200 signs, five times a million beside", *works, 5, rounds=1)]


def many_labels_of_a_server() -> list[Line]:
    """Three million different labels of PostgreSQL, beside five times 600,000."""
    url = os.environ.get("VANTRIC_TEST_POSTGRES")
    if not url:
        print("SKIPPED: labels from PostgreSQL; set VANTRIC_TEST_POSTGRES to the URL of a server")
        return []
    query = "select 'label number ' || i as label from generate_series(1, {}) i".format
    works = [
        Process(*TALLY, url, "--query", query(labels), "--by", "label", "--format", "csv")
        for labels in (3_000_000, 600_000)
    ]
    line = _beside("3 million labels of PostgreSQL, five times 600,000 beside", *works, 5, rounds=1)
    return [line, line._replace(name="3 million labels of PostgreSQL", peer=40.0, most=1.0, beside="the goal")]


def _tally(path: Path, by: str) -> Callable[[], object]:
    return Process(*TALLY, str(path), "--by", by, "--format", "csv")


def _beside(name: str, whole: Callable[[], object], part: Callable[[], object], times: int, *, rounds: int = 5) -> Line:
    """Return a line whose peer is the part as many times: starting up, which grows with nothing, taken away."""
    start, _, _ = in_turns(Process("-m", "vantric", "--version"), lambda: None, 3)
    large, small, peaks = in_turns(whole, part, rounds)
    return Line(name, large - start, times * (small - start), peaks, 1.5)
