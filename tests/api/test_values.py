"""Results are values: they can be pickled, copied and replaced, and hold nothing of the frame they came from."""

import copy
import dataclasses
import pickle
import unittest
import weakref
from typing import Any

import pandas as pd

import vantric as vt
from tests.folder import InFolder


def frame() -> pd.DataFrame:
    days = [f"2026-{month % 9 + 1:02d}-03" for month in range(20)]
    return pd.DataFrame({"d": ["a", "b", "a", "c"] * 5, "k": ["x", "y"] * 10, "q": range(20), "t": days})


def results(data: Any) -> list[Any]:
    """Return a result of every kind, and the charts of all that have one."""
    tally, crosstab, pareto = vt.tally(data, "d"), vt.crosstab(data, "d", "k"), vt.pareto(data, "d")
    tables: list[Any] = [
        tally,
        crosstab,
        pareto,
        crosstab.compare("x", "y"),
        vt.aggregate(data, "d", {"q": "sum"}),
        vt.trend(data, "d", date="t"),
        vt.align((0, 3), (1, 9)),
        vt.gap({"a": 1}, {"a": 2}),
    ]
    said = [pareto.certainty(), pareto.concentration(), vt.relate([1, 2, 3, 4], [2, 3, 1, 5])]
    charts = [vt.Chart(["a", "b"], [vt.Bars("x", [1, 2])]), vt.combine(data, "d", bars="sum:q")]
    charts += [vt.pareto(data, "d", split="k").chart(panels=True)]
    return [*tables, *said, *charts, *(table.chart() for table in tables)]


class Values(InFolder):
    def test_every_result_can_be_pickled_copied_and_replaced(self) -> None:
        for result in results(frame()):
            with self.subTest(kind=type(result).__name__):
                if hasattr(result, "review"):
                    result.review()
                again = pickle.loads(pickle.dumps(result))
                self.assertEqual(again, result)
                self.assertEqual(copy.deepcopy(result), result)
                self.assertEqual(dataclasses.replace(result), result)
                self.assertEqual(repr(again), repr(result))
                if hasattr(again, "save"):
                    for end in ("html", "md"):
                        one, other = (self.folder / f"{name}.{end}" for name in ("one", "other"))
                        self.assertEqual(
                            again.save(one).read_bytes().replace(b"one.svg", b"other.svg"),
                            result.save(other).read_bytes(),
                        )

    def test_no_result_holds_the_frame_of_its_caller(self) -> None:
        data = frame()
        gone = weakref.ref(data)
        made = results(data)
        del data
        self.assertIsNone(gone())
        self.assertEqual(type(made[0].to_frame()).__module__.partition(".")[0], "pandas")  # of the library it came in

    def test_records_as_mappings_are_read_alike_by_every_function(self) -> None:
        rows = [{"d": "a"}, {"d": "b"}, {"d": "a"}]
        for made in (vt.pareto(rows), vt.pareto(rows, "d"), vt.pareto(vt.tally(rows))):
            self.assertEqual(made.frequency.values(), [2, 1])
        self.assertEqual(vt.pareto({"a": 3, "b": 1}).total, 4)

    def test_a_chart_has_no_part_that_nobody_knows(self) -> None:
        chart = vt.Chart(["a"], [vt.Bars("x", [1])])
        self.assertEqual(dataclasses.replace(chart, title="T").title, "T")
        with self.assertRaises(TypeError):
            dataclasses.replace(chart, nothing=1)  # type: ignore[call-arg]


if __name__ == "__main__":
    unittest.main()
