"""What a user may ask of a chart: places, words, signs, colors, sizes."""

import unittest
from typing import Any

import numpy as np

import vantric as vt
from tests.core.counts.test_pareto import SMALL
from vantric.core.layout import Plan
from vantric.core.layout.text_layout import broken, table_measure, wrapped
from vantric.core.messages.languages import WORDS
from vantric.core.numbers.number_format import NumberStyle
from vantric.errors import ChartError, VantricError

TABLE = vt.pareto(SMALL)


def plan_of(**options: Any) -> Plan:
    plan = vt.pareto_chart(TABLE, **options).plan()
    assert isinstance(plan, Plan)
    return plan


def texts(plan: Plan, role: str) -> list[str]:
    return [mark.text for mark in plan.texts if mark.role == role]


class Geometry(unittest.TestCase):
    def test_a_horizontal_chart_is_the_upright_one_turned(self) -> None:
        plan = plan_of(orientation="horizontal")
        frame, values = plan.frame, np.array(sorted(SMALL.values(), reverse=True), dtype=float)
        shares = plan.scales.primary.fraction(values)
        left, bottom, right, top = plan.bars.edges.T
        np.testing.assert_allclose(left, frame.left)
        np.testing.assert_allclose(right - left, shares * frame.width)
        np.testing.assert_allclose((bottom + top) / 2, plan.centers)
        self.assertTrue(np.all(np.diff(plan.centers) < 0), "the first is on top")
        np.testing.assert_allclose(plan.points.xs[0], right[0])
        self.assertTrue(np.all(np.diff(plan.points.xs) > 0))
        (down,) = (rule for rule in plan.rules if rule.role == "cut")
        parting = next(rule for rule in plan.rules if rule.role == "row")
        self.assertEqual(down.xs[0], down.xs[1])
        self.assertAlmostEqual(down.xs[0], frame.left + float(plan.scales.secondary.fraction(80)) * frame.width)
        self.assertAlmostEqual(float(parting.ys[0]), (bottom[2] + top[3]) / 2)
        at = float(np.interp(down.ys.min(), plan.path.ys[::-1], plan.path.xs[::-1]))
        self.assertAlmostEqual(at, down.xs[0], msg="it reaches from its axis to where the line crosses")
        self.assertEqual(float(down.ys.max()), frame.top)

    def test_points_at_the_edges_start_from_the_origin(self) -> None:
        plan = plan_of(line_at="edge")
        self.assertEqual((plan.path.xs[0], plan.path.ys[0]), (plan.frame.left, plan.frame.bottom))
        np.testing.assert_allclose(plan.points.xs, plan.bars.edges[:, 2])
        np.testing.assert_allclose(plan.points.ys[0], plan.bars.edges[0, 3])
        np.testing.assert_allclose(plan.bars.edges[1:, 0], plan.bars.edges[:-1, 2], err_msg="bars touch")
        crossing = TABLE.cutoffs[0].crossing
        across = next(rule for rule in plan.rules if rule.role == "cut")
        self.assertAlmostEqual(float(across.xs[0]), plan.frame.left + crossing * plan.frame.width / 9)

    def test_cumulative_frequency_on_one_scale(self) -> None:
        plan = plan_of(cumulative="frequency")
        self.assertEqual(plan.scales.primary, plan.scales.secondary)
        self.assertEqual(plan.scales.policy, "common")
        self.assertIn("193", texts(plan, "point-value"))
        level = next(rule for rule in plan.rules if rule.role == "cut")
        self.assertAlmostEqual(float(level.ys[0]), float(plan.primary_y(0.8 * 231)))
        self.assertIn("Cumulative frequency (records)", texts(plan, "line-title"))

    def test_no_line_no_second_axis_no_cutoff(self) -> None:
        plan = plan_of(cumulative="none")
        self.assertEqual((plan.paths, plan.point_sets), ((), ()))
        self.assertEqual([rule for rule in plan.rules if rule.role == "cut"], [])
        self.assertEqual(texts(plan, "axis-title"), ["Records"])

    def test_several_cutoffs(self) -> None:
        plan = vt.pareto_chart(SMALL, cut=(60, 80, 95)).plan()
        assert isinstance(plan, Plan)
        self.assertEqual(len([rule for rule in plan.rules if rule.role == "cut"]), 3)
        self.assertEqual(
            [text for text in texts(plan, "cut-text") if text.endswith("0%") or text == "95%"],
            ["60%", "80%", "95%"],
        )
        self.assertEqual(texts(plan, "class-name"), ["A · 2 of 9 · 65%", "B · 1 of 9 · 19%", "C · 3 of 9 · 13%"])
        self.assertEqual(texts(plan, "class-text"), ["Rest · 3 of 9 · 4%"])
        self.assertEqual(plan.bars.roles[:4], ("strong", "strong", "strong-b", "strong-c"))

    def test_a_cutoff_that_takes_in_none(self) -> None:
        for orientation in ("vertical", "horizontal"):
            plan = vt.pareto_chart(SMALL, cut=20, rule="within", orientation=orientation).plan()
            assert isinstance(plan, Plan)
            self.assertEqual(set(plan.bars.roles), {"quiet"})
            self.assertEqual(texts(plan, "cut-text"), ["20%"])
            self.assertEqual(texts(plan, "class-name"), [])

    def test_legend_places(self) -> None:
        above, below, right, none = (plan_of(legend=place) for place in ("above", "below", "right", "none"))
        self.assertEqual(texts(above, "legend"), [], "titles and brackets say what is what")
        self.assertLess(next(mark.y for mark in below.texts if mark.role == "legend"), below.frame.bottom)
        place = next(mark for mark in right.texts if mark.role == "legend")
        self.assertGreater(place.x, right.frame.right)
        self.assertEqual((texts(none, "legend"), none.swatches.roles), ([], ()))

    def test_labels(self) -> None:
        self.assertIn("38%", texts(plan_of(labels="percent"), "on-strong") + texts(plan_of(labels="percent"), "value"))
        self.assertEqual(texts(plan_of(labels="none"), "value") + texts(plan_of(labels="none"), "on-strong"), [])
        inside = plan_of(label_place="inside")
        self.assertEqual(texts(inside, "on-strong"), ["88", "61", "44"])
        every = plan_of(labels={"Cumulative percent": "percent"})
        self.assertGreater(len(texts(every, "point-value")), 5, "what was asked for by name is all labeled")

    def test_size(self) -> None:
        for size in ((800, 600), "800x600", "800 X 600"):
            self.assertEqual(plan_of(size=size).size, (800, 600))


class Words(unittest.TestCase):
    german = {
        "title": "Paretodiagramm: {subject}",
        "frequency": "Häufigkeit",
        "cumulative percent": "Kumulierte Prozent",
        "total": "Summe {total}",
        "vital few": "Wesentliche",
        "useful many": "Übrige",
        "cut": "{count} von {all} Kategorien: {percent}",
        "records": "Datensätze",
        "record": "Datensatz",
        "without": "{number} ohne {label}",
        "a": "{label}",
        "of total": "{name} von {total} {unit}",
        "source": "Quelle: {source}",
        "where": "wo {where}",
    }

    def test_a_chart_speaks_any_language(self) -> None:
        data = {"Fehler": ["Riss"] * 1200 + ["Kante"] * 300 + ["Pore"] * 34 + [None] * 9}
        chart = vt.pareto_chart(data, "Fehler", words=self.german, show_numbers="1.234,56")
        plan = chart.plan()
        said = [mark.text for mark in plan.texts]
        for wanted in (
            "Paretodiagramm: Fehler",
            "Fehler: 1.534 Datensätze, 9 ohne Fehler",
            "Häufigkeit (Datensätze)",
            "Summe 1.534",
            "Kumulierte Prozent von 1.534 Datensätze",
            "98%",
            "Wesentliche · 2 of 3 · 98%",
        ):
            self.assertIn(wanted, said)
        english = {"Frequency", "Cumulative percent", "Vital few", "Useful many", "Total 1,534"}
        self.assertFalse(english & set(said))

    def test_other_number_signs_keep_the_base_whole(self) -> None:
        cells = vt.pareto({"d": ["a;b", "a", None] * 500}, "d", separator=";")
        self.assertIn("in 1,500 records", vt.pareto_chart(cells).subtitle)
        self.assertEqual(
            vt.pareto_chart(cells, show_numbers="1.234,56").subtitle,
            "d: 1.500 mentions in 1.500 records, 500 with a blank “d”",
        )

    def test_every_word_can_be_set(self) -> None:
        for name, text in WORDS.items():
            vt.pareto_chart(TABLE, words={name: text.upper() if "{" not in text else text})
        with self.assertRaisesRegex(ChartError, "no chart has the word 'vital fwe'; did you mean 'vital few'"):
            vt.pareto_chart(TABLE, words={"vital fwe": "x"})
        for bad in ("{nobody}", "{", "{total.x}"):
            with self.assertRaisesRegex(ChartError, "has a gap that nothing fills"):
                vt.pareto_chart(TABLE, words={"total": bad})

    def test_titles_and_units(self) -> None:
        plan = plan_of(title="T", subtitle="S", category_title="C", primary_title="P", secondary_title="", note="N")
        self.assertEqual((texts(plan, "title"), texts(plan, "subtitle"), texts(plan, "note")), (["T"], ["S"], ["N"]))
        self.assertEqual(sorted(texts(plan, "axis-title")), ["C", "P"])
        self.assertIn("Tiles", texts(plan_of(unit="tiles"), "axis-title"))
        self.assertEqual(texts(plan_of(title=""), "title"), [])
        folded = vt.pareto_chart(SMALL, keep=5)
        self.assertEqual(folded.note, "“Other” holds the 4 smallest categories")
        self.assertEqual(vt.pareto_chart(SMALL, keep=5, note=False).note, "")

    def test_numbers(self) -> None:
        style = NumberStyle(show_numbers="1 234,56", decimals=2, prefix="€ ", suffix="")
        self.assertEqual(style.amounts([1234567, 0.5]), ["€ 1 234 567,00", "€ 0,50"])
        self.assertEqual(
            NumberStyle(show_numbers="1234.56", suffix=" kr").amounts([1234.5, 2]), ["1234.5 kr", "2.0 kr"]
        )
        self.assertEqual(NumberStyle(percent_sign="%").percents(83.54), "83.5%")
        self.assertEqual(NumberStyle().amount(2**70), "1.181e+21")
        self.assertEqual(NumberStyle(si=True).amounts([0, 50000, 150000]), ["0 k", "50 k", "150 k"])
        self.assertEqual(NumberStyle(si=True, suffix="g").amounts([2.5e6, 1e7]), ["2.5 Mg", "10.0 Mg"])
        self.assertEqual(NumberStyle(si=True).amounts([0.0025]), ["2.5 m"])
        self.assertEqual(NumberStyle(si=True).amounts([12, 5]), ["12", "5"])
        self.assertEqual(NumberStyle(si=True).amounts([0]), ["0"])
        self.assertIn("12 k", [mark.text for mark in vt.pareto_chart({"a": 9000, "b": 3000}, si=True).plan().texts])
        plan = vt.pareto_chart({"a": 1200.5, "b": 300}, prefix="$", decimals=2).plan()
        self.assertIn("$300.00", [mark.text for mark in plan.texts])
        self.assertIn("$1,500.50", [mark.text for mark in plan.texts])
        for bad, words in [
            ({"show_numbers": "1,234"}, "does not show which mark is which"),
            ({"show_numbers": "1.234.56"}, "does not show"),
            ({"decimals": -1}, "decimals is a whole number at least 0 and at most 12"),
            ({"show_numbers": ""}, "does not show"),
        ]:
            with self.assertRaisesRegex(VantricError, words):
                plan_of(**bad)


class Colors(unittest.TestCase):
    def test_by_category_and_by_series(self) -> None:
        plan = plan_of(colors={"Pinhole": "teal", "Useful many": "#ccc", "Cumulative percent": "#123456"})
        self.assertEqual(plan.bars.roles[0], "strong:#008080")
        self.assertEqual(plan.bars.roles[-1], "quiet:#cccccc")
        self.assertEqual((plan.path.role, plan.points.role), ("line:#123456", "point:#123456"))
        below = plan_of(colors={"Useful many": "#ccc"}, legend="below")
        self.assertEqual(below.swatches.roles, ("strong", "quiet:#cccccc"))
        strata = vt.pareto_chart({"d": ["a"], "k": ["x"]}, "d", split="k", colors={"x": "#111"}).plan()
        assert isinstance(strata, Plan)
        self.assertEqual(strata.bars.roles, ("series-1:#111111",))

    def test_one_color_a_category_throughout(self) -> None:
        colors = vt.category_colors(TABLE)
        self.assertEqual(list(colors), list(TABLE.categories))
        part = vt.pareto({"Warping": 3, "Pinhole": 1})
        drawn = vt.pareto_chart(part, colors={name: colors[name] for name in part.categories}).plan()
        assert isinstance(drawn, Plan)
        self.assertEqual([role.partition(":")[2] for role in drawn.bars.roles], [colors["Warping"], colors["Pinhole"]])

    def test_what_is_none(self) -> None:
        for options, words in [
            (
                {"colors": {"Pinhoel": "red"}},
                "has nothing called 'Pinhoel' that could have a color; did you mean 'Pinhole'",
            ),
            ({"colors": {"Pinhole": "rde"}}, "'rde' is not a color; did you mean 'red'"),
            ({"orientation": "up"}, "orientation is one of 'vertical', 'horizontal', 'auto', not 'up'"),
            ({"points": "center"}, "'points'; use 'line_at'"),
            (
                {"labels": "count"},
                "labels is one of 'value', 'percent', 'none' or a mapping of names to one of .*, not 'count'",
            ),
            ({"label_place": "outside"}, "label_place is one of 'above', 'inside', not"),
            ({"cumulative": "percnt"}, "not 'percnt'; did you mean 'percent'"),
            ({"legend": "leftt"}, "did you mean 'left'"),
            ({"theme": "sepia"}, "theme is one of 'light', 'dark', 'print', 'contrast', 'clay', not 'sepia'"),
            ({"size": "big"}, "size is a pair of numbers, not 'big'; write it as WxH"),
            ({"size": (10, 10)}, "from 200 to 20000 pixels"),
            ({"size": (200, 200)}, "too small for this chart"),
            ({"keep": 3}, "counted already"),
        ]:
            with self.subTest(options=options), self.assertRaisesRegex(VantricError, words):
                vt.pareto_chart(TABLE, **options).plan()


class Lines(unittest.TestCase):
    def test_east_asian_text_breaks_between_its_signs(self) -> None:
        text = "釉薬のひび割れ、と（欠け）ABC word"
        lines = wrapped(text, 10, False, 55, table_measure)
        assert lines is not None
        self.assertEqual("".join(lines).replace(" ", ""), text.replace(" ", ""))
        self.assertTrue(all(table_measure(line, 10, False) <= 55 for line in lines))
        self.assertFalse([line for line in lines if line[0] in "、）" or line[-1] in "（"])
        self.assertIn("ABC", " ".join(lines), "Latin words stay whole")

    def test_what_is_beyond_the_last_line_is_cut_short(self) -> None:
        self.assertEqual(broken("aa bb cc dd", 10, False, 32, 2, table_measure)[0], "aa bb")
        lines = broken("一二三四五六七八九十", 10, False, 35, 2, table_measure)
        self.assertEqual((lines[0], lines[1][-1]), ("一二三", "…"))
