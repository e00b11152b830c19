"""Options by name: the nearest right one, and what each takes."""

import inspect
import unittest
from typing import Any, Literal

import numpy as np
import pandas as pd
from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from vantric.api.options import AnalysisOptions, CountingOptions, OpeningOptions
from vantric.errors import OptionError
from vantric.options import fits, wanted
from vantric.sources import Opening

LABELS = ["a", "b", "a", None]


class Names(unittest.TestCase):
    def test_the_nearest_of_all_that_a_function_takes(self) -> None:
        calls: tuple[tuple[Any, str], ...] = (
            (lambda: vt.pareto(LABELS, kep=3), "'kep'; did you mean 'keep'?"),  # type: ignore[call-arg]
            (lambda: vt.tally(LABELS, seperator=";"), "'separator'"),  # type: ignore[call-arg]
            (lambda: vt.pareto_chart(LABELS, titel="x"), "'title'"),  # type: ignore[call-arg]
            (lambda: vt.combine({"a": LABELS}, x="a", bars="a", totls=True), "'totals'"),  # type: ignore[call-arg]
            (lambda: vt.aggregate({"a": LABELS}, "a", {}, wher="x"), "'where'"),  # type: ignore[call-arg]
            (lambda: vt.pareto(LABELS, zzz=1), "there are: allow_functions, by_columns"),  # type: ignore[call-arg]
        )
        for call, words in calls:
            with self.subTest(words=words), self.assertRaisesRegex(TypeError, words.replace("?", r"\?")):
                call()

    def test_signatures_show_them_with_their_defaults(self) -> None:
        for function, known in (
            (vt.tally, CountingOptions),
            (vt.pareto, AnalysisOptions),
            (vt.aggregate, OpeningOptions),
        ):
            shown = inspect.signature(function).parameters
            self.assertLessEqual(set(known.__annotations__), set(shown))
            self.assertNotIn(inspect.Parameter.VAR_KEYWORD, {one.kind for one in shown.values()})
        shown = inspect.signature(vt.pareto).parameters
        self.assertEqual(
            (shown["rule"].default, shown["rest_label"].default, shown["keep"].default), ("reach", "Other", None)
        )
        self.assertEqual(set(OpeningOptions.__annotations__), set(Opening.__dataclass_fields__))


class Kinds(unittest.TestCase):
    def test_what_each_takes(self) -> None:
        for options, words in (
            ({"keep": "3"}, "keep is a whole number or None, not '3'"), ({"keep": 1.5}, "keep is a whole number"),
            ({"keep": True}, "keep is a whole number"), ({"merge_spellings": "no"}, "True or False, not 'no'"),
            ({"last": 3}, "last is text or a list of texts, not 3"), ({"by_columns": "abc"}, "a list of texts"),
            ({"last": [1]}, "a list of texts"), ({"fold_below": "2"}, "a number or None"), ({"families": 3}, "a mapping"),
            ({"drop_zero": 1}, "True or False"), ({"timeout": "1"}, "a number or None"), ({"where": b"a"}, "text or None"),
        ):  # fmt: skip
            with self.subTest(options=options), self.assertRaisesRegex(OptionError, words) as caught:
                vt.pareto(LABELS, **options)  # type: ignore[arg-type]
            self.assertNotIn("\n", str(caught.exception))
        for look, words in (({"title": 3}, "title is text or None, not 3"), ({"size": (1, "x")}, "2 numbers or text")):
            with self.subTest(look=look), self.assertRaisesRegex(OptionError, words):
                vt.pareto_chart(LABELS, **look)  # type: ignore[arg-type]

    def test_lists_and_numbers_of_every_library(self) -> None:
        plain = vt.pareto(LABELS, order=["b", "a"], keep=2)
        for order in (("b", "a"), np.array(["b", "a"]), pd.Index(["b", "a"]), pd.Series(["b", "a"])):
            with self.subTest(order=type(order).__name__):
                self.assertEqual(vt.pareto(LABELS, order=order, keep=np.int64(2)), plain)
        self.assertEqual(vt.tally(LABELS, merge_spellings=np.True_).total, 3)
        self.assertEqual(vt.pareto(LABELS, per=np.float64(2)).total, vt.pareto(LABELS, per=2).total)

    def test_words(self) -> None:
        self.assertEqual(wanted(Literal["a", "b"]), "one of 'a', 'b'")
        self.assertTrue(fits("a", Literal["a", "b"]))
        self.assertFalse(fits("c", Literal["a", "b"]))

    @given(st.from_type(type(None)) | st.integers() | st.floats() | st.text() | st.binary() | st.lists(st.integers()))
    def test_no_value_is_a_traceback(self, value: Any) -> None:
        for name in AnalysisOptions.__annotations__:
            if name in ("timeout", "memory", "families", "per", "cut"):
                continue
            try:
                vt.pareto(LABELS, **{name: value})
            except (vt.VantricError, TypeError) as error:
                self.assertNotIn("\n", str(error).strip())
