"""What the calling program has set for arithmetic changes nothing, and no library warns of what is computed."""

import contextlib
import decimal
import unittest
import warnings
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

import vantric as vt
from tests.effort import some
from tests.folder import InFolder

Number = Any


def hostile() -> contextlib.ExitStack:
    """Return settings under which much arithmetic of other programs fails."""
    context = decimal.Context(prec=5, rounding=decimal.ROUND_UP, Emax=9, Emin=-9)
    for signal in context.traps:
        context.traps[signal] = True
    stack = contextlib.ExitStack()
    stack.enter_context(decimal.localcontext(context))
    stack.enter_context(np.errstate(all="raise"))
    return stack


def results(unit: Number) -> Iterator[tuple[str, Any]]:
    """Yield what makes a result of each kind from amounts that are multiples of a unit."""
    data = {
        "defect": list("abcabdabcaebfabc") * 3,
        "kiln": list("xyxxyyxyxyyx") * 4,
        "n": [unit * (1 + place % 5) for place in range(48)],
        "w": [unit * (3 + place) for place in range(48)],
        "m": [unit * (7 + place * place) for place in range(48)],
        "date": [f"2026-{1 + place % 12:02d}-{1 + place // 2:02d}" for place in range(48)],
    }
    halves = [{name: values[part] for name, values in data.items()} for part in (slice(24), slice(24, 48))]
    few = {
        "x": list("abcdef"),
        "bars": [unit * place for place in range(1, 7)],
        "line": [place / 8 for place in range(6)],
    }
    yield "tally", lambda: vt.tally(data, "defect", count="n")
    yield "crosstab", lambda: vt.crosstab(data, "defect", "kiln", weight="w")
    yield "pareto", lambda: vt.pareto(data, "defect", count="n")
    yield "weighted", lambda: vt.pareto(data, "defect", weight="w")
    yield "trend", lambda: vt.trend(data, "defect", count="n", date="date", period="month")
    yield "compare", lambda: vt.compare(*halves, "defect", count="n")
    yield "aggregate", lambda: vt.aggregate(data, "defect", {"sum": "sum:w", "ratio": "ratio:w/m"})
    yield "combine", lambda: vt.combine(few, x="x", bars="bars", line="line")
    yield "relate", lambda: vt.relate(data["w"], data["m"])
    yield "gap", lambda: vt.gap(few["bars"], few["line"], categories=few["x"])
    most = unit * 9
    yield "align", lambda: vt.align((0, most), (0, 100))
    yield "suggest", lambda: vt.suggest_axes({"a": [unit, most], "b": [1, 2]})


def shown(result: Any, folder: Path) -> dict[str, object]:
    """Return all that a result says and writes."""
    said: dict[str, object] = {"repr": repr(result)}
    for name in ("sentence", "review", "to_dict", "plan", "certainty", "concentration", "_repr_html_"):
        with contextlib.suppress(vt.VantricError, AttributeError):
            said[name] = repr(getattr(result, name)())
    for ending in ("csv", "json", "md", "svg", "html", "xlsx"):
        target = folder / f"result.{ending}"
        with contextlib.suppress(vt.VantricError, AttributeError):
            result.save(target)
            said[ending] = target.read_bytes()
    return said


class Settings(InFolder):
    def test_nothing_depends_on_the_settings_of_the_caller(self) -> None:
        units: list[Number] = [1, 0.1, decimal.Decimal("1.2345678901234567890123456789"), 10**20]
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            for unit in some(units, 2):
                for name, make in results(unit):
                    with self.subTest(name=name, unit=unit):
                        try:
                            plain = shown(make(), self.folder)
                        except vt.VantricError as error:
                            with hostile(), self.assertRaises(type(error)):
                                make()
                            continue
                        with hostile():
                            context, errors = decimal.getcontext().copy(), np.geterr()
                            again = shown(make(), self.folder)
                            self.assertEqual(np.geterr(), errors)
                            self.assertEqual(repr(decimal.getcontext()), repr(context))
                        self.assertEqual(again.keys(), plain.keys())
                        for part in plain:
                            self.assertEqual(again[part], plain[part], part)

    def test_no_library_warns_of_very_large_and_very_small_amounts(self) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("error")
            units: list[Number] = [10**295, 1e-320, 1e-200, 1e150, 1e295, 10**100]
            for unit in some(units, 3):
                for name, make in results(unit):
                    with self.subTest(name=name, unit=unit), contextlib.suppress(vt.VantricError):
                        shown(make(), self.folder)


if __name__ == "__main__":
    unittest.main()
