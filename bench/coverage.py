"""How often the statements hold: simulated, cell by cell of a grid, and written to docs/coverage.md.

Run ``python bench/coverage.py`` (about half an hour), or with ``--repetitions 200`` for a look. Every line of the
tables is a share of repetitions; the standard error of 0.95 at 4,000 of them is 0.0034.
"""

from __future__ import annotations

import argparse
import math
import time
from collections.abc import Callable, Iterable
from pathlib import Path

import numpy as np

from vantric.core.counting.origin import Missing, Origin
from vantric.core.counting.spread import Moments
from vantric.core.counting.spread import single as spread_of_single
from vantric.core.counting.tally import Tally
from vantric.core.inference.chances import _last_inside, vital_chances
from vantric.core.inference.evenness import even_band, evenness_of
from vantric.core.inference.intervals import binomial_limits, rate_intervals, share_intervals
from vantric.core.inference.ranking import first_against_second, rank_ranges
from vantric.core.inference.relation import relation_of
from vantric.core.inference.sample import Sample, sample_of
from vantric.core.inference.slope import slope_of
from vantric.core.numbers.amounts import Amounts

SHAPES = ("even", "Zipf", "one dominant", "half rare", "empty")
SIZES, RECORDS = (2, 5, 8, 24, 50), (1, 5, 20, 100, 1_000, 10_000)
NOMINAL = 0.95


def shares(shape: str, size: int) -> np.ndarray:
    """Return true shares."""
    if shape == "even":
        found = np.ones(size)
    elif shape == "Zipf":
        found = 1 / np.arange(1, size + 1)
    elif shape == "one dominant":
        found = np.array([9.0 * max(size - 1, 1), *np.ones(size - 1)])
    elif shape == "half rare":
        found = np.where(np.arange(size) < (size + 1) // 2, 1.0, 0.01)
    else:
        found = np.where(np.arange(size) < max(1, size // 2), 1.0, 0.0)
    return found / found.sum()


def plain(counts: np.ndarray) -> Sample:
    """Return counts of single records as a sample."""
    total = float(counts.sum())
    every = np.ones(len(counts))
    return Sample(counts.astype(np.float64), total * every, every, total, total, "records")


def true_ranks(truth: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the first and the last rank that equal truths may have."""
    above = (truth[None, :] > truth[:, None] * (1 + 1e-12)).sum(axis=1)
    below = (truth[None, :] < truth[:, None] * (1 - 1e-12)).sum(axis=1)
    return 1 + above, len(truth) - below


def ranks_hold(sample: Sample, truth: np.ndarray) -> bool:
    """Whether no range of ranks lies wholly beside the true ones."""
    order = np.argsort(-sample.values, kind="stable")
    first, last = rank_ranges(sample.take(order))
    low, high = true_ranks(truth[order])
    return bool(np.all((first <= high) & (last >= low)))


def single(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield coverage of shares and ranks, and the width of intervals, of single records."""
    for shape in SHAPES:
        for size in SIZES:
            for records in RECORDS:
                rng = np.random.default_rng([size, records, SHAPES.index(shape)])
                truth = shares(shape, size)
                tables = rng.multinomial(records, truth, size=repetitions)
                low, high = binomial_limits(tables, float(records), 1 - (1 - NOMINAL) / size)
                held = np.all((low <= truth) & (truth <= high), axis=1)
                if not np.allclose(share_intervals(plain(tables[0])), (low[0], high[0])):
                    raise AssertionError("the grid does not measure what the product does")
                ranks = np.mean([ranks_hold(plain(table), truth) for table in tables])
                yield shape, f"{size}", f"{records:,}", f"{held.mean():.3f}", f"{ranks:.3f}"


def drawn_sizes(kind: str, number: int, rng: np.random.Generator) -> np.ndarray:
    """Return how many pieces records stand for."""
    if kind == "2 to 10":
        return rng.integers(2, 11, number)
    return rng.geometric(1 / float(kind), number)


def clustered_tally(labels: np.ndarray, pieces: np.ndarray, size: int) -> Tally:
    """Return the tally of records that stand for several pieces."""
    names = tuple(f"c{at}" for at in range(size))
    sums = np.bincount(labels, pieces, size)
    squares, records = np.bincount(labels, pieces.astype(float) ** 2, size), np.bincount(labels, minlength=size)
    moments = {n: Moments(int(r), float(s), float(s)) for n, r, s in zip(names, records, squares, strict=True)}
    return Tally(names, Amounts.of(sums.astype(np.int64)), Missing(), Origin(count="pieces"),
                 spread=spread_of_single(moments))  # fmt: skip


def clustered(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield coverage of shares and ranks of records that stand for several pieces."""
    for records in (30, 100, 1_000):
        for size in (2, 8, 24):
            for shape in ("even", "Zipf", "one dominant"):
                for kind in ("2", "5", "10", "2 to 10"):
                    for grows in (False, True):
                        yield _clustered_cell(records, size, shape, kind, grows, repetitions)


def _clustered_cell(
    records: int, size: int, shape: str, kind: str, grows: bool, repetitions: int
) -> tuple[str, ...]:  # fmt: skip
    rng = np.random.default_rng([records, size, len(shape), len(kind), int(grows)])
    of_records = shares(shape, size)
    larger = np.linspace(1, 3, size) if grows else np.ones(size)
    base = drawn_sizes(kind, 400_000, rng)
    means = np.array([np.ceil(base * one).mean() for one in larger])
    truth = of_records * means / (of_records * means).sum()
    held = ranked = 0
    for _ in range(repetitions):
        labels = rng.choice(size, size=records, p=of_records)
        pieces = np.ceil(drawn_sizes(kind, records, rng) * larger[labels])
        sample = sample_of(clustered_tally(labels, pieces, size), NOMINAL)
        low, high = share_intervals(sample)
        held += bool(np.all((low <= truth) & (truth <= high)))
        ranked += ranks_hold(sample, truth)
    sizes = f"{kind}, larger for some" if grows else kind
    return f"{records:,}", f"{size}", shape, sizes, f"{held / repetitions:.3f}", f"{ranked / repetitions:.3f}"


def rates(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield coverage of rates with unequal exposures."""
    for mean in (0.5, 3, 30, 300):
        for size in (2, 8, 24):
            rng = np.random.default_rng([int(10 * mean), size])
            exposure = np.linspace(1, 5, size)
            rate = mean * shares("Zipf", size) * size / 3
            held = ranked = 0
            for _ in range(repetitions):
                counts = rng.poisson(rate * exposure).astype(np.float64)
                if not counts.sum():
                    held, ranked = held + 1, ranked + 1
                    continue
                sample = Sample(counts, counts, np.ones(size), counts.sum(), counts.sum(), "records", exposure)
                low, high = rate_intervals(sample)
                held += bool(np.all((low <= rate) & (rate <= high)))
                order = np.argsort(-counts / exposure, kind="stable")
                first, last = rank_ranges(sample.take(order))
                best, worst = true_ranks(rate[order])
                ranked += bool(np.all((first <= worst) & (last >= best)))
            yield f"{mean:g}", f"{size}", f"{held / repetitions:.3f}", f"{ranked / repetitions:.3f}"


def first(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often "the most frequent" is said, and how often of the wrong one."""
    for name, truth in {
        "0.44 against 0.34": [0.44, 0.34, 0.22],
        "0.40 against 0.20": [0.4, *[0.2] * 3],
        "two level": [0.4, 0.4, 0.2],
        "eight level": [1 / 8] * 8,
        "one of 24 ahead": [0.12, *[0.88 / 23] * 23],
    }.items():
        for records in (20, 200, 1_000):
            rng = np.random.default_rng([records, len(name)])
            tables = -np.sort(-np.column_stack([rng.multinomial(records, truth, size=repetitions)]), axis=1)
            raw = np.random.default_rng([records, len(name)]).multinomial(records, truth, size=repetitions)
            said = np.array([first_against_second(plain(table)) <= 0.05 for table in tables])
            best = np.isclose(np.array(truth)[raw.argmax(axis=1)], max(truth)) & (
                np.isclose(truth, max(truth)).sum() == 1
            )
            yield name, f"{records:,}", f"{(said & best).mean():.3f}", f"{(said & ~best).mean():.3f}"


def compared(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often a comparison names a category, where nothing changed."""
    cells = [(f"no change, {name}", kind, n, one, one)
             for name, one in (("even", shares("even", 8)), ("Zipf", shares("Zipf", 8)),
                               ("one dominant", shares("one dominant", 24)))
             for kind in ("1", "2", "5", "10", "2 to 10") for n in (50, 200, 1_000)]  # fmt: skip
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
    from vantric.core.counting.comparison import compare
    from vantric.core.inference.changes import changes_of

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
    from vantric.core.counting.comparison import compare
    from vantric.core.inference.changes import changes_of

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
                sides = [clustered_tally(np.repeat(np.arange(8), side), np.ones(side.sum(), dtype=np.int64), 8)
                         for side in (before, after)]  # fmt: skip
                named = {row.category for row in changes_of(compare(*sides, exposures=(1, 2))).beyond}
                any_named += bool(named - ({"c0"} if ratio != 1 else set()))
                first_named += "c0" in named
            yield title, f"{mean}", f"{any_named / repetitions:.3f}", f"{first_named / repetitions:.3f}"


def calibrated(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how far chances are from how often they come true, for truths drawn from a Dirichlet distribution."""
    for prior in (0.5, 1.0, 2.0):
        for size in (5, 12, 24):
            for records in (20, 100, 1_000):
                rng = np.random.default_rng([size, records, int(2 * prior)])
                said, true = [], []
                for _ in range(repetitions):
                    truth = rng.dirichlet(np.full(size, prior))
                    counts = rng.multinomial(records, truth)
                    order = np.argsort(-counts, kind="stable")
                    said.append(vital_chances(plain(counts[order]), 80.0, "reach", rng, most=500))
                    true.append((truth >= _last_inside(truth[None, :], 80.0, "reach")[0])[order])
                chances, came = np.concatenate(said), np.concatenate(true)
                bins = np.minimum((chances * 10).astype(int), 9)
                off = [abs(chances[bins == at].mean() - came[bins == at].mean())
                       for at in range(10) if (bins == at).sum() >= 200]  # fmt: skip
                yield f"{prior:g}", f"{size}", f"{records:,}", f"{max(off, default=0.0):.3f}"


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
        for period, n in (("", 8), ("", 20), ("", 60), ("year", 20), ("quarter", 24), ("month", 36), ("month", 60),
                          ("month", 120)):  # fmt: skip
            if not period and name != "noise":
                continue  # pairs without an order
            if (period == "year" and "season" in name) or (period == "quarter" and "season" in name):
                continue
            rng = np.random.default_rng([n, len(name), len(period)])
            verdicts = [relation_of(*make(rng, n), names=("a", "b"), period=period or None).verdict
                        for _ in range(repetitions)]  # fmt: skip
            share = np.mean([one == "related" for one in verdicts])
            yield name, period or "pairs", f"{n}", f"{share:.3f}"


def trending(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often a trend is called beyond chance, and how often its interval holds."""
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
                yield (kind, f"{100 * (change - 1):.0f} %", f"{periods}", f"{mean}", f"{said / max(done, 1):.3f}",
                       f"{held / max(done, 1):.3f}")  # fmt: skip


def even(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often the test of evenness rejects what is even, and how often a bar leaves the band then."""
    for size in (3, 8, 24, 50):
        for records in (20, 200, 2_000):
            rng = np.random.default_rng([size, records])
            low, high = even_band(plain(np.full(size, records / size)), NOMINAL, rng) or (np.zeros(size), np.ones(size))
            rejected = outside = 0
            for counts in rng.multinomial(records, np.full(size, 1 / size), size=repetitions):
                rejected += evenness_of(plain(np.sort(counts)[::-1]), rng).p <= 0.05
                ranked = np.sort(counts)[::-1] / records
                outside += bool(np.any((ranked < low - 1e-12) | (ranked > high + 1e-12)))
            yield f"{size}", f"{records:,}", f"{rejected / repetitions:.3f}", f"{outside / repetitions:.3f}"


TABLES: dict[str, tuple[str, tuple[str, ...], Callable[[int], Iterable[tuple[str, ...]]]]] = {
    "single": ("Single records: all intervals, and all ranges of ranks, hold at once",
               ("Shares", "Categories", "Records", "Intervals", "Ranks"), single),
    "clustered": ("Records that stand for several pieces",
                  ("Records", "Categories", "Shares", "Pieces a record", "Intervals", "Ranks"), clustered),
    "rates": ("Rates, exposures from 1 to 5", ("Mean count", "Categories", "Intervals", "Ranks"), rates),
    "compared": ("Before and after, shares: how often a category is named beyond chance",
                 ("Truth", "Pieces a record", "Records a side", "Any", "The first", "Mix differs"), compared),
    "power": ("Before and after, shares: the one that changed is named (Fisher's own: 0.196, 0.757)",
              ("Truth", "Pieces a record", "Records a side", "Any", "The first", "Mix differs"), power),
    "compared rates": ("Before and after, rates: the second side has twice the exposure",
                       ("Truth", "Mean count", "Any that did not change", "The first"), compared_rates),
    "calibrated": ("Chances to be vital: the largest distance of a tenth from how often it comes true",
                   ("Truth: Dirichlet", "Categories", "Records", "Distance"), calibrated),
    "even": ("Evenness, where all categories are equally likely",
             ("Categories", "Records", "Test rejects", "A bar leaves the band"), even),
    "related": ("Two series: how often they are called related",
                ("Series", "In time", "Values", "Related"), related),
    "trending": ("Trends of one category",
                 ("What", "Change a period", "Periods", "Mean count", "Called a trend", "Interval holds"), trending),
    "first": ("The most frequent", ("Shares", "Records", "Said rightly", "Said wrongly"), first),
}  # fmt: skip


#: Table -> by how much fewer repetitions it has: each cell of these takes seconds.
_SLOW = {"compared": 4, "calibrated": 4, "even": 4, "related": 2}


_HEAD = """# How often the statements hold

Simulated by `python bench/coverage.py --to docs/coverage.md`; every number is a share of repetitions, each with its own
seed. Intervals and ranks are to hold at once in at least 0.95 of them, less three standard errors (0.940 at 4,000
repetitions); what is called beyond chance where nothing is, in at most 0.05. What each method is, is in
[certainty.md](certainty.md).

"""


def main() -> None:
    """Simulate, print, and write the page."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--repetitions", type=int, default=4_000)
    parser.add_argument("--only", choices=[*TABLES], nargs="*", default=[*TABLES])
    parser.add_argument("--to", type=Path)
    asked = parser.parse_args()
    lines: list[str] = []
    for name in asked.only:
        title, head, work = TABLES[name]
        began = time.perf_counter()
        done = max(100, asked.repetitions // _SLOW.get(name, 1))
        lines += [
            f"## {title}",
            "",
            f"{done:,} repetitions a line.",
            "",
            "| " + " | ".join(head) + " |",
            "|---" * len(head) + "|",
        ]
        for row in work(max(100, asked.repetitions // _SLOW.get(name, 1))):
            lines.append("| " + " | ".join(row) + " |")
            print(*row, sep="  ", flush=True)
        print(f"{name}: {time.perf_counter() - began:.0f} s; standard error at 0.95: "
              f"{math.sqrt(0.95 * 0.05 / asked.repetitions):.4f}")  # fmt: skip
        lines.append("")
    if asked.to:
        asked.to.write_text(_HEAD + "\n".join(lines).rstrip() + "\n")


if __name__ == "__main__":
    main()
