"""Every statement, rendered on many tables, sparse ones among them, and read against its verdict."""

from __future__ import annotations

import ast
import re
import unittest
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np

import vantric as vt
from vantric.core.messages.formatter import Composed
from vantric.core.messages.languages import language
from vantric.core.messages.message import Message
from vantric.core.statistics.changes import changes_of
from vantric.core.statistics.relation import relation_of, together
from vantric.core.statistics.strata import strata_of
from vantric.errors import RankError

SOURCE = Path(vt.__file__).parent
KEYS = set(language("en").messages)
#: What would say more than the data do.
TOO_MUCH = re.compile(
    r"no change\b|did not change|unchanged|stayed the same|no difference|no relation\b(?! between)|100%"
)
NAMES = ("Pinhole", "Crack", "Chip", "Warping", "Stain", "Speck", "Dent", "Bubble")
#: Twenty tables: sparse, even, steep, tied, dominated, large.
TABLES: tuple[tuple[int, ...], ...] = tuple(
    tuple(map(int, counts.split(",")))
    for counts in [
        "1",
        "1,1",
        "2,1",
        "5,0",
        "3,2,1",
        "1,1,1,1",
        "9,1,1",
        "12,4",
        "40,40,5",
        "42,22,9,3",
        "0,7,7,2",
        "30,28,27,26",
        "100,1,1,1,1",
        "88,61,44,38,3",
        "500,300,200",
        "600,250,150",
        "5,4,3,2,1,1,1,1",
        "800,500,2",
        "10000,9000,50,20",
        "123456,7,3",
    ]
)


def labels_of(counts: tuple[int, ...]) -> list[str]:
    """Return a record an occurrence."""
    return [name for name, number in zip(NAMES, counts, strict=False) for _ in range(number)]


def small(counts: tuple[int, ...]) -> tuple[int, ...]:
    """Return counts that are quickly listed."""
    return tuple(min(number, 900) for number in counts)


def rows_of(counts: tuple[int, ...], column: str, value: str) -> dict[str, list[str]]:
    labels = labels_of(small(counts))
    return {"d": labels, column: [value] * len(labels)}


def logs() -> Iterator[tuple[str, dict[str, list[Any]]]]:
    """Yield logs of months: level, risen, stepped, drifting, sparse, of two years and more."""
    rng = np.random.default_rng(7)
    walk = np.cumsum(rng.normal(0, 0.25, 40))
    courses = {
        "level": (12, lambda month: (12, 8)),
        "level, two years": (24, lambda month: (12, 8)),
        "one alone": (12, lambda month: (15,)),
        "rising": (48, lambda month: (round(6 * 1.05**month), 9)),
        "falling": (48, lambda month: (round(90 * 0.95**month), 9)),
        "a step": (30, lambda month: (12 if month < 15 else 40, 9, 7)),
        "a step of one": (30, lambda month: (12 if month < 15 else 40,)),
        "either": (12, lambda month: (4 if month < 6 else 20, 9)),
        "neither": (40, lambda month: (round(5 * 1.04**month) + (40 if 12 <= month < 18 else 0), 9)),
        "drifting": (40, lambda month: (round(40 * np.exp(walk[month])), 30)),
        "sparse": (10, lambda month: (int(month % 3 == 0), int(month == 4))),
        "a spike": (14, lambda month: (90 if month == 6 else 9, 9)),
        "many steps": (30, lambda month: (10 if month < 15 else 40,) * 5),
        "short": (3, lambda month: (9, 5)),
    }
    for name, (months, counts) in courses.items():
        log: dict[str, list[Any]] = {"d": [], "t": []}
        for month in range(months):
            for label, number in zip(NAMES, counts(month), strict=False):
                log["d"] += [label] * number
                log["t"] += [f"{2021 + month // 12}-{month % 12 + 1:02d}-{1 + at % 28:02d}" for at in range(number)]
        yield name, log


def ids_of(text: Any) -> Iterator[str]:
    """Yield the ids of all messages in a text."""
    if isinstance(text, Message):
        yield str(text.args[0])
    parts = (*text.args, *text.values.values()) if isinstance(text, Composed) else ()
    for part in parts:
        yield from ids_of(part)
        for item in getattr(part, "items", ()) if not isinstance(part, (str, dict)) else ():
            yield from ids_of(item)
        if isinstance(part, (list, tuple)):
            for item in part:
                yield from ids_of(item)


def ids_in(*paths: Path) -> set[str]:
    """Return the ids of messages that modules name, those put together too."""
    found: set[str] = set()
    for path in paths:
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Message"):
                continue
            for part in ast.walk(node.args[0]):
                if isinstance(part, ast.Constant) and part.value in KEYS:
                    found.add(part.value)
                if isinstance(part, ast.JoinedStr):
                    pieces = (re.escape(v.value) if isinstance(v, ast.Constant) else ".*" for v in part.values)
                    found |= {key for key in KEYS if re.fullmatch("".join(pieces), key)}
    return found


class Sentences(unittest.TestCase):
    """What is said of each, and that no template is left out."""

    said: set[str] = set()

    def reads(self, text: str) -> str:
        self.said.update(ids_of(text))
        self.assertIsNone(TOO_MUCH.search(text), text)
        self.assertNotRegex(text, r"\{|\bNone\b|\bnan\b|  |\.\.")
        return text

    def test_rankings(self) -> None:
        for counts in TABLES:
            for data in (dict(zip(NAMES, counts, strict=False)), labels_of(small(counts))):
                for cut, rule in ((80, "reach"), (80, "within"), (50, "reach"), (None, "reach")):
                    with self.subTest(counts=counts, cut=cut, rule=rule):
                        self.ranking(vt.pareto(data, cut=cut, rule=rule))
        self.ranking(vt.pareto({"a": 30, "b": 12}, per={"a": 100, "b": 30}))
        self.ranking(vt.pareto({"a": 30, "b": 30}, per=100))
        self.ranking(vt.pareto({"d": ["a", "a", "b"], "n": [9, 1, 4]}, "d", count="n"))
        self.ranking(vt.pareto({"d": ["a", "a", "b"] * 9, "lot": list("xxy") * 9}, "d", lot="lot"))
        sheet = {"d": list("ab") * 3, "m": list("xxyyzz"), "n": [90, 10, 10, 70, 40, 40]}
        self.ranking(vt.pareto(sheet, "d", count="n"))
        self.ranking(vt.pareto({"d": ["a", "b"], "J": [90, 10], "F": [5, 70]}, "d", count=["J", "F"]))

    def ranking(self, table: Any) -> None:
        sure = table.certainty()
        said = self.reads(sure.sentence())
        ranked = len(sure.rows) > 1 and sure.records >= 2 and sure.effective >= 1.5
        self.assertEqual(
            bool(re.search(r"is the most frequent: its lead|has the highest rate: its lead", said)),
            ranked and sure.first_is_sure,
            said,
        )
        clause = re.search(r"confidence, (.*?)(?: (?:is|are) among the vital few)", said)
        vital = [row.category for row in sure.rows if row.vital == "sure"]
        if ranked and sure.measure == "percent" and clause and not clause[0].endswith("not among"):
            self.assertEqual(bool(vital), "not among" not in said.partition("confidence, ")[2][:90], said)
        for row in sure.rows:
            if len(sure.rows) <= 4 and row.vital and ranked:
                named = {"sure": r"among the vital few", "not": r"\bnot\b", "open": r"\bopen\b"}[row.vital]
                self.assertRegex(said, named)
        self.reads(table.sentence())
        if not table.origin.per:
            self.reads(table.concentration().sentence())

    def test_before_and_after(self) -> None:
        for before, after in [*pairwise(TABLES), *((one, one) for one in TABLES)]:
            for data in (
                (dict(zip(NAMES, one, strict=False)) for one in (before, after)),
                (labels_of(small(one)) for one in (before, after)),
            ):
                first, second = data
                for options in ({}, {"per": (100, 120)}):
                    with self.subTest(before=before, after=after, **options):
                        self.change(vt.compare(first, second, **options))
        sides = [{"d": ["a", "b"] * 20, "n": [5, 2] * 20}, {"d": ["a", "b"] * 20, "n": [1, 9] * 20}]
        self.change(vt.compare(*sides, by="d", count="n"))

    def change(self, found: Any) -> None:
        said = self.reads(found.sentence())
        try:
            changes = changes_of(found)
        except RankError:
            return
        same = 0.0 if changes.measure == "percent_points" else 1.0
        for row in changes.rows:
            low, high = (-np.inf if row.low is None else row.low), (np.inf if row.high is None else row.high)
            self.assertEqual(row.beyond_chance, low > same or high < same, (row, said))
        told = re.search(
            r"This change is statistically|(These|All) [\d,]+ changes are|[\d,]+ changes are statistically", said
        )
        self.assertEqual(bool(told), bool(changes.beyond), said)

    def test_strata(self) -> None:
        for one, other in pairwise(TABLES):
            first, second = rows_of(one, "k", "East"), rows_of(other, "k", "West")
            table = vt.crosstab({"d": first["d"] + second["d"], "k": first["k"] + second["k"]}, "d", "k")
            with self.subTest(one=one, other=other):
                strata = strata_of(table)
                if strata is not None:
                    said = self.reads(strata.sentence())
                    self.assertEqual(strata.differ, "no evidence" not in said.casefold(), said)
        turned = {"d": ["a"] * 90 + ["b"] * 10 + ["a"] * 10 + ["b"] * 40, "k": ["E"] * 100 + ["W"] * 50}
        strata = strata_of(vt.crosstab(turned, "d", "k"))
        assert strata is not None
        self.reads(strata.sentence())
        many = {
            "d": [name for at, name in enumerate(NAMES) for _ in range(60)],
            "k": [f"K{(at + turn % (1 + at % 3)) % 8}" for at in range(8) for turn in range(60)],
        }
        strata = strata_of(vt.crosstab(many, "d", "k"))
        assert strata is not None
        self.reads(strata.sentence())

    def test_over_time(self) -> None:
        for name, log in logs():
            for options in (
                {},
                {"per": 100, "per_units": 10, "per_name": "pieces"},
                {"measure": "percent"},
                {"period": "quarter"},
                {"baseline": ("2021-01", "2021-09")},
            ):
                if ("period" in options or "baseline" in options) and name in ("short", "sparse"):
                    continue
                with self.subTest(name, **options):
                    found = vt.trend(log, "d", date="t", categories=list(dict.fromkeys(log["d"])), **options)
                    said = self.reads(found.sentence())
                    for row in found.rows:
                        change = row.change
                        if change is None:
                            continue
                        for ends in (change.slope, change.step):
                            if ends is not None:
                                self.assertEqual(row.beyond_chance, not ends[1] <= 1 <= ends[2], (row.category, said))
                    self.assertEqual("statistically significant change" in said, bool(found.beyond), said)
        for period in ("day", "week"):
            days = {"d": ["a"] * 800, "t": [f"2026-{1 + at % 3:02d}-{1 + at % 28:02d}" for at in range(800)]}
            self.reads(vt.trend(days, "d", date="t", period=period).sentence())
        self.reads(vt.trend(log, "d", date="t", measure="percent", categories=["Pinhole"]).sentence())
        same = {"d": ["a"] * 120, "t": [f"2025-{1 + at % 12:02d}-03" for at in range(120)]}
        self.assertIn(
            "the percent is the same in every period",
            self.reads(vt.trend(same, "d", date="t", measure="percent").sentence()),
        )
        ten = {"d": ["a"] * 40, "t": [f"2026-03-{1 + at % 10:02d}" for at in range(40)]}
        self.reads(vt.trend(ten, "d", date="t", period="day").sentence())

    def test_two_series(self) -> None:
        rng = np.random.default_rng(2)
        for number in (3, 6, 12, 40, 130):
            x = rng.normal(size=number)
            for y in (x, -x, rng.normal(size=number), np.ones(number), 0.5 * x + rng.normal(size=number)):
                for options in ({}, {"in_time": True}, {"period": "month"}, {"period": "year"}, {"in_time": False}):
                    for one, other in ((x, y), (np.cumsum(x), np.cumsum(y))):
                        found = vt.relate(one, other, **options)
                        said = self.reads(found.sentence())
                        self.assertEqual(
                            "the relation is statistically significant" in said,
                            found.verdict == "related",
                            said,
                        )
                        if found.spearman_interval and found.verdict != "cannot be said":
                            low, high = found.spearman_interval
                            self.assertEqual(found.verdict == "related", not low <= 0 <= high, said)
        outlier = np.r_[rng.normal(size=11), 30]
        self.reads(vt.relate(outlier, np.r_[rng.normal(size=11), 30]).sentence())
        columns = [1, 2, 3, 4, 5, 6, 7], [2, 1, 4, 3, 6, 5, 7], [7, 5, 6, 3, 4, 2, 1]
        pairs = [relation_of(one, other, names=("a", "b")) for one, other in pairwise(columns)]
        for relation in together(pairs):
            self.reads(relation.sentence())

    @classmethod
    def tearDownClass(cls) -> None:
        """Every template of a statement was rendered."""
        named = ids_in(*(SOURCE / "core" / "statistics").glob("*.py"))
        left_out = {key for key in named - cls.said - {"rate"} if not key.startswith(("period", "whole periods"))}
        assert not left_out, f"never rendered: {sorted(left_out)}"
