"""Inputs with a flaw each: charts and combinations."""

from collections.abc import Iterator
from typing import Any

import vantric as vt
from tests.corpus.making import Flawed, of

HEAD = "defect,count,percent,cumulative\n"
MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
FIRED = [640.0, 590.0, 610.0, 655.0]
NAMES = ["Pinhole", "Warping", "Edge chip", "Scratch"]


def flawedcharts() -> Iterator[Flawed]:
    """Yield every flawed input of its kind."""
    yield from _axes()
    yield from _marks()
    yield from _combined()


def _chart(*series: Any, categories: Any = MONTHS, **options: Any) -> Any:
    return of(lambda: vt.Chart(categories, series, **options))


def _axes() -> Iterator[Flawed]:
    bars, line = vt.Bars, vt.Line
    yield Flawed(
        "two units on one axis",
        "several-units",
        "'Fired (tiles)' and 'Energy (kWh)'",
        _chart(bars("Fired", FIRED, unit="tiles"), bars("Energy", FIRED, unit="kWh", axis="primary")),
    )
    yield Flawed(
        "lines of two units",
        "several-units",
        "share the secondary axis",
        _chart(
            bars("Fired", FIRED, unit="tiles"),
            line("a", [4, 5, 4, 6], unit="h", axis="secondary"),
            line("b", [4, 5, 4, 6], unit="EUR", axis="secondary"),
        ),
    )
    for limits in ((4.0, 4.2), (3.9, 4.3), (4.0, None)):
        yield Flawed(
            f"stretched to {limits}",
            "stretched-axis",
            "4.8% of its level",
            _chart(
                bars("Fired", FIRED, unit="tiles"), line("R", [4.0, 4.1, 4.2, 4.05], unit="%"), secondary_limits=limits
            ),
        )
    for policy in ("proportional", "grid", "separate"):
        yield Flawed(
            f"bars of one unit on two axes, {policy}",
            "one-unit-two-scales",
            "'tiles'",
            _chart(
                bars("Good", FIRED, unit="tiles"),
                bars("Scrap", [12, 9, 15, 20], unit="tiles", axis="secondary"),
                policy=policy,
            ),
        )
    running = line("Cumulative percent", [38.1, 64.5, 83.5, 100], unit="%", axis="secondary")
    counts = bars("Frequency", [88, 61, 44, 38])
    meeting = {"categories": NAMES, "policy": "proportional", "meet": (231, 100)}
    for text in ("80 %", "cutoff", "80/20", ""):
        yield Flawed(
            f"mark “{text}” on the counts",
            "mark-on-wrong-axis",
            "cuts at a count of 80",
            _chart(counts, running, **meeting, references=[vt.Reference(80, text=text)]),
        )
    yield Flawed("a floating line", "floating-line", "not one height", _chart(counts, running, categories=NAMES))
    yield Flawed(
        "zeros apart",
        "zeros-apart",
        "two zeros",
        _chart(bars("Margin", [30, -20, 10, -40]), bars("Fired", FIRED, axis="secondary"), policy="separate"),
    )
    yield Flawed(
        "a level line of 80 % on the counts",
        "mark-on-wrong-axis",
        "“80 %”",
        _chart(counts, running, line("80 %", [80] * 4, axis="primary"), **meeting),
    )
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
        ("ends at 90", "Cumulative percent", [34.3, 58.1, 75.1, 90], "the bars add up to 38.1%"),
        ("is labeled in percent", "Cumulative percent", [88, 149, 193, 231], "it holds frequencies"),
        ("is 100 times too small", "Cumulative percent", [0.381, 0.645, 0.835, 1], "it holds shares of 1"),
        ("is of other bars", "Cumulative %", [40, 70, 90, 100], "the line says 40.0%"),
        ("falls", "Cum. %", [38.1, 64.5, 60, 100], "at 'Edge chip'"),
        ("is off at its end", "Kumuliert %", [38.1, 64.5, 83.5, 104], "at 'Scratch'"),
        ("repeats its own row", "Running percent", [38.1, 26.4, 19, 16.5], "at 'Warping'"),
    ):
        yield Flawed(
            f"a cumulative line that {name}",
            "wrong-cumulative",
            words,
            _chart(counts, line(label, values, unit="%", axis="secondary"), categories=NAMES),
        )
    yield Flawed(
        "not sorted",
        "not-descending",
        "not in descending order",
        _chart(
            bars("n", [10, 30, 60]),
            line("Cumulative percent", [10, 40, 100], unit="%", axis="secondary"),
            categories=NAMES[:3],
        ),
    )
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
    yield Flawed(
        "bars behind others",
        "hidden-bars",
        "hidden behind others",
        _chart(bars("a", FIRED, bar_width=0.5), bars("b", [900] * 4, bar_width=0.6), together="overlaid"),
    )
    yield Flawed(
        "an unlike stack",
        "unlike-stack",
        "their sum has no meaning",
        _chart(
            bars("a", FIRED, unit="t", axis="primary"), bars("b", FIRED, unit="kWh", axis="primary"), together="stacked"
        ),
    )
    yield Flawed(
        "rates stacked",
        "stacked-rates",
        "different bases",
        _chart(
            bars("Kiln 1 reject rate", [4, 5, 3, 4], unit="%"),
            bars("Kiln 2 reject rate", [4, 5, 3, 4], unit="%"),
            together="stacked",
        ),
    )
    yield Flawed(
        "percents past 100",
        "stacked-rates",
        "different bases",
        _chart(bars("Early", [64, 55, 63, 54], unit="%"), bars("Late", [44, 55, 53, 64], unit="%"), together="stacked"),
    )
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
    yield Flawed(
        "rates of two bases stacked",
        "stacked-rates",
        "of nothing",
        of(
            lambda: vt.combine(
                {"m": MONTHS, "a": [1, 2, 3, 2], "f": [10, 20, 30, 25], "b": [2, 2, 2, 3], "g": [20, 30, 20, 25]},
                "m",
                bars=["percent:a/f", "percent:b/g"],
                together="stacked",
            )
        ),
    )
    days = [f"2026-0{month}-{day:02d}" for month in (1, 2) for day in range(1, 29)] + [
        f"2026-03-{day:02d}" for day in range(1, 11)
    ]
    yield Flawed(
        "a partial last month",
        "partial-period",
        "no records after 2026-03-10: 2026-03 may be partial",
        of(lambda: vt.combine({"t": days, "n": [3] * len(days)}, "t", bars="sum:n", period="month")),
    )
    yield Flawed(
        "a partial first month",
        "partial-period",
        "no records before 2026-01-16: 2026-01 may be partial",
        of(lambda: vt.combine({"t": days[15:], "n": [3] * len(days[15:])}, "t", bars="sum:n", period="month")),
    )
