"""Inputs with a flaw each: sheets whose arithmetic is wrong."""

from collections.abc import Iterator
from itertools import pairwise

import vantric as vt
from tests.corpus.making import DEFECTS, LONG, Flawed, file, german, of, sheet

HEAD = "defect,count,percent,cumulative\n"
MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
FIRED = [640.0, 590.0, 610.0, 655.0]
NAMES = ["Pinhole", "Warping", "Edge chip", "Scratch"]


def flawedsheets() -> Iterator[Flawed]:
    """Yield every flawed input of its kind."""
    yield from _sheets()
    yield from _columns()
    yield from _rows()
    yield from _running()


def _sheets() -> Iterator[Flawed]:
    whole = 231
    for name, base, words in (
        ("the Total row in the base", 2 * whole, "a sum that includes the row 'Total'"),
        ("the largest row as base", 88, "divided by the largest row"),
        ("the number of rows as base", 4, "divided by the number of rows"),
        ("a base without the last row", whole - 38, "a sum without the row 'Scratch'"),
        ("a base without the first row", whole - 88, "a sum without the row 'Pinhole'"),
        ("a base of two rows only", 149, "of the first 2 rows only"),
        ("a base with a row twice", whole + 61, "has the row 'Warping' twice"),
    ):
        rows = sheet(total="Total").split("\n")
        wrong = sheet(base=base).split("\n")
        yield Flawed(name, "wrong-percent", words, file("\n".join([*wrong[:5], rows[5]])))
        yield Flawed(f"{name}, with commas", "wrong-percent", words, file(german("\n".join([*wrong[:5], rows[5]]))))
    typed = sheet(total="Total")
    for old, new, words in (
        ("26.4,", "24.6,", "two digits changed places"),
        ("26.4,", "0.264,", "a share of 1 among percents"),
        ("26.4,", "264.0,", "10 times too large"),
        ("26.4,", "much,", "it is not a number"),
        ("19.0,", "12.0,", "says 12 and should be 19.05"),
        ("26.4,", "#DIV/0!,", "divided by an empty cell"),
    ):
        yield Flawed(f"typed {new}", "wrong-percent", words, file(typed.replace(old, new)))
    yield Flawed(
        "the Total row's own percent",
        "wrong-percent",
        "'percent' says 98 and should be 100",
        file(typed.replace("231,100.0,", "231,98.0,")),
    )
    yield Flawed(
        "the Total row's own cumulative",
        "wrong-cumulative",
        "says 200 and should be 100",
        file(typed.replace("231,100.0,", "231,100.0,200")),
    )
    yield Flawed(
        "a stale total", "wrong-total", "says 229 and should be 231", file(typed.replace("Total,231", "Total,229"))
    )
    yield Flawed("a stale total in German", "wrong-total", "says 229", file(typed.replace("Total,231", "Gesamt,229")))
    stale = sheet(base=229).split("\n")
    yield Flawed(
        "divided by a stale total",
        "wrong-percent",
        "which is not the sum of the rows",
        file("\n".join([*stale[:5], "Total,229,100.0,"])),
    )
    drifting = "Pinhole,88,38.1,38.1\nWarping,61,42.7,64.5\nEdge chip,44,53.7,83.5\nScratch,38,100,100\n"
    yield Flawed("a base that drifts", "wrong-percent", "a base that drifts", file(HEAD + drifting))
    subtotal = (
        "Pinhole,88,23.2,38.1\nWarping,61,16.1,64.5\nSubtotal,149,39.2,\nEdge chip,44,11.6,83.5\nScratch,38,10.0,100\n"
        "Total,231,60.8,\n"
    )
    yield Flawed(
        "a subtotal in the base", "wrong-percent", "a sum that includes the row 'Subtotal'", file(HEAD + subtotal)
    )
    yield Flawed(
        "a subtotal that is wrong",
        "wrong-total",
        "should be 149",
        file(
            HEAD
            + (
                "Pinhole,88,38.1,38.1\nWarping,61,26.4,64.5\nSubtotal,147,64.5,\nEdge chip,44,19.0,83.5\nScratch,38,16.5,100\nTotal,231,100,\n"
            )
        ),
    )
    yield Flawed(
        "percents of what", "other-base", "of what?", file(sheet(base=500, running=False, head="defect,count,percent"))
    )


def _columns() -> Iterator[Flawed]:
    plain = "defect,count,percent,cumulative\nPinhole,88,{},38.1\nScratch,82,{},73.6\nWarping,61,{},100\n"
    for name, code, cells, words in (
        ("blank", "blank-cell", ("38.1", "35.5", ""), "'percent' is blank in record 3"),
        ("moved up", "wrong-percent", ("35.5", "26.4", "38.1"), "moved up by a row"),
        ("moved down", "wrong-percent", ("12.0", "38.1", "35.5"), "moved down by a row"),
        ("sorted apart", "wrong-percent", ("26.4", "35.5", "38.1"), "sorted apart from the others"),
    ):
        yield Flawed(f"a column that is {name}", code, words, file(plain.format(*cells)))
    others = "Fehler;Anzahl;Anteil;Kumuliert\nLunker;88;{};38,1\nRiss;82;35,5;70,6\nVerzug;61;26,4;100,0\nGesamt;231;100,0;\n"
    yield Flawed(
        "a wrong cell above a row of zero",
        "wrong-percent",
        "says 40 and should be 50",
        file(
            "defect,count,percent,cumulative\nPinhole,88,50.0,50.0\nWarping,88,40.0,100.0\nStain,0,0.0,100.0\nTotal,176,100,\n"
        ),
    )
    yield Flawed("German, a sum of other rows", "wrong-cumulative", "says 70.6", file(others.format("38,1")))
    yield Flawed(
        "German, the Total in the base",
        "wrong-percent",
        "the row 'Gesamt'",
        file("Fehler;Anzahl;Anteil\nLunker;88;19,0\nRiss;82;17,7\nVerzug;61;13,2\nGesamt;231;50,0\n"),
    )
    yield Flawed(
        "Russian",
        "wrong-percent",
        "'Процент' says 25.5",
        file(
            "Дефект;Количество;Процент;Накопленный %\nСкол;88;38,1;38,1\nЦарапина;82;25,5;73,6\nТрещина;61;26,4;100,0\nИтого;231;100,0;\n"
        ),
    )
    yield Flawed(
        "another separator",
        "several-labels",
        "hold several labels",
        of(lambda: vt.pareto(["crack;chip"] * 5 + ["chip"] * 3 + ["warp"] * 9, separator=",")),
    )
    yield Flawed(
        "a frequent unknown",
        "unknown-first",
        "a frequent category",
        of(lambda: vt.pareto(["Stain"] * 50 + ["unknown"] * 45 + ["Speck"] * 8)),
    )


def _rows() -> Iterator[Flawed]:
    lines = sheet().split("\n")
    for at, where in ((2, "second"), (3, "third")):
        rows = [*lines[:at], "Total,231,100,100", *lines[at:]]
        yield Flawed(f"the Total row {where}", "total-as-category", "stands among the rows", file("\n".join(rows)))
    first = (
        HEAD
        + "Total,231,50,50\nPinhole,88,19.0,69.0\nWarping,61,13.2,82.3\nEdge chip,44,9.5,91.8\nScratch,38,8.2,100\n"
    )
    yield Flawed("the Total row sorted to the top", "wrong-percent", "a sum that includes the row 'Total'", file(first))
    for again in ("Pinhole", "pinhole", "Pinhole ", "Pin-hole"):
        rows2 = [("Pinhole", 88), ("Warping", 61), (again, 44), ("Scratch", 38)]
        yield Flawed(f"{again} again", "repeated-label", "each ranked for itself", file(sheet(rows2)))
    yield Flawed(
        "a negative count",
        "negative-count",
        "is negative in",
        file(sheet([*DEFECTS[:2], ("Edge chip", -4), DEFECTS[3]])),
    )
    yield Flawed("not sorted", "not-sorted", "'Warping'", file(sheet([DEFECTS[2], DEFECTS[1], DEFECTS[0]])))
    yield Flawed(
        "the rest in the middle",
        "not-sorted",
        "'Warping'",
        file(sheet([("Pinhole", 88), ("Other", 20), ("Warping", 61)])),
    )
    yield Flawed("a slip in a sheet", "near-labels", "'Scrach' and 'Scratch'", file(sheet([*DEFECTS, ("Scrach", 3)])))
    yield Flawed("the rest is the largest", "rest-first", "is a catch-all", file(sheet([("Other", 120), *DEFECTS])))


def _running() -> Iterator[Flawed]:
    plain = [line.rpartition(",")[0] for line in sheet(LONG).split("\n")[1:-1]]
    whole, sums, own = sum(n for _, n in LONG), [], [n for _, n in LONG]
    for at in range(len(own)):
        sums.append(100 * sum(own[: at + 1]) / whole)
    shares = [100 * n / whole for n in own]

    def cumulative(values: list[float]) -> str:
        return HEAD + "\n".join(f"{row},{value:.1f}" for row, value in zip(plain, values, strict=True)) + "\n"

    for name, values, words in (
        ("its own row again", shares, "the percent of its own row again"),
        ("its own row not in it", [0, *sums[:-1]], "its own row is not yet"),
        (
            "upward",
            [sums[-1] - total + share for total, share in zip(sums, shares, strict=True)],
            "from the last row upward",
        ),
        (
            "two rows only",
            [shares[0], *(a + b for a, b in pairwise(shares))],
            "the sum of two rows only",
        ),
        (
            "a row is missing",
            [total - (shares[2] if at > 1 else 0) for at, total in enumerate(sums)],
            "'Edge chip' is missing from",
        ),
        (
            "a row is twice",
            [total + (shares[1] if at > 2 else 0) for at, total in enumerate(sums)],
            "'Warping' is twice from",
        ),
        ("off from a row on", [total + (2.7 if at > 3 else 0) for at, total in enumerate(sums)], "off by"),
        ("of the number of rows", [total * whole / 8 / 100 for total in sums], "divided by"),
    ):
        yield Flawed(f"running sum: {name}", "wrong-cumulative", words, file(cumulative(values)))
    ends = [*sums[:-1], 99.9]
    yield Flawed("the last is 99.9", "not-ending-at-100", "the last is always 100", file(cumulative(ends)))
    sevenths = "".join(f"{'abcdefg'[n]},1,14.3,{14.3 * (n + 1):.1f}\n" for n in range(7))
    yield Flawed(
        "rounded percents added up", "wrong-cumulative", "a running sum of rounded percents", file(HEAD + sevenths)
    )
    counts = "defect,count,cumulative count\nPinhole,88,88\nWarping,61,148\nScratch,40,188\n"
    yield Flawed("cumulative counts", "wrong-cumulative", "says 148 and should be 149", file(counts))
