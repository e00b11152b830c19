"""Inputs with a flaw each: logs, labels, amounts and strata."""

from collections.abc import Iterator

import vantric as vt
from tests.corpus.making import Flawed, dealt, file, log, of

HEAD = "defect,count,percent,cumulative\n"
MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
FIRED = [640.0, 590.0, 610.0, 655.0]
NAMES = ["Pinhole", "Warping", "Edge chip", "Scratch"]


def flawedlogs() -> Iterator[Flawed]:
    """Yield every flawed input of its kind."""
    yield from _logs()
    yield from _labels()
    yield from _amounts()
    yield from _two_ways()


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
        ("Total pieces", 18),
    ):
        yield Flawed(f"{label} {value}", "total-as-category", label, file(f"{rows}{label},{value}\n", *by, *count))
    yield Flawed(
        "a subtotal in the middle",
        "total-as-category",
        "Subtotal",
        file("defect,count\nPinhole,10\nWarping,5\nSubtotal,16\nStain,2\nSpeck,4\n", *by, *count),
    )
    yield Flawed(
        "two Totals",
        "total-as-category",
        "Total",
        file("defect,count\nPinhole,10\nWarping,5\nTotal,15\nStain,2\nSpeck,3\nTotal,19\n", *by, *count),
    )
    yield Flawed("a slip in Total", "total-as-category", "Toatl", file(f"{rows}Toatl,17\n", *by, *count))
    yield Flawed(
        "a Total label in a log",
        "total-as-category",
        "Total",
        file("defect\n" + "Pinhole\n" * 40 + "Stain\n" * 12 + "Total\n", *by),
    )
    records = [(n, d, "ABC"[n % 3], f"2026-01-{n % 28 + 1:02d} {n % 24}:00") for n, d in enumerate(dealt(120))]
    head = "id,defect,kiln,time"
    yield Flawed("every record twice", "repeated-records", "stands twice", file(log([*records, *records], head), *by))
    yield Flawed(
        "every record twice, side by side",
        "repeated-records",
        "stands twice",
        file(log([one for one in records for _ in (1, 2)], head), *by),
    )
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
    yield Flawed(
        "kilograms and pieces",
        "mixed-units",
        "'kg' and 'pcs'",
        file("defect,count,unit\nPinhole,10,kg\nWarping,5,pcs\nStain,2,kg\nSpeck,4,pcs\n", *by, *count),
    )
    yield Flawed(
        "counted under each label",
        "counted-again",
        "are counted as 31",
        file("defect,count\nPinhole;Stain,10\nPinhole,5\nStain,2\nWarping,4\n", *by, *count, "--separator", ";"),
    )
    missing = [(d, 1) for d in dealt(60)] + [("", 2)] * 40
    yield Flawed(
        "40 % missing", "more-missing", "40 records have a blank “defect” (40%)", file(log(missing, "defect,kiln"), *by)
    )
    yield Flawed(
        "missing more than any category",
        "more-missing",
        "records have a blank",
        file(
            log([(d, 1) for d in dealt(80, [f"Defect {n}" for n in "ABCDEFGH"], 4)] + [("", 2)] * 90, "defect,kiln"),
            *by,
        ),
    )


def _labels() -> Iterator[Flawed]:
    for one, words in (
        ("Scartch", "'Scartch' and 'Scratch'"),
        ("Scrach", "'Scrach' and 'Scratch'"),
        ("Scratches", "'Scratch' and 'Scratches'"),
        ("Scratchh", "'Scratch' and 'Scratchh'"),
        ("Scretch", "'Scratch' and 'Scretch'"),
        ("Scratcg", "'Scratcg' and 'Scratch'"),
    ):
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
            "is a catch-all",
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
    yield Flawed(
        "one record of 90 % of the cost",
        "one-record",
        "'Scratch'",
        file(log([*costs, ("Scratch", 4000)], "defect,cost"), "--by", "defect", "--weight", "cost"),
    )
    yield Flawed(
        "one record of 60 % of the pieces",
        "one-record",
        "'Warping'",
        file(log([*costs, ("Warping", 550)], "defect,pieces"), "--by", "defect", "--count", "pieces"),
    )
    yield Flawed(
        "four records in three categories",
        "small-base",
        "25 percentage points",
        of(lambda: vt.pareto(["a", "a", "b", "c"])),
    )
    yield Flawed(
        "a rate of one in one",
        "unsure-rates",
        "'c' has the highest rate",
        of(lambda: vt.pareto({"a": 30, "b": 12, "c": 1}, per={"a": 100, "b": 38, "c": 1})),
    )
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
    yield Flawed(
        "missing 6 % and 50 %",
        "missing-by-stratum",
        "50%",
        of(
            lambda: vt.crosstab(
                {"d": (["a"] * 94 + [None] * 6) + (["b"] * 50 + [None] * 50), "s": ["x"] * 100 + ["y"] * 100}, "d", "s"
            )
        ),
    )
    yield Flawed(
        "a reversal",
        "stratum-reversal",
        "leads overall",
        of(
            lambda: vt.crosstab(
                {"d": ["a"] * 90 + ["b"] * 10 + ["a"] * 10 + ["b"] * 60, "s": ["x"] * 100 + ["y"] * 70}, "d", "s"
            )
        ),
    )
    quarter = {"d": dealt(90), "t": [f"2026-0{n // 30 + 1}-{n % 28 + 1:02d}" for n in range(90)]}
    month = {"d": dealt(28, seed=2), "t": [f"2026-04-{n + 1:02d}" for n in range(28)]}
    yield Flawed(
        "a quarter and a month",
        "unlike-periods",
        "unlike periods",
        of(lambda: vt.compare(quarter, month, "d", date="t")),
    )
    yield Flawed(
        "a month and a week",
        "unlike-periods",
        "unlike periods",
        of(
            lambda: vt.compare(
                month, {"d": dealt(14, seed=3), "t": [f"2026-05-{n // 2 + 1:02d}" for n in range(14)]}, "d", date="t"
            )
        ),
    )
