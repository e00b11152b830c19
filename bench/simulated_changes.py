"""Simulations of what is said of several sides: before and after, strata, two series, trends."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable

import numpy as np

from simulated import clustered_tally, drawn_sizes, shares
from vantric.core.counts.comparison import compare
from vantric.core.counts.tally import Tally
from vantric.core.statistics.changes import changes_of
from vantric.core.statistics.control_charts import control_chart
from vantric.core.statistics.relation import relation_of
from vantric.core.statistics.significance_tests import chi_square
from vantric.core.statistics.strata import standing_out
from vantric.core.statistics.trend_tests import changes_over


def compared(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often a comparison names a category, where nothing changed."""
    cells = [
        (f"no change, {name}", kind, n, one, one)
        for name, one in (
            ("even", shares("even", 8)),
            ("Zipf", shares("Zipf", 8)),
            ("one dominant", shares("one dominant", 24)),
        )
        for kind in ("1", "2", "5", "10", "2 to 10")
        for n in (50, 200, 1_000)
    ]
    yield from _compared(cells, repetitions)


def power(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often a comparison of ten categories names the one that changed."""
    cells = []
    for one, other in ((0.34, 0.44), (0.60, 0.42)):
        sides = [np.array([share, *[(1 - share) / 9] * 9]) for share in (one, other)]
        cells.append((f"{one:.2f} to {other:.2f}", "1", 200, *sides))
    yield from _compared(cells, repetitions)


def _compared(
    cells: Iterable[tuple[str, str, int, np.ndarray, np.ndarray]], repetitions: int
) -> Iterable[tuple[str, ...]]:
    for title, kind, records, one, other in cells:
        rng = np.random.default_rng([records, len(title), len(kind), len(one)])
        any_named = first_named = mixed = 0
        for _ in range(repetitions):
            changes = changes_of(compare(*(_side(rng, share, records, kind) for share in (one, other))))
            named = {row.category for row in changes.beyond}
            any_named += bool(named)
            first_named += "c0" in named
            mixed += changes.mix_differs
        counts = (any_named, first_named, mixed)
        yield (title, kind, f"{records:,}", *(f"{count / repetitions:.3f}" for count in counts))


def _side(rng: np.random.Generator, share: np.ndarray, records: int, kind: str) -> Tally:
    labels = rng.choice(len(share), size=records, p=share)
    pieces = np.ones(records, dtype=np.int64) if kind == "1" else drawn_sizes(kind, records, rng)
    return clustered_tally(labels, pieces, len(share))


def compared_rates(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often a comparison of rates names a category, where nothing changed and where one did."""
    for title, ratio in (("no change", 1.0), ("first falls to 0.7", 0.7)):
        for mean in (3, 30, 300):
            rng = np.random.default_rng([mean, int(10 * ratio)])
            any_named = first_named = total_named = total_held = 0
            for _ in range(repetitions):
                rate = mean * shares("Zipf", 8) * 8
                before = rng.poisson(rate)
                after = rng.poisson(2 * rate * np.array([ratio, *[1.0] * 7]))
                if not before.sum() or not after.sum():
                    continue
                sides = [
                    clustered_tally(np.repeat(np.arange(8), side), np.ones(side.sum(), dtype=np.int64), 8)
                    for side in (before, after)
                ]
                changes = changes_of(compare(*sides, exposures=(1, 2)))
                named = {row.category for row in changes.beyond}
                true = 1 - (1 - ratio) * float(shares("Zipf", 8)[0])
                if changes.total is not None:
                    total_named += changes.total.beyond_chance
                    total_held += changes.total.low <= true <= (changes.total.high or np.inf)
                any_named += bool(named - ({"c0"} if ratio != 1 else set()))
                first_named += "c0" in named
            told = (any_named, first_named, total_named, total_held)
            yield title, f"{mean}", *(f"{count / repetitions:.3f}" for count in told)


def related(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often two independent series are called related, and two that are."""

    def noise(rng: np.random.Generator, n: int) -> np.ndarray:
        return rng.normal(size=(2, n))

    def alike(rng: np.random.Generator, n: int) -> np.ndarray:
        one = rng.normal(size=n)
        return np.cumsum(np.stack([one, 0.7 * one + 0.7 * rng.normal(size=n)]), axis=1)

    def lagging(rng: np.random.Generator, n: int) -> np.ndarray:
        found, drawn = np.zeros((2, n)), noise(rng, n)
        for at in range(1, n):
            found[:, at] = 0.6 * found[:, at - 1] + drawn[:, at]
        return found

    season = np.sin(2 * np.pi * np.arange(240) / 12)
    makers: dict[str, Callable[[np.random.Generator, int], np.ndarray]] = {
        "noise": noise,
        "random walks": lambda rng, n: np.cumsum(noise(rng, n), axis=1),
        "trends": lambda rng, n: noise(rng, n) + 0.3 * np.arange(n),
        "curved trends": lambda rng, n: noise(rng, n) + 0.01 * np.arange(n) ** 2,
        "a shared season": lambda rng, n: noise(rng, n) + 3 * season[:n],
        "walks with a season": lambda rng, n: np.cumsum(noise(rng, n), axis=1) + 3 * season[:n],
        "straight lines from 10": lambda rng, n: 10 + 2 * np.arange(n) + 0.2 * noise(rng, n),
        "a growing season": lambda rng, n: 500 + (5 + 0.3 * np.arange(n)) * np.tile(season, 2)[:n] + noise(rng, n),
        "a season in percent, growing": lambda rng, n: (
            100 * (1 + 0.02 * np.arange(n)) * (1 + 0.3 * season[:n]) * np.exp(0.04 * noise(rng, n))
        ),
        "lagging": lagging,
        "heavy tails": lambda rng, n: np.cumsum(rng.standard_t(2, size=(2, n)), axis=1),
        "related changes": alike,
    }
    for name, make in makers.items():
        for period, n in (
            ("", 8),
            ("", 20),
            ("", 60),
            ("year", 20),
            ("quarter", 24),
            ("month", 36),
            ("month", 60),
            ("month", 120),
        ):
            if not period and name != "noise":
                continue  # pairs without an order
            if (period == "year" and "season" in name) or (period == "quarter" and "season" in name):
                continue
            rng = np.random.default_rng([n, len(name), len(period)])
            verdicts = [
                relation_of(*make(rng, n), names=("a", "b"), period=period or None).verdict for _ in range(repetitions)
            ]
            share = np.mean([one == "related" for one in verdicts])
            yield name, period or "pairs", f"{n}", f"{share:.3f}"


def _follows(rng: np.random.Generator, periods: int, correlation: float) -> np.ndarray:
    """Return an autoregression of first order with a standard deviation of 0.3."""
    walk, noise = np.zeros(periods + 100), rng.normal(size=periods + 100)
    for at in range(1, len(walk)):
        walk[at] = correlation * walk[at - 1] + noise[at]
    return 0.3 * np.sqrt(1 - correlation**2) * walk[100:]


#: What the mean of a period is, as a factor of that of all.
_COURSES: dict[str, Callable[[np.random.Generator, int], np.ndarray]] = {
    "level": lambda rng, m: np.ones(m),
    "level, varies more": lambda rng, m: rng.gamma(3, 1 / 3, m),
    "season": lambda rng, m: 1 + 0.5 * np.sin(2 * np.pi * (np.arange(m) + rng.uniform(0, 12)) / 12),
    "neighbors 0.5": lambda rng, m: np.exp(_follows(rng, m, 0.5)),
    "neighbors 0.9": lambda rng, m: np.exp(_follows(rng, m, 0.9)),
    "rises 3% a month": lambda rng, m: np.exp(0.03 * (np.arange(m) - m / 2)),
    "one step, 0.7 to 1.3": lambda rng, m: np.where(np.arange(m) < m // 2, 0.7, 1.3),
}


def trending(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often a category is said to change, and in what shape; months, one category."""
    for name, course in _COURSES.items():
        for periods in (12, 24, 60):
            for mean in (3, 20, 50):
                rng = np.random.default_rng([periods, mean, len(name)])
                shapes: Counter[str] = Counter()
                for _ in range(repetitions):
                    counts = rng.poisson(mean * course(rng, periods)).astype(float)
                    (found,) = changes_over([counts], [np.ones(periods)], np.ones(periods, bool), season=12)
                    shapes[found.shape if found else "none"] += 1
                said = [shapes[shape] / repetitions for shape in ("steady", "step", "either", "neither", "drift")]
                yield name, f"{periods}", f"{mean}", *(f"{share:.3f}" for share in (sum(said[:4]), *said))


def trending_together(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often anything is said to change of ten categories of which none does, counts and shares."""
    for name in ("level", "level, varies more"):
        for periods in (8, 12, 36):
            for mean in (1, 5, 30):
                for share in ("counts", "shares of 60"):
                    rng = np.random.default_rng([periods, mean, len(name), len(share)])
                    wrong = missed = 0
                    for _ in range(repetitions):
                        found = changes_over(
                            *_ten(rng, name, periods, mean, share), season=12, percent=share != "counts"
                        )
                        wrong += any(one is not None and one.significant for one in found)
                        ends = [one.slope for one in found if one is not None and one.slope is not None]
                        missed += any(not low <= 1 <= high for _, low, high in ends)
                    yield (
                        name,
                        share,
                        f"{periods}",
                        f"{mean}",
                        f"{wrong / repetitions:.3f}",
                        f"{missed / repetitions:.3f}",
                    )


def _ten(rng: np.random.Generator, name: str, periods: int, mean: int, share: str) -> tuple[list, list, np.ndarray]:
    """Return counts of ten categories, their bases, and that all periods are whole."""
    levels = [mean * _COURSES[name](rng, periods) for _ in range(10)]
    if share == "counts":
        return [rng.poisson(one).astype(float) for one in levels], [np.ones(periods)] * 10, np.ones(periods, bool)
    counts = [rng.binomial(60, np.clip(one / 60, 0, 1)).astype(float) for one in levels]
    return counts, [np.full(periods, 60.0)] * 10, np.ones(periods, bool)


def charted(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how many signals a chart of what does not change has, how many are expected, and how often any."""
    for kind, means in (("c", (0.3, 3, 20, 300)), ("p", (1, 10, 30))):
        for mean in means:
            for periods in (12, 24, 52):
                rng = np.random.default_rng([periods, int(10 * mean), ord(kind)])
                signals, expected = np.zeros(repetitions), 0.0
                for at in range(repetitions):
                    counts = rng.poisson(mean, periods) if kind == "c" else rng.binomial(60, mean / 60, periods)
                    basis = np.full(periods, 1.0 if kind == "c" else 60.0)
                    chart = control_chart(counts.astype(float), basis, np.ones(periods, bool), percent=kind == "p")
                    signals[at], expected = len(chart.signals), expected + chart.expected
                shares = (signals.mean(), expected / repetitions, (signals > 0).mean())
                yield kind, f"{mean:g}", f"{periods}", *(f"{share:.4f}" for share in shares)


def strata(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often strata of one mix are said to differ, a cell to stand out, a lead to turn round."""
    for shape in ("even", "Zipf", "one dominant"):
        for size, columns in ((3, 2), (8, 4), (24, 4)):
            for records in (60, 400, 4_000):
                rng = np.random.default_rng([size, columns, records, len(shape)])
                widths = np.linspace(1, 4, columns)
                sides = (records * widths / widths.sum()).astype(int)
                said = np.zeros(3)
                for _ in range(repetitions):
                    counts = np.array([rng.multinomial(side, shares(shape, size)) for side in sides], dtype=float).T
                    counts = counts[counts.sum(axis=1) > 0]
                    if min(counts.shape) < 2:
                        continue
                    p = chi_square(counts, rng)[1]
                    names = [f"c{at}" for at in range(len(counts))]
                    cells, turned = standing_out(counts, names, [f"s{at}" for at in range(columns)], p)
                    said += (p <= 0.05, bool(cells), bool(turned))
                yield shape, f"{size} x {columns}", f"{records:,}", *(f"{one / repetitions:.3f}" for one in said)
