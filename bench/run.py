"""Vantric beside its peers, in one run: ``make bench``.

Each line is a ratio: the median time of Vantric over the median time of the peer, measured in turns. Lines are kept in
``bench/results.md``, with the machine and the versions; a ratio more than a tenth above its limit is a failure.
"""

from __future__ import annotations

import io
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE))

from frames import frames  # noqa: E402
from growth import growth, named_totals, outputs, wrong_cells  # noqa: E402
from handing import handing  # noqa: E402
from measure import Line, Process, in_turns, main  # noqa: E402
from pieces import pieces  # noqa: E402
from products import log_of_millions, products  # noqa: E402


def starts(folder: Path) -> list[Line]:
    """Measure the CPU of whole programs: what people wait for, whatever else the machine does."""
    from vantric.demo import data_file

    log = folder / "inspections.csv"
    log.write_bytes(data_file("inspections.csv"))
    by_hand, picture = str(HERE / "by_hand.py"), str(folder / "picture")
    pareto = ("-m", "vantric", "pareto", str(log), "--by", "defect")
    drawn, chart = (*pareto, "--out"), (by_hand, "chart", str(log), "defect", f"{picture}.png")
    script = "a script with pandas and Matplotlib"
    pairs = [
        ("log to PNG", (*drawn, f"{picture}.png"), chart, 0.6, script),
        ("JSON of the log", (*pareto, "--format", "json"), (by_hand, "json", str(log), "defect"), 0.4, "pandas"),
        ("SVG of the log / PNG by hand", (*drawn, f"{picture}.svg"), chart, 0.3, script),
        ("vantric --help", ("-m", "vantric", "--help"), ("-c", "import click"), 1.2, "import click"),
    ]
    lines = []
    for name, ours, peer, most, beside in pairs:
        spent = in_turns(Process(*ours), Process(*peer), 11, cpu=True)
        lines.append(Line(f"(a) {name}, CPU", *spent, most, beside))
    for name, typed, most in (("a flag", "--b", 0.2), ("a column", "--by ", 0.4)):
        asked = Process(
            "-m", "vantric", _VANTRIC_COMPLETE="bash_complete", VANTRIC_LINE=f"vantric pareto {log} {typed}"
        )
        seconds, _, peaks = in_turns(asked, Process("-c", "pass"), 7, cpu=True)
        lines.append(Line(f"(a) completion of {name}, CPU", seconds, 1.0, peaks, most, "a second"))
    return lines


def whole_processes() -> list[Line]:
    pairs = [
        ("(c) import vantric", ["-c", "import vantric"], ["-c", "import numpy"], 1.5, "import numpy"),
    ]
    return [
        Line(name, *in_turns(Process(*ours), Process(*peer), 9), most, beside)
        for name, ours, peer, most, beside in pairs
    ]


def drawing() -> list[Line]:
    import matplotlib

    matplotlib.use("Agg")
    import pandas as pd

    import by_hand
    import vantric as vt
    from vantric.rendering.pictures import picture

    lines = []
    for kind in ("png", "svg"):
        for size, most in ((8, 1.0), (60, 0.35), (500, 0.25)):
            counts = {f"Defect {place}": 1 + 5000 // (place + 1) for place in range(size)}
            series, table = pd.Series(counts), vt.pareto(counts)
            name = f"(b) drawing {size} categories, {kind.upper()}"

            def ours(kind: str = kind, table: vt.ParetoTable = table) -> None:
                picture(vt.pareto_chart(table), kind)

            def peer(kind: str = kind, series: pd.Series = series) -> None:
                by_hand.draw(series, io.BytesIO(), kind)

            lines.append(Line(name, *in_turns(ours, peer, 5 if size == 500 else 15), most, "a script with Matplotlib"))
    return lines


def vectors() -> list[Line]:
    """Write SVG by the semantic writer, beside Matplotlib on the same plan."""
    import io as memory

    import vantric as vt
    from vantric.rendering.matplotlib_figure import bare_figure
    from vantric.rendering.pictures import picture

    chart = vt.pareto_chart({f"Defect {place}": 1 + 5000 // (place + 1) for place in range(24)})

    def peer() -> None:
        bare_figure(chart)[0].savefig(memory.BytesIO(), format="svg")

    times = in_turns(lambda: picture(chart, "svg"), peer, 15)
    return [
        Line("(i) SVG of 24 categories", *times, 0.15, "Matplotlib, of the same plan"),
    ]


def in_memory() -> list[Line]:
    """Make the SVG of the demo's Pareto chart in a running process, by one thread and by eight, and in other forms."""
    from concurrent.futures import ThreadPoolExecutor

    import vantric as vt
    from vantric.demo import data_file

    with tempfile.TemporaryDirectory() as folder:
        log = Path(folder) / "inspections.csv"
        log.write_bytes(data_file("inspections.csv"))
        chart = vt.pareto(log, by="defect", merge_spellings=True).chart(noun="defects")
    calls = 200

    def one() -> None:
        for _ in range(calls):
            chart.to_svg()

    def eight() -> None:
        with ThreadPoolExecutor(8) as pool:
            list(pool.map(lambda _: chart.to_svg(), range(calls)))

    threads, single, peaks = in_turns(eight, one, 5)
    return [
        Line("(x) to_svg() of the demo, in a running process", single / calls, 0.020, None, 1.0, "the goal"),
        Line("(x) 200 to_svg() from eight threads", threads, single, peaks, 1.25, "from one thread"),
        Line("(x) draw(ax) of the demo", *in_turns(lambda: chart.draw(), lambda: chart.figure(), 9), 3, "figure()"),
        Line("(x) to_vega_lite() of the demo", *in_turns(chart.to_vega_lite, chart.to_svg, 15), 1.2, "to_svg()"),
    ]


def combinations() -> list[Line]:
    """Draw two stacked series and a line on a second axis, labels on, beside the script without label placement."""
    import numpy as np

    import by_hand
    import vantric as vt
    from vantric.rendering.pictures import picture

    lines = []
    for count, labels, most in ((12, "value", 1.0), (2000, "auto", 0.05)):
        chance = np.random.default_rng(5)
        start = np.datetime64("2019-01-01" if count > 12 else "2025-11")
        days = start + np.arange(count)
        months = [str(day) for day in days]
        fired, second = chance.integers(120_000, 200_000, count), chance.integers(30_000, 60_000, count)
        rejects = chance.uniform(2, 6, count)

        def ours(labels: str = labels, given: tuple = (months, fired, second, rejects)) -> None:
            months, fired, second, rejects = given
            series = [
                vt.Bars("First firing", fired, labels, unit="tiles"),
                vt.Bars("Second firing", second, labels, unit="tiles"),
                vt.Line("Rejected", rejects, labels, axis="secondary", unit="%"),
            ]
            picture(vt.Chart(months, series, together="stacked"), "png")

        def peer(given: tuple = (months, fired, second, rejects)) -> None:
            by_hand.combine(*given, io.BytesIO())

        rounds = 15 if count == 12 else 5
        lines.append(
            Line(
                f"(g) three series of {count} periods, PNG",
                *in_turns(ours, peer, rounds),
                most,
                "a script with Matplotlib",
            )
        )
    return lines


def labels() -> list[Line]:
    """Place 4,000 labels in eight pictures' width beside 500 in one: no faster growth than n log n."""
    import math

    import numpy as np

    import vantric as vt
    from vantric.core.layout.frame import LayoutContext
    from vantric.core.layout.labels import place_labels
    from vantric.core.layout.planner import set_page
    from vantric.core.layout.text_layout import Sizes, TextWriter, table_measure

    def placing(count: int) -> Callable[[], object]:
        chance = np.random.default_rng(11)
        values = chance.uniform(0, 1000, (5, count // 5)).round()
        points = [vt.Points(f"Crew {number}", row, "value") for number, row in enumerate(values)]
        chart = vt.Chart([f"{place}" for place in range(count // 5)], points)
        size = (1280.0 * count / 500, 800.0)
        desk = LayoutContext(chart, size, Sizes(0.5), TextWriter(table_measure), chart.scales)
        page, marks, ends, guides = set_page(desk)
        placed = place_labels(desk, page, marks, ends, guides)
        if placed is None or placed.left_out:
            raise SystemExit("a label found no place")
        return lambda: place_labels(desk, page, marks, ends, guides)

    many, few, peaks = in_turns(placing(4000), placing(500), 7)
    growth = 8 * math.log(4000) / math.log(500)
    print(f"placing 500 labels: {1000 * few:.1f} ms (at most 20)")
    return [Line("(h) placing 4,000 labels, n log n of 500 beside", many, few * growth, peaks, 1.0)]


def tables() -> list[Line]:
    """Rank and accumulate a million categories, beside the bare ranking and running sum of their numbers."""
    import numpy as np

    from vantric.core.counts import Missing, Provenance, Tally
    from vantric.core.counts.pareto import pareto
    from vantric.core.numbers.amounts import Amounts

    chance = np.random.default_rng(7)
    size = 1_000_000
    labels = tuple(f"order {number}" for number in range(size))
    lines = []
    for name, values in (
        ("counts", chance.integers(0, 10**9, size)),
        ("counts, most of them tied", chance.zipf(1.8, size).clip(max=10**6)),
        ("weights", chance.lognormal(0, 3, size)),
    ):
        tally = Tally(labels, Amounts.of(values), Missing(), Provenance(input_rows=size))

        def ours(tally: Tally = tally) -> object:
            table = pareto(Tally(tally.categories, Amounts(tally.frequency.units), tally.missing, tally.origin))
            return table.cutoffs, table.cumulative

        def peer(values: np.ndarray = values) -> object:
            ranked = values[np.argsort(-values)]
            return np.cumsum(ranked)

        lines.append(
            Line(f"(e) a million categories, {name}", *in_turns(ours, peer, 7), 1.5, "NumPy: sort and running sum")
        )
    return lines


def scales() -> list[Line]:
    """Align two axes, a hundred pairs, beside a plain search through every pair of nice steps."""
    import math
    from itertools import product

    import numpy as np

    import vantric as vt

    pairs = (10 ** np.random.default_rng(3).uniform(-3, 6, (100, 2))).tolist()

    def steps(span: float) -> list[float]:
        power = math.floor(math.log10(span))
        return [m * 10.0**e for e in range(power - 1, power + 2) for m in (1, 2, 2.5, 5)]

    def search(one: float, other: float) -> float:
        best = 0.0
        for first, second in product(steps(one), steps(other)):
            height = max(one / first, other / second) / 0.95
            if 4 <= math.floor(height) + 1 <= 10:
                best = max(best, min(one / first, other / second) / height)
        return best

    def ours() -> float:
        return sum(min(vt.align((0, one), (0, other)).coverage) for one, other in pairs)

    def peer() -> float:
        return sum(search(one, other) for one, other in pairs)

    if abs(ours() - peer()) > 1e-6:
        raise SystemExit("the two searches differ")
    spent, beside, peaks = in_turns(ours, peer, 9)
    print(f"aligning two axes: {1000 * spent / len(pairs):.2f} ms a pair (at most 0.30)")
    return [Line("(f) aligning 100 pairs, plain search beside", spent, beside, peaks, 3.0)]


def reviewing(folder: Path) -> list[Line]:
    """Review the demo log beside making its table; draw tables again beside the bare drawing of random numbers."""
    import numpy as np

    import vantric as vt
    from vantric.core.review import review_pareto
    from vantric.core.statistics.certainty import certainty_of

    log = folder / "inspections.csv"

    def reviewed() -> object:
        return review_pareto(vt.pareto(log, "defect"))

    lines = [
        Line(
            "(i) table of the demo log with its review", *in_turns(reviewed, lambda: vt.pareto(log, "defect"), 15), 1.1
        )
    ]
    lines.append(a_million())
    chance = np.random.default_rng(2)
    counts = np.sort(chance.multinomial(4000, chance.dirichlet(np.ones(50))))[::-1] + 1

    table = vt.pareto({f"c{at}": int(count) for at, count in enumerate(counts)})

    def bare() -> object:
        return np.random.default_rng(1).multinomial(4000, np.full(50, 0.02), size=1_500)

    spent, beside, peaks = in_turns(lambda: certainty_of(table), bare, 15)
    print(f"certainty of 50 categories: {1000 * spent:.0f} ms (at most 20)")
    lines.append(Line("(j) certainty of 50 categories, NumPy's draws beside", spent, beside, peaks, 8.0))
    lines.append(twelve_trends())
    many = np.sort(chance.multinomial(400_000, chance.dirichlet(np.ones(10_000))))[::-1]
    large = vt.pareto({f"c{at}": int(count) for at, count in enumerate(many)})
    spent, beside, peaks = in_turns(
        lambda: certainty_of(large), lambda: np.random.default_rng(1).multinomial(400_000, many / many.sum(), 500), 5
    )
    print(f"certainty of 10,000 categories: {spent:.2f} s (at most 1)")
    lines.append(Line("(j) certainty of 10,000 categories, NumPy's draws beside", spent, beside, peaks, 4.0))
    return lines


def twelve_trends() -> Line:
    """Test twelve categories over three years of months, beside the draws that the test is of."""
    import numpy as np

    from vantric.core.statistics.trend_tests import changes_over

    chance = np.random.default_rng(3)
    counts = list(chance.poisson(20 * chance.gamma(3, 1 / 3, (12, 36))).astype(float))
    whole = np.ones(36, bool)

    def bare() -> object:
        draws = np.random.default_rng(1)
        return draws.standard_normal((2_999, 36)) @ draws.standard_normal((36, 21))

    spent, beside, peaks = in_turns(lambda: changes_over(counts, [np.ones(36)] * 12, whole, season=12), bare, 9)
    print(f"a trend of 12 categories over 36 months: {1000 * spent:.0f} ms (at most 100)")
    return Line("(j) trend of 12 categories over 36 months, NumPy's draws beside", spent, beside, peaks, 40.0)


def a_million() -> Line:
    """Review a million categories, once they are ranked, beside sorting their labels."""
    import random

    import vantric as vt
    from vantric.core.counts.pareto import pareto
    from vantric.core.counts.provenance import Provenance
    from vantric.core.counts.tally import make_tally

    dice = random.Random(1)
    labels = [f"item {dice.randrange(10**9)} {'abcdefghij'[at % 10]}" for at in range(1_000_000)]
    table = pareto(make_tally([(label, dice.randrange(1, 1000)) for label in labels], Provenance()))
    vt.review(table)
    spent, beside, peaks = in_turns(lambda: vt.review(table), lambda: sorted(labels), 3)
    print(f"review of a million categories: {spent:.2f} s (at most 2)")
    return Line("(i) review of a million categories, sorting their labels beside", spent, beside, peaks, 2.0)


def reading(folder: Path) -> list[Line]:
    """Time a column of "1,234.50 EUR" beside the same amounts written plainly, two million records of each."""
    import random

    import vantric as vt

    draw = random.Random(1)
    plain, styled = folder / "plain.csv", folder / "styled.csv"
    with plain.open("w", encoding="utf-8") as one, styled.open("w", encoding="utf-8") as other:
        one.write("defect,cost\n")
        other.write("defect,cost\n")
        for _ in range(2_000_000):
            label, cost = f"Defect {draw.randrange(40)}", draw.randrange(100, 999_999) / 100
            one.write(f"{label},{cost:.2f}\n")
            other.write(f'{label},"{cost:,.2f} EUR"\n')
    spent = in_turns(
        lambda: vt.tally(styled, "defect", weight="cost"), lambda: vt.tally(plain, "defect", weight="cost"), 5
    )
    return [Line("(h) a column with marks and a currency / a plain one", *spent, 2.0)]


def _growth(folder: Path) -> list[Line]:
    return [*growth(), *outputs(), *named_totals(), *wrong_cells()]


def _products(folder: Path) -> list[Line]:
    return [*products(folder), *log_of_millions(folder)]


def _alone(lines: Callable[[], list[Line]]) -> Callable[[Path], list[Line]]:
    """Return a group of lines that needs no folder."""
    return lambda folder: lines()


if __name__ == "__main__":
    sys.exit(
        main(
            [
                starts,
                _alone(whole_processes),
                _alone(drawing),
                _alone(vectors),
                _alone(in_memory),
                _alone(combinations),
                _alone(labels),
                _alone(tables),
                _alone(scales),
                reviewing,
                reading,
                handing,
                _growth,
                frames,
                pieces,
                _products,
            ],
            "bench",
        )
    )
