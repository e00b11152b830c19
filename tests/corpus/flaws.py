"""Inputs with a flaw each: what is found of each, and the words of its reason."""

from collections.abc import Iterator
from itertools import pairwise
from typing import Any

import vantric as vt
from tests.corpus.books import book
from tests.corpus.making import DEFECTS, LONG, Flawed, dealt, file, german, log, of, sheet

HEAD = "defect,count,percent,cumulative\n"
MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
FIRED = [640.0, 590.0, 610.0, 655.0]
NAMES = ["Pinhole", "Warping", "Edge chip", "Scratch"]


def flaws() -> Iterator[Flawed]:
    """Yield every flawed input."""
    yield from _sheets()
    yield from _columns()
    yield from _rows()
    yield from _running()
    yield from _logs()
    yield from _labels()
    yield from _amounts()
    yield from _two_ways()
    yield from _axes()
    yield from _marks()
    yield from _combined()
    yield from _books()
    yield from _drawn()


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
        ("26.4,", "24.6,", "two digits changed places"), ("26.4,", "0.264,", "a share of 1 among percents"),
        ("26.4,", "264.0,", "10 times too large"), ("26.4,", "much,", "it is not a number"),
        ("19.0,", "12.0,", "says 12 and should be 19.05"), ("26.4,", "#DIV/0!,", "divided by an empty cell"),
    ):  # fmt: skip
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
    yield Flawed("divided by a stale total", "wrong-percent", "which is not the sum of the rows",
                 file("\n".join([*stale[:5], "Total,229,100.0,"])))  # fmt: skip
    drifting = "Pinhole,88,38.1,38.1\nWarping,61,42.7,64.5\nEdge chip,44,53.7,83.5\nScratch,38,100,100\n"
    yield Flawed("a base that drifts", "wrong-percent", "a base that drifts", file(HEAD + drifting))
    subtotal = ("Pinhole,88,23.2,38.1\nWarping,61,16.1,64.5\nSubtotal,149,39.2,\nEdge chip,44,11.6,83.5\nScratch,38,10.0,100\n"
                "Total,231,60.8,\n")  # fmt: skip
    yield Flawed(
        "a subtotal in the base", "wrong-percent", "a sum that includes the row 'Subtotal'", file(HEAD + subtotal)
    )
    yield Flawed("a subtotal that is wrong", "wrong-total", "should be 149", file(HEAD + (
        "Pinhole,88,38.1,38.1\nWarping,61,26.4,64.5\nSubtotal,147,64.5,\nEdge chip,44,19.0,83.5\nScratch,38,16.5,100\nTotal,231,100,\n")))  # fmt: skip
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
    yield Flawed("a wrong cell above a row of zero", "wrong-percent", "says 40 and should be 50", file(
        "defect,count,percent,cumulative\nPinhole,88,50.0,50.0\nWarping,88,40.0,100.0\nStain,0,0.0,100.0\nTotal,176,100,\n"))  # fmt: skip
    yield Flawed("German, a sum of other rows", "wrong-cumulative", "says 70.6", file(others.format("38,1")))
    yield Flawed("German, the Total in the base", "wrong-percent", "the row 'Gesamt'", file(
        "Fehler;Anzahl;Anteil\nLunker;88;19,0\nRiss;82;17,7\nVerzug;61;13,2\nGesamt;231;50,0\n"))  # fmt: skip
    yield Flawed("Russian", "wrong-percent", "'Процент' says 25.5", file(
        "Дефект;Количество;Процент;Накопленный %\nСкол;88;38,1;38,1\nЦарапина;82;25,5;73,6\nТрещина;61;26,4;100,0\nИтого;231;100,0;\n"))  # fmt: skip
    yield Flawed("another separator", "several-labels", "hold several labels", of(
        lambda: vt.pareto(["crack;chip"] * 5 + ["chip"] * 3 + ["warp"] * 9, separator=",")))  # fmt: skip
    yield Flawed("a frequent unknown", "unknown-first", "a frequent category", of(
        lambda: vt.pareto(["Stain"] * 50 + ["unknown"] * 45 + ["Speck"] * 8)))  # fmt: skip


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
    yield Flawed("the rest is the largest", "rest-first", "is a rest", file(sheet([("Other", 120), *DEFECTS])))


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


def _logs() -> Iterator[Flawed]:
    by, count = ("--by", "defect"), ("--count", "count")
    rows = "defect,count\nPinhole,10\nWarping,5\nStain,2\n"
    for label, value in (
        ("Total defects", 17),
        ("Total", 16),
        ("Total", 25),
        ("All", 17),
        ("Sum", 17),
        ("Gesamt", 12),
        ("Total pieces", 17),
    ):
        yield Flawed(f"{label} {value}", "total-as-category", label, file(f"{rows}{label},{value}\n", *by, *count))
    yield Flawed("a subtotal in the middle", "total-as-category", "Subtotal",
                 file("defect,count\nPinhole,10\nWarping,5\nSubtotal,15\nStain,2\nSpeck,3\n", *by, *count))  # fmt: skip
    yield Flawed("two Totals", "total-as-category", "Total", file(
        "defect,count\nPinhole,10\nWarping,5\nTotal,15\nStain,2\nSpeck,3\nTotal,19\n", *by, *count))  # fmt: skip
    yield Flawed("a slip in Total", "total-as-category", "Totl", file(f"{rows}Totl,17\n", *by, *count))
    yield Flawed(
        "a Total label in a log",
        "total-as-category",
        "Total",
        file("defect\n" + "Pinhole\n" * 40 + "Stain\n" * 12 + "Total\n", *by),
    )
    records = [(n, d, "ABC"[n % 3], f"2026-01-{n % 28 + 1:02d} {n % 24}:00") for n, d in enumerate(dealt(120))]
    head = "id,defect,kiln,time"
    yield Flawed("every record twice", "repeated-records", "stands twice", file(log([*records, *records], head), *by))
    yield Flawed("every record twice, side by side", "repeated-records", "stands twice",
                 file(log([one for one in records for _ in (1, 2)], head), *by))  # fmt: skip
    anew = [(n, *one[1:]) for n, one in enumerate([*records, *records])]
    yield Flawed("every record twice, numbered anew", "repeated-records", "but for id", file(log(anew, head), *by))
    yield Flawed("every record three times", "repeated-records", "three times", file(log(records * 3, head), *by))
    yield Flawed(
        "a block twice",
        "repeated-records",
        "20 records repeat another",
        file(log([*records, *records[:20]], head), *by),
    )
    yield Flawed(
        "negative count in a log",
        "negative-count",
        "record 3",
        file("defect,count\nPinhole,10\nWarping,5\nStain,-2\n", *by, *count),
    )
    yield Flawed("kilograms and pieces", "mixed-units", "'kg' and 'pcs'", file(
        "defect,count,unit\nPinhole,10,kg\nWarping,5,pcs\nStain,2,kg\nSpeck,4,pcs\n", *by, *count))  # fmt: skip
    yield Flawed("counted under each label", "counted-again", "are counted as 31", file(
        "defect,count\nPinhole;Stain,10\nPinhole,5\nStain,2\nWarping,4\n", *by, *count, "--separator", ";"))  # fmt: skip
    missing = [(d, 1) for d in dealt(60)] + [("", 2)] * 40
    yield Flawed(
        "40 % missing", "more-missing", "40 records lack a defect (40 %)", file(log(missing, "defect,kiln"), *by)
    )
    yield Flawed("missing more than any category", "more-missing", "records lack", file(
        log([(d, 1) for d in dealt(80, [f"Defect {n}" for n in "ABCDEFGH"], 4)] + [("", 2)] * 90, "defect,kiln"), *by))  # fmt: skip


def _labels() -> Iterator[Flawed]:
    for one, words in (("Scartch", "'Scartch' and 'Scratch'"), ("Scrach", "'Scrach' and 'Scratch'"), ("Scratches", "'Scratch' and 'Scratches'"),
                       ("Scratchh", "'Scratch' and 'Scratchh'"), ("Scretch", "'Scratch' and 'Scretch'"), ("Scratcg", "'Scratcg' and 'Scratch'")):  # fmt: skip
        yield Flawed(
            f"slip {one}",
            "near-labels",
            words,
            of(lambda one=one: vt.pareto({"Scratch": 60, "Pinhole": 90, "Stain": 30, one: 4})),
        )
    for one, other in (
        ("Crack", "Cracks"),
        ("Edge chip", "Edge chips"),
        ("Body", "Bodies"),
        ("Drying crack", "Dryng crack"),
        ("Blister", "Bilster"),
    ):
        yield Flawed(
            f"{one} and {other}", "near-labels", one, of(lambda a=one, b=other: vt.tally({a: 60, b: 9, "Pinhole": 90}))
        )
    for one in ("scratch", "Scratch.", " Scratch", "SCRATCH", "Scratch:", "Scr-atch"):
        yield Flawed(
            f"spelled {one}",
            "similar-labels",
            "counted separately",
            of(lambda one=one: vt.tally({"Scratch": 60, "Pinhole": 90, one: 4})),
        )
    yield Flawed(
        "hyphen and blank",
        "similar-labels",
        "punctuation",
        of(lambda: vt.tally({"Edge-chip": 40, "Edge chip": 30, "Stain": 9})),
    )
    for one in ("N/A", "unknown", "not known", "-", "?", "tbd", "keine Angabe"):
        yield Flawed(
            f"{one} first",
            "unknown-first",
            "nothing is known",
            of(lambda one=one: vt.pareto([one] * 50 + ["Stain"] * 30 + ["Speck"] * 12)),
        )
    for one in ("Other", "Others", "Misc.", "Sonstige", "Autres", "All other"):
        yield Flawed(
            f"{one} first",
            "rest-first",
            "is a rest",
            of(lambda one=one: vt.pareto([one] * 50 + ["Stain"] * 30 + ["Speck"] * 12)),
        )
    yield Flawed(
        "several labels",
        "several-labels",
        "hold several labels",
        of(lambda: vt.pareto(["crack;chip"] * 5 + ["stain;speck"] * 3 + ["warp"] * 9)),
    )
    yield Flawed(
        "several labels with bars",
        "several-labels",
        "hold several labels",
        of(lambda: vt.pareto(["crack|chip"] * 5 + ["chip"] * 3 + ["warp"] * 9)),
    )
    yield Flawed(
        "several labels with commas",
        "several-labels",
        "hold several labels",
        of(lambda: vt.pareto(["chip, crack"] * 5 + ["chip"] * 3 + ["crack"] * 9)),
    )
    yield Flawed(
        "measurements", "numbers-as-labels", "measurements?", of(lambda: vt.tally([f"{n / 7:.3f}" for n in range(40)]))
    )


def _amounts() -> Iterator[Flawed]:
    yield Flawed(
        "percents as counts", "percents-as-counts", "percents", of(lambda: vt.pareto({"a": 38.1, "b": 35.5, "c": 26.4}))
    )
    yield Flawed(
        "rounded percents as counts",
        "percents-as-counts",
        "percents",
        of(lambda: vt.pareto({"a": 38.1, "b": 35.5, "c": 26.5, "d": 0.1})),
    )
    yield Flawed(
        "shares as counts",
        "percents-as-counts",
        "shares of 1",
        of(lambda: vt.pareto({"a": 0.381, "b": 0.355, "c": 0.264})),
    )
    for heading in ("percent", "share", "%", "Anteil", "pct"):
        content = f"defect,{heading}\nPinhole,38\nWarping,26\nEdge chip,19\nScratch,17\n"
        yield Flawed(
            f"whole percents called {heading}",
            "percents-as-counts",
            "percents",
            file(content, "--by", "defect", "--count", heading),
        )
    yield Flawed(
        "shares among counts", "mixed-values", "0.19", of(lambda: vt.pareto({"a": 88, "b": 61, "c": 0.19, "d": 0.16}))
    )
    costs = [(d, 5 + n % 9) for n, d in enumerate(dealt(40))]
    yield Flawed("one record of 90 % of the cost", "one-record", "'Scratch'", file(
        log([*costs, ("Scratch", 4000)], "defect,cost"), "--by", "defect", "--weight", "cost"))  # fmt: skip
    yield Flawed("one record of 60 % of the pieces", "one-record", "'Warping'", file(
        log([*costs, ("Warping", 550)], "defect,pieces"), "--by", "defect", "--count", "pieces"))  # fmt: skip
    yield Flawed(
        "four records in three categories",
        "small-base",
        "25 percent points",
        of(lambda: vt.pareto(["a", "a", "b", "c"])),
    )
    yield Flawed("a rate of one in one", "unsure-rates", "'c' has the highest rate", of(
        lambda: vt.pareto({"a": 30, "b": 12, "c": 1}, per={"a": 100, "b": 38, "c": 1})))  # fmt: skip
    yield Flawed(
        "a flat profile",
        "flat-profile",
        "no vital few",
        of(lambda: vt.pareto({f"Cell {n}": 20 + n % 2 for n in range(8)})),
    )
    yield Flawed(
        "a tie at the cutoff", "tie-at-cutoff", "divides a tie", of(lambda: vt.pareto({"a": 60, "b": 20, "c": 20}))
    )


def _two_ways() -> Iterator[Flawed]:
    yield Flawed("missing 6 % and 50 %", "missing-by-stratum", "50 %", of(lambda: vt.crosstab(
        {"d": (["a"] * 94 + [None] * 6) + (["b"] * 50 + [None] * 50), "s": ["x"] * 100 + ["y"] * 100}, "d", "s")))  # fmt: skip
    yield Flawed("a reversal", "stratum-reversal", "leads overall", of(lambda: vt.crosstab(
        {"d": ["a"] * 90 + ["b"] * 10 + ["a"] * 10 + ["b"] * 60, "s": ["x"] * 100 + ["y"] * 70}, "d", "s")))  # fmt: skip
    quarter = {"d": dealt(90), "t": [f"2026-0{n // 30 + 1}-{n % 28 + 1:02d}" for n in range(90)]}
    month = {"d": dealt(28, seed=2), "t": [f"2026-04-{n + 1:02d}" for n in range(28)]}
    yield Flawed(
        "a quarter and a month",
        "unlike-periods",
        "unlike periods",
        of(lambda: vt.compare(quarter, month, "d", date="t")),
    )
    yield Flawed("a month and a week", "unlike-periods", "unlike periods", of(lambda: vt.compare(
        month, {"d": dealt(14, seed=3), "t": [f"2026-05-{n // 2 + 1:02d}" for n in range(14)]}, "d", date="t")))  # fmt: skip


def _chart(*series: Any, categories: Any = MONTHS, **options: Any) -> Any:
    return of(lambda: vt.Chart(categories, series, **options))


def _axes() -> Iterator[Flawed]:
    bars, line = vt.Bars, vt.Line
    yield Flawed("two units on one axis", "several-units", "'Fired (tiles)' and 'Energy (kWh)'",
                 _chart(bars("Fired", FIRED, unit="tiles"), bars("Energy", FIRED, unit="kWh", axis="primary")))  # fmt: skip
    yield Flawed("lines of two units", "several-units", "share the secondary axis", _chart(
        bars("Fired", FIRED, unit="tiles"), line("a", [4, 5, 4, 6], unit="h", axis="secondary"), line("b", [4, 5, 4, 6], unit="EUR", axis="secondary")))  # fmt: skip
    for limits in ((4.0, 4.2), (3.9, 4.3), (4.0, None)):
        yield Flawed(f"stretched to {limits}", "stretched-axis", "4.8 % of its level", _chart(
            bars("Fired", FIRED, unit="tiles"), line("R", [4.0, 4.1, 4.2, 4.05], unit="%"), secondary_limits=limits))  # fmt: skip
    for policy in ("proportional", "grid", "separate"):
        yield Flawed(f"bars of one unit on two axes, {policy}", "one-unit-two-scales", "'tiles'", _chart(
            bars("Good", FIRED, unit="tiles"), bars("Scrap", [12, 9, 15, 20], unit="tiles", axis="secondary"), policy=policy))  # fmt: skip
    running = line("Cumulative percent", [38.1, 64.5, 83.5, 100], unit="%", axis="secondary")
    counts = bars("Frequency", [88, 61, 44, 38])
    meeting = {"categories": NAMES, "policy": "proportional", "meet": (231, 100)}
    for text in ("80 %", "cutoff", "80/20", ""):
        yield Flawed(f"mark “{text}” on the counts", "mark-on-wrong-axis", "cuts at a count of 80",
                     _chart(counts, running, **meeting, references=[vt.Reference(80, text=text)]))  # fmt: skip
    yield Flawed("a floating line", "floating-line", "not one height", _chart(counts, running, categories=NAMES))
    yield Flawed("zeros apart", "zeros-apart", "two zeros", _chart(
        bars("Margin", [30, -20, 10, -40]), bars("Fired", FIRED, axis="secondary"), policy="separate"))  # fmt: skip
    yield Flawed("a level line of 80 % on the counts", "mark-on-wrong-axis", "“80 %”", _chart(
        counts, running, line("80 %", [80] * 4, axis="primary"), **meeting))  # fmt: skip
    yield Flawed("bars without zero", "bars-without-zero", "runs from", _chart(bars("a", FIRED), primary_zero=False))
    yield Flawed(
        "data cut off", "clipped-data", "cut data off", _chart(bars("a", FIRED), primary_limits=(0, 600), clip=True)
    )
    yield Flawed(
        "a flat line",
        "flat-series",
        "less than a tenth",
        _chart(bars("a", FIRED), line("b", [4, 5, 4, 6], axis="primary")),
    )
    yield Flawed("no title", "untitled-axis", "has no title", _chart(bars("a", FIRED), primary_title=""))


def _marks() -> Iterator[Flawed]:
    bars, line, area = vt.Bars, vt.Line, vt.Area
    counts = bars("Frequency", [88, 61, 44, 38])
    for name, label, values, words in (
        ("ends at 90", "Cumulative percent", [34.3, 58.1, 75.1, 90], "the bars add up to 38.1 %"),
        ("is labeled in percent", "Cumulative percent", [88, 149, 193, 231], "it holds frequencies"),
        ("is 100 times too small", "Cumulative percent", [0.381, 0.645, 0.835, 1], "it holds shares of 1"),
        ("is of other bars", "Cumulative %", [40, 70, 90, 100], "the line says 40.0 %"),
        ("falls", "Cum. %", [38.1, 64.5, 60, 100], "at 'Edge chip'"),
        ("is off at its end", "Kumuliert %", [38.1, 64.5, 83.5, 104], "at 'Scratch'"),
        ("repeats its own row", "Running percent", [38.1, 26.4, 19, 16.5], "at 'Warping'"),
    ):  # fmt: skip
        yield Flawed(f"a cumulative line that {name}", "wrong-cumulative", words,
                     _chart(counts, line(label, values, unit="%", axis="secondary"), categories=NAMES))  # fmt: skip
    yield Flawed("not sorted", "not-descending", "not in descending order", _chart(
        bars("n", [10, 30, 60]), line("Cumulative percent", [10, 40, 100], unit="%", axis="secondary"), categories=NAMES[:3]))  # fmt: skip
    for labels in (
        ["Pressing", "Glazing", "Kilns", "Packing"],
        NAMES,
        ["Kiln 1", "Kiln 2", "Kiln 3", "Kiln 4"],
        ["North", "South", "East", "West"],
    ):
        yield Flawed(
            f"a line over {labels[0]}",
            "unordered-line",
            "joins categories",
            _chart(line("a", FIRED), categories=labels),
        )
    yield Flawed(
        "lines that coincide",
        "coinciding-lines",
        "coincide",
        _chart(line("a", [1, 3, 2, 4]), line("b", [100, 300, 200, 400], axis="secondary")),
    )
    yield Flawed(
        "an area behind another",
        "hidden-area",
        "'a' is hidden",
        _chart(area("a", [1, 2, 1, 2]), area("b", [3, 4, 3, 4])),
    )
    yield Flawed("bars behind others", "hidden-bars", "hidden behind others", _chart(
        bars("a", FIRED, bar_width=0.5), bars("b", [900] * 4, bar_width=0.6), together="overlaid"))  # fmt: skip
    yield Flawed("an unlike stack", "unlike-stack", "their sum has no meaning", _chart(
        bars("a", FIRED, unit="t", axis="primary"), bars("b", FIRED, unit="kWh", axis="primary"), together="stacked"))  # fmt: skip
    yield Flawed("rates stacked", "stacked-rates", "different bases", _chart(
        bars("Kiln 1 reject rate", [4, 5, 3, 4], unit="%"), bars("Kiln 2 reject rate", [4, 5, 3, 4], unit="%"), together="stacked"))  # fmt: skip
    yield Flawed("percents past 100", "stacked-rates", "different bases", _chart(
        bars("Early", [64, 55, 63, 54], unit="%"), bars("Late", [44, 55, 53, 64], unit="%"), together="stacked"))  # fmt: skip
    yield Flawed("too many series", "many-series", "8 series", _chart(*(line(f"s{n}", FIRED) for n in range(8))))


def _combined() -> Iterator[Flawed]:
    rows = {"m": [*MONTHS, *MONTHS], "n": [300, 280, 310, 290, 100, 60, 90, 110], "bad": [12, 11, 9, 8, 9, 8, 4, 5]}
    for name, times in (("q", 100), ("share", 1), ("x", 1000)):
        named = rows | {name: [round(times * a / b, 4) for a, b in zip(rows["bad"], rows["n"], strict=True)]}
        yield Flawed(
            f"a mean of {name}",
            "mean-of-rates",
            "weighs small bases",
            of(lambda d=named, c=name: vt.combine(d, "m", line=f"mean:{c}")),
        )
    yield Flawed("rates of two bases stacked", "stacked-rates", "of nothing", of(lambda: vt.combine(
        {"m": MONTHS, "a": [1, 2, 3, 2], "f": [10, 20, 30, 25], "b": [2, 2, 2, 3], "g": [20, 30, 20, 25]}, "m",
        bars=["percent:a/f", "percent:b/g"], together="stacked")))  # fmt: skip
    days = [f"2026-0{month}-{day:02d}" for month in (1, 2) for day in range(1, 29)] + [
        f"2026-03-{day:02d}" for day in range(1, 11)
    ]
    yield Flawed("a partial last month", "partial-period", "not complete", of(
        lambda: vt.combine({"t": days, "n": [3] * len(days)}, "t", bars="sum:n", period="month")))  # fmt: skip
    yield Flawed("a partial first month", "partial-period", "not complete", of(
        lambda: vt.combine({"t": days[15:50], "n": [3] * 35}, "t", bars="sum:n", period="month")))  # fmt: skip


def _books() -> Iterator[Flawed]:
    yield Flawed(
        "formulas: Total in the base", "wrong-percent", "includes the row 'Total'", book(percent="=B{r}/SUM(B$2:B${t})")
    )
    yield Flawed(
        "formulas: a range that stops short",
        "wrong-percent",
        "without the row 'Scratch'",
        book(percent="=B{r}/SUM(B$2:B$4)"),
    )
    yield Flawed(
        "formulas: a base that drifts",
        "wrong-percent",
        "the base was not fixed",
        book(percent=lambda r, c, s, t: f"=B{r}/B{r + 4}"),
    )
    yield Flawed("formulas: a range that drifts", "wrong-percent", "drifts", book(percent=lambda r, c, s, t: f"=B{r}/SUM(B{r}:B{r + 3})", total=None,
                                                                                     cumulative="=SUM(B$2:B{r})/SUM(B$2:B${n})"))  # fmt: skip
    yield Flawed("formulas: the wrong cell added", "wrong-cumulative", "two rows only", book(
        cumulative=lambda r, c, s, t: "=C2" if r == 2 else f"=C{r}+C{r - 1}"))  # fmt: skip
    yield Flawed("formulas: its own row not in it", "wrong-cumulative", "not yet", book(
        cumulative=lambda r, c, s, t: 0 if r == 2 else f"=SUM(B$2:B{r - 1})/B$6"))  # fmt: skip
    yield Flawed(
        "formulas: a total that stops short", "wrong-total", "says 193 and should be 231", book(total="=SUM(B2:B4)")
    )
    yield Flawed(
        "a typed percent",
        "wrong-percent",
        "two digits changed places",
        book(percent=lambda r, c, s, t: round(c / t, 3) if r != 3 else 0.246),
    )
    yield Flawed(
        "a typed total",
        "wrong-total",
        "says 213",
        book(total=213, percent="=B{r}/SUM(B$2:B${n})", cumulative="=SUM(B$2:B{r})/SUM(B$2:B${n})"),
    )
    yield Flawed(
        "rows that are not sorted",
        "not-sorted",
        "is larger than the row before",
        book([DEFECTS[2], DEFECTS[0], DEFECTS[1]]),
    )
    yield Flawed(
        "a label twice", "repeated-label", "'Pinhole'", book([("Pinhole", 88), ("Warping", 61), ("Pinhole", 44)])
    )
    yield Flawed(
        "percents shown 100 times too large", "wrong-percent", "100 times too large", book(percent="=B{r}/B${t}*100")
    )


def _drawn() -> Iterator[Flawed]:
    yield Flawed("drawn: the axis ends with the tallest bar", "floating-line", "not one height", book(top=88))
    yield Flawed("drawn: the program chooses the axis", "floating-line", "where the program chooses", book(top=None))
    yield Flawed("drawn: the line ends at 120 %", "floating-line", "not one height", book(secondary_top=1.2))
    yield Flawed(
        "drawn: the second axis is free", "floating-line", "the secondary axis ends where", book(secondary_top=None)
    )
    yield Flawed("drawn: the line on the counts", "percents-too-small", "on an axis of counts", book(secondary=False))
    yield Flawed("drawn: 100 times too small", "percents-too-small", "100 times too small", book(secondary_top=100))
    yield Flawed("drawn: percents times 100 on the counts", "several-units", "at a count of 100", book(
        form="0.0", percent=lambda r, c, s, t: round(100 * c / t, 1), cumulative=lambda r, c, s, t: round(100 * s / t, 1), secondary=False))  # fmt: skip
    yield Flawed("drawn: swapped axes, floating", "floating-line", "not one height", book(swapped=True, top=88))
    yield Flawed(
        "drawn: a hidden axis to 150 %", "floating-line", "not one height", book(hidden=True, secondary_top=1.5)
    )
    yield Flawed(
        "drawn: the Total as a bar",
        "total-as-category",
        "is the total of all others",
        book(drawn="2:{t}", line="2:{t}", labels="2:{t}"),
    )
    yield Flawed("drawn: the Total as a slice", "total-as-category", "is the total of all others", book(
        drawn="2:{t}", labels="2:{t}", with_line=False, kind="pie", top=None, titles=False))  # fmt: skip
    yield Flawed(
        "drawn: stops short",
        "rows-not-drawn",
        "'Scratch' is not drawn",
        book(drawn="2:{m}", line="2:{m}", labels="2:{m}"),
    )
    yield Flawed("drawn: the line is shorter", "unlike-ranges", "stand over other categories", book(line="2:{m}"))
    yield Flawed(
        "drawn: the line is a row below",
        "unlike-ranges",
        "stand over other categories",
        book(line="3:{t}", labels="2:{t}", drawn="2:{t}"),
    )
    yield Flawed("drawn: an axis from 30", "bars-without-zero", "runs from 30", book(bottom=30))
    yield Flawed("drawn: a log axis", "log-bars", "logarithmic under bars", book(with_line=False, log=True, top=None))
    yield Flawed("drawn: no titles", "untitled-axis", "the primary axis has no title", book(titles=False))
    yield Flawed("drawn: not sorted, without percents", "not-descending", "not in descending order", book(
        [DEFECTS[2], DEFECTS[0], DEFECTS[1]], percent=None, head=("Defect", "Count", "", "Line of sums"), total=None,
        cumulative=lambda r, c, s, t: s / t))  # fmt: skip
