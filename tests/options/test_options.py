"""Options: one line each, and everything that is derived from it."""

import copy
import inspect
import json
import pickle
import pydoc
import subprocess
import sys
import unittest
from dataclasses import replace
from pathlib import Path
from typing import Any, Literal
from unittest import mock

import click
import numpy as np
import pandas as pd
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st
from tools import generate, keywords, optionspage, schema

import vantric as vt
from vantric.cli.command import make_command
from vantric.core.charts.series import KINDS
from vantric.core.charts.settings import CombinationChartSettings, ParetoChartSettings, TallyChartSettings
from vantric.errors import ChartFileError, OptionError, UnknownOptionError
from vantric.files.chart_files import chart_file_of
from vantric.files.models import SHAPES, FileShape
from vantric.options import Options, known_options, option
from vantric.options.migrations import SYNONYMS, synonym
from vantric.options.option_types import MisfitError, taken, wanted
from vantric.options.signatures import shows
from vantric.reading.settings import (
    CategorySettings,
    ComparisonSettings,
    CountSettings,
    CrosstabSettings,
    ParetoSettings,
    ReadSettings,
)

LABELS = ["a", "b", "a", None]
ALL = (
    CountSettings,
    ReadSettings,
    ParetoSettings,
    CrosstabSettings,
    ComparisonSettings,
    CategorySettings,
    ParetoChartSettings,
    TallyChartSettings,
    CombinationChartSettings,
    *KINDS.values(),
)


class Names(unittest.TestCase):
    def test_the_nearest_of_all_that_a_function_takes(self) -> None:
        calls: tuple[tuple[Any, str], ...] = (
            (lambda: vt.pareto(LABELS, kep=3), "'kep'; did you mean 'keep'?"),  # type: ignore[call-arg]
            (lambda: vt.tally(LABELS, seperator=";"), "'separator'"),  # type: ignore[call-arg]
            (lambda: vt.pareto_chart(LABELS, titel="x"), "'title'"),  # type: ignore[call-arg]
            (lambda: vt.combine({"a": LABELS}, x="a", bars="a", totls=True), "'totals'"),  # type: ignore[call-arg]
            (lambda: vt.aggregate({"a": LABELS}, "a", {}, wher="x"), "'where'"),  # type: ignore[call-arg]
            (lambda: vt.pareto(LABELS, qqq=1), "there are: allow_functions, by, by_columns"),  # type: ignore[call-arg]
            (lambda: vt.pareto(LABELS, top=3), "'top'; use 'keep'"),  # type: ignore[call-arg]
            (lambda: vt.pareto_chart(LABELS, figsize=(5, 4)), "use 'size'"),  # type: ignore[call-arg]
            (lambda: vt.pareto_chart(LABELS, horizontal=True), "use orientation='horizontal'"),  # type: ignore[call-arg]
            (lambda: vt.align((0, 1), (0, 2), include_zero=False), "use 'primary_zero'"),  # type: ignore[call-arg]
        )
        for call, words in calls:
            with self.subTest(words=words), self.assertRaisesRegex(TypeError, words.replace("?", r"\?")) as caught:
                call()
            self.assertIsInstance(caught.exception, vt.VantricError)
        with self.assertRaises(UnknownOptionError) as found:
            vt.pareto(LABELS, kep=3)  # type: ignore[call-arg]
        self.assertEqual((found.exception.value, found.exception.hint), ("kep", "did you mean 'keep'?"))
        self.assertIn("keep", found.exception.known)

    def test_every_synonym_names_an_option_that_there_is(self) -> None:
        flags = {
            "out",
            "save_chart",
            "format",
            "open",
            "pager",
            "no_primary_zero",
            "percent_column",
            "cumulative_column",
            "color",
            "reference",
        }
        known = {*known_options(*ALL), *flags, "line", "bars", "secondary", "category_colors", "center"}
        for word, meant in SYNONYMS.items():
            for one in meant:
                self.assertIn(one.partition("=")[0], known, word)
        self.assertEqual(synonym("--top", {"keep"}, command=True), "--keep")
        self.assertEqual(synonym("horizontal", {"orientation"}, command=True), "--orientation horizontal")
        self.assertEqual(synonym("top", {"theme"}), "")

    def test_signatures_and_docstrings_show_them_with_their_defaults(self) -> None:
        for name, function in keywords.taking():
            shown = inspect.signature(function).parameters
            self.assertNotIn(inspect.Parameter.VAR_KEYWORD, {one.kind for one in shown.values()}, name)
            holder = vt.Chart if name == "Chart" else function
            for one in function.__options__:
                self.assertIn(one.name, shown, name)
                self.assertRegex(inspect.getdoc(holder) or "", rf"(?m)^{one.name} : .*\n    \S", f"{name}.{one.name}")
        for kind, name in (
            (vt.Bars, "bar_width"),
            (vt.Line, "line_width"),
            (vt.Reference, "upto"),
            (vt.NumberStyle, "prefix"),
        ):
            self.assertIn(name, inspect.signature(kind).parameters)
            self.assertRegex(inspect.getdoc(kind) or "", rf"(?m)^{name} : ")
        self.assertEqual(list(inspect.signature(vt.Bars).parameters)[:3], ["name", "values", "labels"])
        shown = inspect.signature(vt.pareto).parameters
        self.assertEqual(
            (shown["rule"].default, shown["rest_label"].default, shown["keep"].default), ("reach", "Other", None)
        )
        self.assertEqual(shown["rule"].annotation, 'Literal["reach", "within"]')
        self.assertIn("keep", inspect.signature(vt.pareto_chart).parameters)

    def test_help_of_every_public_name(self) -> None:
        for name in set(vt.__all__) - {"__version__", "WORDS"}:
            text = pydoc.render_doc(getattr(vt, name))
            self.assertNotIn("**options", text.partition("Parameters")[0].replace("**options:", ""), name)
        self.assertIn("bar_width : float | None", pydoc.render_doc(vt.Bars))


class OneLine(unittest.TestCase):
    """One new option of the look is one line: it is found in all five places that are derived."""

    def test_an_option_that_is_added_is_everywhere(self) -> None:
        class Look(ParetoChartSettings):
            glaze: Literal["matte", "glossy"] | None = option(None, "How the chart shines.", metavar="GLAZE")

        @shows(Look)
        def draw(**options: Any) -> Any:
            """Draw."""
            return Look.from_keywords(options)

        def run(options: Any) -> None:
            click.echo(f"glaze: {options.split(Look)[0].glaze}")

        command = make_command("draw", run, [], (Look,), examples=())
        self.assertRegex(CliRunner().invoke(command, ["--help"]).output, r"--glaze GLAZE +How the chart shines\.")
        self.assertEqual(CliRunner().invoke(command, ["--glaze", "matte"]).output, "glaze: matte\n")
        self.assertIn("glaze", inspect.signature(draw).parameters)
        self.assertIn(
            'glaze : Literal["matte", "glossy"] | None, default None\n    How the chart', inspect.getdoc(draw) or ""
        )
        stub = keywords.text_of({"DrawOptions": (draw.__options__, "draw")}, "draw")
        self.assertIn('    glaze: Literal["matte", "glossy"] | None\n', stub)
        shapes = {**SHAPES, "pareto": FileShape({**SHAPES["pareto"].sections, "chart": Look})}
        with mock.patch.dict(SHAPES, shapes), mock.patch("tools.schema.SHAPES", shapes):
            file = {"format": "vantric/chart", "version": 2, "kind": "pareto", "data": {"source": "a.csv"}}
            self.assertEqual(chart_file_of({**file, "chart": {"glaze": "matte"}}, "c").parts["chart"].glaze, "matte")
            with self.assertRaisesRegex(ChartFileError, "chart.glaze is one of 'matte', 'glossy', not 'mat'"):
                chart_file_of({**file, "chart": {"glaze": "mat"}}, "c")
            self.assertIn("How the chart shines.", json.dumps(schema.schema()))
        with mock.patch("tools.optionspage._PAGES", (("Look", (Look,)),)):
            self.assertRegex(optionspage.text(), r"\| `glaze` \| `--glaze GLAZE` \|")
        for look, words in (({"glaze": "mat"}, "glaze is one of"), ({"glase": "matte"}, "did you mean 'glaze'")):
            with self.assertRaisesRegex(OptionError, words):
                draw(**look)

    def test_what_is_generated_is_up_to_date(self) -> None:
        written = {**generate.data_files(), **generate.package_files(), **generate.page_files()}
        for path, text in written.items():
            if path.suffix == ".md" or (path.suffix == ".py" and "typing" in path.name):  # pydantic's versions differ
                self.assertEqual(path.read_text(encoding="utf-8"), text, f"{path.name}: run make generated")

    def test_every_option_explains_itself(self) -> None:
        for kind in ALL:
            for one in known_options(kind).values():
                self.assertRegex(one.help, r"^[A-Za-z0-9].*\.$", one.name)
                self.assertTrue(one.section or kind is Options, f"{kind.__name__}.{one.name}")

    def test_a_user_program_passes_mypy(self) -> None:
        path = Path(__file__).parents[1] / "userprogram.py"
        found = subprocess.run(
            [sys.executable, "-m", "mypy", "--strict", "--follow-imports=silent", str(path)],
            capture_output=True,
            text=True,
            cwd=path.parents[1],
        )
        self.assertEqual(found.returncode, 0, found.stdout)


class Kinds(unittest.TestCase):
    def test_what_each_takes(self) -> None:
        for options, words in (
            ({"keep": "3"}, "keep is a whole number or None, not '3'"),
            ({"keep": 1.5}, "keep is a whole number"),
            ({"keep": True}, "keep is a whole number"),
            ({"merge_spellings": "no"}, "True or False, not 'no'"),
            ({"last": 3}, "last is a list of texts, not 3"),
            ({"by_columns": 5}, "a list of texts"),
            ({"last": [1]}, "a list of texts"),
            ({"fold_below": "2"}, "a number or None"),
            ({"families": 3}, "a mapping"),
            ({"drop_zero": 1}, "True or False"),
            ({"timeout": "1"}, "a number or None"),
            ({"where": b"a"}, "a text or None"),
            ({"rule": "reech"}, "rule is one of 'reach', 'within', not 'reech'; did you mean 'reach'"),
            ({"keep": 0}, "keep is a whole number at least 1, not 0"),
        ):
            with self.subTest(options=options), self.assertRaisesRegex(OptionError, words) as caught:
                vt.pareto(LABELS, **options)  # type: ignore[arg-type]
            self.assertNotIn("\n", str(caught.exception))
            self.assertEqual(caught.exception.option, next(iter(options)))
        for look, words in (
            ({"title": 3}, "title is a text or None, not 3"),
            ({"size": (1, "x")}, "a pair of numbers"),
        ):
            with self.subTest(look=look), self.assertRaisesRegex(OptionError, words):
                vt.pareto_chart(LABELS, **look)  # type: ignore[arg-type]

    def test_lists_and_numbers_of_every_library(self) -> None:
        plain = vt.pareto(LABELS, order=["b", "a"], keep=2)
        for order in (("b", "a"), np.array(["b", "a"]), pd.Index(["b", "a"]), pd.Series(["b", "a"])):
            with self.subTest(order=type(order).__name__):
                self.assertEqual(vt.pareto(LABELS, order=order, keep=np.int64(2)), plain)  # type: ignore[arg-type]
        self.assertEqual(vt.tally(LABELS, merge_spellings=np.True_).total, 3)  # type: ignore[arg-type]
        self.assertEqual(vt.pareto(LABELS, per=np.float64(2)).total, vt.pareto(LABELS, per=2).total)
        self.assertEqual(vt.pareto(LABELS, last="a").categories, ("b", "a"))  # one name is a list of one

    def test_labels_of_a_series_that_there_is_not_are_refused_in_every_chart(self) -> None:
        data = {"d": ["a", "b", "a", "c"], "k": ["x", "y", "x", "y"]}
        table, parts = vt.pareto(data, "d"), vt.pareto(data, "d", split="k")
        charts: tuple[Any, ...] = (
            table.chart,
            parts.chart,
            vt.tally(data, "d").chart,
            vt.crosstab(data, "d", "k").chart,
            vt.compare(LABELS, LABELS).chart,
            vt.pareto(data, drill=["k", "d"]).chart,
            lambda **look: parts.chart(panels=True, **look),
            lambda **look: vt.tally(data, "d").chart(share_bar=True, **look),
            lambda **look: vt.combine({"x": ["a"], "n": [1]}, x="x", bars="n", **look),
        )
        for chart in charts:
            with self.assertRaisesRegex(vt.VantricError, "no series 'Frequncy'"):
                chart(labels={"Frequncy": "none"})
        self.assertEqual(table.chart(labels={"Frequency": "none"}).series[0].labels, ())
        shown = vt.crosstab(data, "d", "k").chart(labels={"x": "none", "": "value"}).series
        self.assertEqual([bool(one.texts) for one in shown], [False, True])

    def test_copies_are_the_same(self) -> None:
        for look in (
            ParetoChartSettings(theme="dark", colors={"a": "red"}),
            CountSettings(by="d"),
            ParetoSettings(),
            ParetoSettings(cut=None),
            vt.Reference(600, text="x"),
        ):
            for other in (pickle.loads(pickle.dumps(look)), copy.deepcopy(look), replace(look)):
                self.assertEqual((other, other.changed(), repr(other)), (look, look.changed(), repr(look)))
        with self.assertRaises(AttributeError):
            ParetoChartSettings().theme = "dark"  # type: ignore[misc]

    def test_what_has_no_order_is_not_a_list(self) -> None:
        for options in ({"order": {"a", "b"}}, {"last": {"a"}}, {"order": (x for x in "ab")}):
            with self.assertRaisesRegex(OptionError, "a list of texts"):
                vt.pareto(LABELS, **options)  # type: ignore[arg-type]
        self.assertEqual(vt.pareto(LABELS, order={"b": 1, "a": 2}.keys()).categories, ("b", "a"))  # type: ignore[arg-type]

    def test_a_share_where_a_percent_is_meant_asks(self) -> None:
        for cut in (0.8, "0.8", (0.5, 80)):
            with self.assertRaisesRegex(vt.VantricError, "write [58]0 if you mean [58]0%"):
                vt.pareto(LABELS, cut=cut)

    def test_classes_answer_as_functions_do(self) -> None:
        calls: tuple[tuple[Any, str], ...] = (
            (lambda: vt.NumberStyle(thousands="."), "use show_numbers="),  # type: ignore[call-arg]
            (lambda: vt.Bars("n", [1], colour="red"), "use 'color'"),  # type: ignore[call-arg]
            (lambda: vt.Reference(600, txt="x"), "did you mean 'text'"),  # type: ignore[call-arg]
            (
                lambda: vt.Chart(["a"], [vt.Bars("n", [1])], primary_limits="x"),
                "primary_limits: a range is two numbers",
            ),  # type: ignore[arg-type]
            (lambda: vt.pareto_chart(LABELS, colors={1: "red"}), "a mapping of names to texts"),  # type: ignore[dict-item]
        )
        for call, words in calls:
            with self.assertRaisesRegex(vt.VantricError, words):
                call()

    def test_words(self) -> None:
        self.assertEqual(wanted(Literal["a", "b"]), "one of 'a', 'b'")
        self.assertEqual(taken("a", Literal["a", "b"]), "a")
        self.assertEqual(taken([1, 2.5], tuple[float, ...]), (1, 2.5))
        for values, kind in (([1, True], int), ([1, 2.5], int), ([1.5, "2"], float), (["a", 1], str)):
            with self.assertRaises(MisfitError):
                taken(values, tuple[kind, ...])  # type: ignore[valid-type]
        with self.assertRaises(MisfitError):
            taken("c", Literal["a", "b"])
        with self.assertRaises(MisfitError):  # a slip is not a list of one
            taken("c", Literal["a", "b"] | tuple[str, ...])

    @given(st.from_type(type(None)) | st.integers() | st.floats() | st.text() | st.binary() | st.lists(st.integers()))
    def test_no_value_is_a_traceback(self, value: Any) -> None:
        for name in known_options(CountSettings, ReadSettings, ParetoSettings, ParetoChartSettings):
            if name in ("timeout", "memory", "families", "per", "cut", "by", "font"):
                continue
            try:
                vt.pareto_chart(LABELS, **{name: value})
            except vt.VantricError as error:
                self.assertNotIn("\n", str(error).strip())
