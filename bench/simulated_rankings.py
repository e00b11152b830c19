"""Simulations of what is said of one table: intervals, ranks, the most frequent, the vital few, evenness."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import numpy as np

import vantric as vt
from simulated import NOMINAL, SHAPES, clustered_tally, drawn_sizes, plain, ranks_hold, shares, true_ranks
from vantric.core.counts.tally import Repeats
from vantric.core.statistics.ranks import even_band, evenness_of, first_against_second, rank_ranges, vital_few
from vantric.core.statistics.sample import (
    Sample,
    binomial_limits,
    occurrences,
    rate_intervals,
    sample_of,
    share_intervals,
)

SIZES, RECORDS = (2, 5, 8, 24, 50), (1, 5, 20, 100, 1_000, 10_000)


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


def clustered(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield coverage of shares and ranks of records that stand for several pieces."""
    for records in (30, 100, 1_000):
        for size in (2, 8, 24):
            for shape in ("even", "Zipf", "one dominant"):
                for kind in ("2", "5", "10", "2 to 10"):
                    for grows in (False, True):
                        yield _clustered_cell(records, size, shape, kind, grows, repetitions)


def _clustered_cell(records: int, size: int, shape: str, kind: str, grows: bool, repetitions: int) -> tuple[str, ...]:
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


_TRUTHS = {
    "Zipf, 8": shares("Zipf", 8),
    "Zipf, 50": shares("Zipf", 50),
    "even, 2": shares("even", 2),
    "even, 4": shares("even", 4),
    "even, 12": shares("even", 12),
    "one dominant, 10": shares("one dominant", 10),
    "half rare, 24": shares("half rare", 24),
    "tie inside": np.array([0.4, 0.4, 0.2]),
    "tie at the cutoff": np.array([0.5, 0.2, 0.2, 0.1]),
    "sum just below": np.array([0.5, 0.299, 0.101, 0.06, 0.04]),
    "sum just above": np.array([0.5, 0.301, 0.1, 0.06, 0.039]),
    "sum on the cutoff": np.array([0.5, 0.3, 0.1, 0.06, 0.04]),
    "dominant just below": np.array([0.799, 0.1, 0.06, 0.041]),
    "four and a rest": np.array([*[0.2005] * 4, 0.198]),
}


def vital(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often anything is wrong that is said to be sure of the vital few, and how much is left open."""
    for name, truth in _TRUTHS.items():
        before = np.array([truth[truth > own + 1e-12].sum() for own in truth])
        is_vital = {"reach": before < 0.8 - 1e-12, "within": before + truth <= 0.8 + 1e-12}
        for records in (1, 20, 100, 1_000, 10_000):
            for kind in ("1", "5"):
                rng = np.random.default_rng([records, len(name), int(kind)])
                wrong, still_open = dict.fromkeys(is_vital, 0), 0.0
                for _ in range(repetitions):
                    sample = _drawn(truth, records, kind, rng)
                    order = np.argsort(-sample.values, kind="stable")
                    for rule, really in is_vital.items():
                        state, right = vital_few(sample.take(order), 80.0, rule), really[order]
                        wrong[rule] += bool(np.any((state > 0) & ~right | (state < 0) & right))
                        still_open += (state == 0).mean() / 2
                shares_of = [count / repetitions for count in (*wrong.values(), still_open)]
                yield name, f"{records:,}", kind, *(f"{share:.3f}" for share in shares_of)


def _drawn(truth: np.ndarray, records: int, kind: str, rng: np.random.Generator) -> Sample:
    """Return records of that mix as a sample: of one piece each, or of several."""
    if kind == "1":
        return plain(rng.multinomial(records, truth))
    labels = rng.choice(len(truth), size=records, p=truth)
    return sample_of(clustered_tally(labels, drawn_sizes(kind, records, rng), len(truth)))


#: How the counts of a sheet come about: given the shares, the columns, and the mean of a column.
_SHEETS: dict[str, Callable[[np.random.Generator, np.ndarray, int, int], np.ndarray]] = {
    "independent": lambda rng, share, m, mean: rng.multinomial(rng.poisson(mean, m), share),
    "mix varies a little": lambda rng, share, m, mean: _mixed(rng, share, m, mean, 100),
    "mix varies": lambda rng, share, m, mean: _mixed(rng, share, m, mean, 30),
    "lots of 5 inside": lambda rng, share, m, mean: 5 * rng.multinomial(rng.poisson(mean / 5, m), share),
    "lots of unequal size": lambda rng, share, m, mean: np.array(
        [[np.ceil(rng.lognormal(1, 1, rng.poisson(mean / 5 * one))).sum() for one in share] for _ in range(m)]
    ),
}


def _mixed(rng: np.random.Generator, share: np.ndarray, columns: int, mean: int, alike: int) -> np.ndarray:
    return np.array([rng.multinomial(rng.poisson(mean), rng.dirichlet(alike * share)) for _ in range(columns)])


def sheets(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often statements of sheets hold whose occurrences may belong together, unseen."""
    for name, make in _SHEETS.items():
        for size, columns, mean in ((5, 2, 300), (5, 4, 200), (5, 12, 500), (8, 12, 60), (3, 24, 100)):
            rng = np.random.default_rng([size, columns, mean, len(name)])
            share = shares("Zipf", size)
            before = np.array([share[share > own].sum() for own in share])
            labels = tuple(f"c{at}" for at in range(size))
            held = plain_held = ranked = wrong = 0
            for _ in range(repetitions):
                table = make(rng, share, columns, mean).T.astype(np.float64)
                counts = table.sum(axis=1)
                if not counts.sum():
                    continue
                repeats = Repeats("", {label: tuple(row) for label, row in zip(labels, table, strict=True)})
                sample = occurrences(counts, labels, [repeats], NOMINAL)
                low, high = share_intervals(sample)
                held += bool(np.all((low <= share) & (share <= high)))
                low, high = share_intervals(plain(counts))
                plain_held += bool(np.all((low <= share) & (share <= high)))
                ranked += ranks_hold(sample, share)
                order = np.argsort(-counts, kind="stable")
                state, really = vital_few(sample.take(order), 80.0, "reach"), (before < 0.8 - 1e-12)[order]
                wrong += bool(np.any((state > 0) & ~really | (state < 0) & really))
            told = (held, plain_held, ranked, wrong)
            yield name, f"{size}", f"{columns}", f"{mean}", *(f"{count / repetitions:.3f}" for count in told)


def concentrated(repetitions: int) -> Iterable[tuple[str, ...]]:
    """Yield how often the intervals of the effective number and of Gini's coefficient hold."""
    for shape in SHAPES:
        for size in (3, 8, 24):
            for records in (20, 200, 2_000):
                rng = np.random.default_rng([size, records, SHAPES.index(shape)])
                truth = shares(shape, size)
                names = [f"c{at}" for at in range(size)]
                effective = 1 / float((truth**2).sum())
                ordered = np.sort(truth)
                gini = float(((2 * np.arange(1, size + 1) - size - 1) * ordered).sum()) / size
                held = [0, 0]
                for counts in rng.multinomial(records, truth, size=repetitions):
                    table = dict(zip(names, counts.tolist(), strict=True))
                    found = vt.pareto(table, keep_totals=True).concentration()
                    for at, (value, ends) in enumerate(
                        ((effective, found.effective_interval), (gini, found.gini_interval))
                    ):
                        held[at] += ends[0] - 1e-9 <= value <= ends[1] + 1e-9
                yield shape, f"{size}", f"{records:,}", *(f"{count / repetitions:.3f}" for count in held)


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
