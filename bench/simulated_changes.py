"""Simulations of what is said of several sides: before and after, strata, two series, trends."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import numpy as np

from simulated import clustered_tally, drawn_sizes, shares
from vantric.core.counts.comparison import compare
from vantric.core.counts.tally import Tally
from vantric.core.statistics.changes import changes_of
from vantric.core.statistics.relation import relation_of
from vantric.core.statistics.significance_tests import chi_square
from vantric.core.statistics.strata import standing_out
from vantric.core.statistics.trend_tests import slope_of


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
            any_named = first_named = 0
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
                named = {row.category for row in changes_of(compare(*sides, exposures=(1, 2))).beyond}
                any_named += bool(named - ({"c0"} if ratio != 1 else set()))
                first_named += "c0" in named
            yield title, f"{mean}", f"{any_named / repetitions:.3f}", f"{first_named / repetitions:.3f}"


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


def trending(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often a trend is called significant, and how often its interval holds."""
    for periods in (6, 12, 36):
        for mean in (1, 10, 100):
            for kind, change in (("counts", 1.0), ("counts that vary more", 1.0), ("counts", 1.05)):
                rng = np.random.default_rng([periods, mean, len(kind), int(100 * change)])
                said = held = done = 0
                for _ in range(repetitions):
                    exposure = rng.uniform(0.5, 1.5, periods)
                    rate = mean * exposure * change ** np.arange(periods)
                    rate = rate * (rng.gamma(4, 0.25, periods) if kind != "counts" else 1.0)
                    found = slope_of(rng.poisson(rate).astype(float), exposure, np.ones(periods, bool), percent=False)
                    if found is None or found.low is None or found.high is None:
                        continue
                    done += 1
                    said += found.p <= 0.05
                    held += found.low <= change <= found.high
                yield (
                    kind,
                    f"{100 * (change - 1):.0f} %",
                    f"{periods}",
                    f"{mean}",
                    f"{said / max(done, 1):.3f}",
                    f"{held / max(done, 1):.3f}",
                )


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
