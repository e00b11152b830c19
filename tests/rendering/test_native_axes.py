"""A chart in the caller's own figure: real axes, whose artists the caller changes as anywhere else."""

from __future__ import annotations

import io
import pickle
import unittest
from importlib.resources import as_file, files
from itertools import combinations
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from matplotlib.axes import Axes
from matplotlib.container import BarContainer
from matplotlib.figure import Figure
from matplotlib.transforms import Bbox

import vantric as vt

COUNTS = {"Pinhole": 88, "Edge chip": 61, "Warping": 30, "Scratch": 23}
MONTHS = ["2026-01", "2026-02", "2026-03"]
LAYOUTS = (None, "constrained", "tight")


def demo(name: str) -> Any:
    return as_file(files("vantric.demo") / "data" / name)


def pareto(**options: Any) -> vt.Chart:
    return vt.pareto(COUNTS).chart(orientation="vertical", **options)


def drawn(chart: Any, layout: str | None = None, size: tuple[float, float] = (8, 5), **options: Any) -> Any:
    figure = Figure(size, layout=layout)
    return figure, chart.draw(figure.subplots(), **options)


def texts_of(axes: Axes) -> list[str]:
    return [text.get_text() for text in axes.texts]


def shares_of_zero(primary: Axes, secondary: Axes, horizontal: bool = False) -> list[float]:
    """Return where zero is on both axes, in pixels."""
    return [axes.transData.transform((0, 0))[0 if horizontal else 1] for axes in (primary, secondary)]


class Artists(unittest.TestCase):
    def test_bars_are_a_container_and_lines_are_lines_with_their_names_and_values(self) -> None:
        figure, (primary, secondary) = drawn(pareto())
        [bars] = [item for item in primary.containers if isinstance(item, BarContainer)]
        self.assertEqual(bars.get_label(), "Frequency")
        self.assertEqual([patch.get_height() for patch in bars], [88, 61, 30, 23])
        [line] = [item for item in secondary.lines if not item.get_label().startswith("_")]
        self.assertEqual(line.get_label(), "Cumulative percent")
        np.testing.assert_allclose(line.get_ydata(), np.cumsum([88, 61, 30, 23]) / 2.02)
        np.testing.assert_array_equal(line.get_xdata(), range(4))
        self.assertEqual([label.get_text() for label in primary.get_xticklabels()], list(COUNTS))
        self.assertIs(primary.figure, figure)

    def test_limits_and_ticks_are_those_of_the_plan(self) -> None:
        for options in ({}, {"primary_log": True}, {"policy": "separate"}, {"primary_limits": (0, 900)}):
            chart = vt.Chart(
                MONTHS, [vt.Bars("a", [640, 590, 31]), vt.Line("b", [3, 5, 4], axis="secondary")], **options
            )
            for horizontal in (False, True):
                turned = chart.with_(orientation="horizontal") if horizontal else chart
                _, (primary, secondary) = drawn(turned)
                for axes, scale in ((primary, turned.scales.primary), (secondary, turned.scales.secondary)):
                    axis = axes.xaxis if horizontal else axes.yaxis
                    np.testing.assert_allclose(axis.get_view_interval(), (scale.lower, scale.upper))
                    self.assertLessEqual(set(axis.get_majorticklocs()), set(scale.ticks), options)
                    self.assertEqual(axis.get_scale(), scale.kind)

    def test_the_legend_of_the_primary_axes_names_every_series_once(self) -> None:
        chart = vt.Chart(
            MONTHS,
            [
                vt.Bars("a", [3, 1, 2]),
                vt.Bars("b", [3, 1, 2]),
                vt.Line("c", [3, 1, 2]),
                vt.Points("d", [3, 1, 2]),
                vt.Area("e", [30, 10, 20], axis="secondary"),
                vt.Steps("f", [30, 10, 20], axis="secondary"),
                vt.Stems("g", [30, 10, 20], axis="secondary"),
                vt.Bars("h", [30, 10, 20], axis="secondary"),
            ],
        )
        figure, (primary, secondary) = drawn(chart)
        legend = primary.legend()
        self.assertEqual(sorted(text.get_text() for text in legend.get_texts()), list("abcdefgh"))
        self.assertEqual(sorted(secondary.get_legend_handles_labels()[1]), list("efgh"))
        figure.draw_without_rendering()

    def test_missing_values_leave_a_gap_and_bridged_ones_none(self) -> None:
        chart = vt.Chart(
            list("abc"),
            [vt.Bars("x", [3, None, 2]), vt.Line("y", [1, None, 3]), vt.Line("z", [1, None, 3], bridge=True)],
        )
        figure, (primary, _) = drawn(chart)
        gap, bridged = primary.lines[:2]
        self.assertTrue(np.isnan(gap.get_ydata()[1]))
        np.testing.assert_array_equal(bridged.get_xdata(), [0, 2])
        figure.draw_without_rendering()

    def test_a_line_from_the_origin_starts_at_the_first_edge(self) -> None:
        _, (_, secondary) = drawn(pareto(line_at="edge"))
        line = secondary.lines[0]
        np.testing.assert_array_equal(line.get_xdata(), [-0.5, 0.5, 1.5, 2.5, 3.5])
        self.assertEqual(line.get_ydata()[0], 0)


class Changes(unittest.TestCase):
    def test_titles_labels_and_ticks_are_changed_as_anywhere_else(self) -> None:
        for layout in LAYOUTS:
            with self.subTest(layout=layout):
                figure, (primary, secondary) = drawn(pareto(title="Ours", subtitle="below it"), layout)
                self.assertEqual(primary.get_title(), "Ours")
                primary.set_title("Theirs")
                primary.set_ylabel("Tiles")
                secondary.set_ylabel("Share")
                primary.tick_params(axis="y", labelsize=17, labelcolor="red")
                primary.set_xticks(range(4), ["A", "B", "C", "D"])
                if layout is None:
                    figure.tight_layout()
                figure.draw_without_rendering()
                self.assertEqual(
                    (primary.get_title(), primary.get_ylabel(), secondary.get_ylabel()), ("Theirs", "Tiles", "Share")
                )
                self.assertEqual({label.get_fontsize() for label in primary.get_yticklabels()}, {17})
                self.assertEqual([label.get_text() for label in primary.get_xticklabels()], list("ABCD"))
                page = figure.bbox
                for text in (primary.title, primary.yaxis.label, secondary.yaxis.label, *primary.get_xticklabels()):
                    box = text.get_window_extent()
                    self.assertTrue(
                        page.x0 <= box.x0 and box.x1 <= page.x1 and page.y0 <= box.y0 and box.y1 <= page.y1, text
                    )

    def test_the_title_stands_above_all_that_is_over_the_frame(self) -> None:
        for turned in ("vertical", "horizontal"):
            with demo("inspections.csv") as log:
                chart = vt.pareto(log, by="defect", keep=7).chart(orientation=turned)
            figure, (primary, secondary) = drawn(chart, "constrained", (10, 6))
            primary.set_title("Another title")
            figure.draw_without_rendering()
            head = primary.child_axes[0].xaxis.label
            labels = [text for text in primary.texts if text.get_text()]
            boxes = [text.get_window_extent() for text in (head, *labels, secondary.xaxis.label)]
            self.assertFalse([box for box in boxes if Bbox.intersection(box, primary.title.get_window_extent())])
            self.assertFalse([box for box in boxes[1:] if Bbox.intersection(box, boxes[0])], turned)

    def test_limits_of_one_axis_move_the_other_and_zero_stays_beside_zero(self) -> None:
        chart = vt.Chart(MONTHS, [vt.Bars("a", [6, -3, 2]), vt.Line("b", [40, 10, -50], axis="secondary")])
        for horizontal in (False, True):
            for layout in LAYOUTS:
                with self.subTest(layout=layout, horizontal=horizontal):
                    turned = chart.with_(orientation="horizontal") if horizontal else chart
                    figure, (primary, secondary) = drawn(turned, layout)
                    name = "x" if horizontal else "y"
                    for axes, limits in ((primary, (-10, 30)), (secondary, (-400, 100)), (primary, (-1, 1))):
                        getattr(axes, f"set_{name}lim")(limits)
                        if layout is None:
                            figure.tight_layout()
                        figure.draw_without_rendering()
                        one, other = shares_of_zero(primary, secondary, horizontal)
                        self.assertAlmostEqual(one, other, places=6)

    def test_axes_that_are_not_linked_keep_their_own_limits(self) -> None:
        _, (primary, secondary) = drawn(pareto(), link=False)
        before = secondary.get_ylim()
        primary.set_ylim(0, 1000)
        self.assertEqual(secondary.get_ylim(), before)
        _, (primary, secondary) = drawn(pareto())
        primary.set_ylim(0, 404)
        np.testing.assert_allclose(secondary.get_ylim(), (0, 200))
        secondary.set_ylim(0, 100)
        np.testing.assert_allclose(primary.get_ylim(), (0, 202))

    @given(st.floats(-1e4, 1e4), st.floats(0.01, 1e4), st.booleans())
    @settings(max_examples=20, deadline=None)
    def test_moved_limits_have_ticks_that_can_be_read(self, low: float, span: float, is_log: bool) -> None:
        chart = vt.Chart(
            MONTHS, [vt.Bars("a", [640, 590, 31]), vt.Line("b", [3, 5, 4], axis="secondary")], primary_log=is_log
        )
        figure, (primary, secondary) = drawn(chart)
        low = abs(low) + 0.01 if is_log else low
        primary.set_ylim(low, low + span)
        figure.draw_without_rendering()
        for axes in (primary, secondary):
            ticks = [tick for tick in axes.get_yticks() if min(axes.get_ylim()) <= tick <= max(axes.get_ylim())]
            self.assertLessEqual(len(ticks), 13)
            self.assertEqual(len(axes.get_yticklabels()), len(axes.get_yticks()))
        if not is_log and chart.scales.shared_ticks:
            one, other = (axes.get_yticks() for axes in (primary, secondary))
            np.testing.assert_allclose(
                primary.transData.transform([(0, tick) for tick in one])[:, 1],
                secondary.transData.transform([(0, tick) for tick in other])[:, 1],
                atol=1e-3,
            )

    def test_a_log_axis_follows_limits_that_are_far_beyond_its_own(self) -> None:
        chart = vt.Chart(
            MONTHS, [vt.Bars("a", [6, 3, 2]), vt.Line("b", [1, 50, 900], axis="secondary")], secondary_log=True
        )
        figure, (primary, secondary) = drawn(chart)
        for limits in ((0, 5000), (-5000, 10), (0, 7)):
            primary.set_ylim(limits)
            figure.draw_without_rendering()
            self.assertTrue(np.isfinite(secondary.get_ylim()).all())

    def test_what_is_beyond_moved_limits_is_cut_at_the_frame(self) -> None:
        figure, (primary, secondary) = drawn(pareto())
        self.assertFalse(secondary.lines[0].get_clip_on())
        primary.set_ylim(0, 90)
        self.assertTrue(secondary.lines[0].get_clip_on())
        figure.draw_without_rendering()


class Anywhere(unittest.TestCase):
    def test_small_shared_and_divided_figures_hold_charts(self) -> None:
        chart = vt.pareto({f"Defect {n}": 90 - 9 * n for n in range(9)}).chart(orientation="vertical")
        for layout in LAYOUTS:
            figure = Figure(layout=layout)
            upper, lower = figure.subplots(2, 1, sharex=True)
            chart.draw(upper)
            lower.plot([1, 2, 3])
            figure.draw_without_rendering()
            self.assertEqual(lower.get_xlim(), (-0.5, 8.5))
            figure = Figure((9, 4), layout=layout)
            left, right = figure.subplots(1, 2, sharey=True)
            for axes in (left, right):
                chart.draw(axes)
            figure.draw_without_rendering()
            self.assertEqual(left.get_ylim(), right.get_ylim())
        figure = Figure((12, 5), layout="constrained")
        for part in figure.subfigures(1, 2):
            chart.draw(part.subplots())
        figure.draw_without_rendering()
        self.assertEqual(len(figure.axes), 4)

    def test_a_figure_with_a_chart_can_be_pickled(self) -> None:
        figure, (primary, _) = drawn(pareto())
        primary.set_ylim(0, 300)
        again = pickle.loads(pickle.dumps(figure))
        again.draw_without_rendering()
        self.assertEqual(again.axes[0].get_ylim(), (0, 300))
        self.assertEqual([text.get_text() for text in again.axes[0].get_xticklabels()], list(COUNTS))

    def test_what_are_no_axes_is_refused_in_one_line(self) -> None:
        figure = Figure()
        for wrong, words in (
            (figure, "ax is Figure, not axes: give one of figure.subplots()"),
            (figure.subplots(1, 2), "ax is ndarray, not axes"),
            (Figure().add_subplot(projection="polar"), "axes of the projection 'polar'"),
        ):
            with self.assertRaises(vt.ChartError) as caught:
                pareto().draw(wrong)
            self.assertIn(words, str(caught.exception))

    def test_what_is_drawn_over_a_chart_is_in_its_legend_and_in_front(self) -> None:
        _, (primary, _) = drawn(pareto())
        line = primary.axhline(50, label="target")
        bars = next(item for item in primary.containers if isinstance(item, BarContainer))
        self.assertGreater(line.get_zorder(), bars[0].get_zorder())
        self.assertIn("target", [text.get_text() for text in primary.legend().get_texts()])
        self.assertGreater(primary.get_legend().get_zorder(), max(text.get_zorder() for text in primary.texts))

    def test_signs_of_formulas_are_text(self) -> None:
        chart = vt.pareto({"$a$": 5, "b_{2}": 3, "%d": 1}).chart(orientation="vertical", title="$x$ & <y>")
        figure, (primary, _) = drawn(chart)
        figure.savefig(io.BytesIO())
        self.assertEqual([label.get_text() for label in primary.get_xticklabels()], ["$a$", "b_{2}", "%d"])
        shown = {label.get_text(): label.get_parse_math() for label in primary.get_xticklabels()}
        self.assertEqual(shown, {"$a$": False, "b_{2}": True, "%d": True})
        self.assertFalse(primary.title.get_parse_math())


class Labels(unittest.TestCase):
    def test_labels_keep_their_distance_when_axes_change(self) -> None:
        figure, (primary, _) = drawn(pareto())
        label = next(text for text in primary.texts if text.get_text() == "61")
        tops = []
        for limits in ((0, 202), (0, 404)):
            primary.set_ylim(limits)
            figure.draw_without_rendering()
            top = primary.transData.transform((1, 61))
            box = label.get_window_extent()
            tops.append((box.y0 - top[1], (box.x0 + box.x1) / 2 - top[0]))
        np.testing.assert_allclose(tops[0], tops[1], atol=1e-6)
        self.assertLess(abs(tops[0][1]), 1)

    def test_no_label_covers_another_with_the_room_that_layout_engines_leave(self) -> None:
        with demo("inspections.csv") as log, demo("firings.csv") as sheet:
            charts = [
                vt.pareto(log, by="defect", keep=7).chart(orientation=turned) for turned in ("vertical", "horizontal")
            ]
            charts += [
                vt.combine(sheet, "month", bars="first_firing", line="percent:rejected/first_firing"),
                vt.crosstab(log, "product", "kiln").chart(together="stacked"),
            ]
        for layout in ("constrained", "tight"):
            figure = Figure((14, 10), layout=layout)
            for axes, chart in zip(figure.subplots(2, 2).flat, charts, strict=True):
                chart.draw(axes)
            figure.draw_without_rendering()
            for axes in figure.axes:
                boxes = {text.get_text(): text.get_window_extent() for text in axes.texts if text.get_text()}
                for (one, first), (other, second) in combinations(boxes.items(), 2):
                    both = Bbox.intersection(first.padded(-1.5), second.padded(-1.5))
                    self.assertIsNone(both, (layout, one, other))

    def test_outside_texts_can_be_read_on_the_figures_ground(self) -> None:
        from vantric.rendering.themes import contrast

        _, (primary, secondary) = drawn(pareto(theme="dark"))
        from matplotlib.colors import to_hex

        for axes in (primary, secondary):
            for label in axes.get_yticklabels():
                self.assertGreaterEqual(contrast(to_hex(label.get_color()), "#ffffff"), 4.4)


class Wholes(unittest.TestCase):
    def test_panels_are_axes_of_their_own_within_those_of_the_user(self) -> None:
        with demo("inspections.csv") as log:
            chart = vt.pareto(log, by="product", split="kiln").chart(panels=True)
        figure, drawn_panels = drawn(chart, None, (12, 8))
        self.assertEqual(len(drawn_panels), 4)
        outer = figure.axes[0].get_window_extent()
        for primary, secondary in drawn_panels:
            box = primary.get_window_extent()
            self.assertTrue(outer.x0 <= box.x0 and box.x1 <= outer.x1)
            self.assertEqual(secondary.get_ylim()[1] if secondary else 100, 100)
        self.assertGreater(len({text for axes in figure.axes for text in texts_of(axes)}), 4)

    def test_heads_of_columns_that_are_named_like_a_series_are_there(self) -> None:
        with demo("inspections.csv") as log:
            chart = vt.compare(log, by="product", split="shift", groups=("Early", "Night")).chart()
        _, panels = drawn(chart, None, (12, 8))
        there = {text for primary, _ in panels for text in texts_of(primary)}
        self.assertLessEqual({"Change", "95% interval"}, there)

    def test_a_bar_of_shares_is_drawn_where_the_axes_are(self) -> None:
        figure, (primary, secondary) = drawn(vt.tally(COUNTS).chart(share_bar=True), None, (12, 8))
        self.assertIsNone(secondary)
        out = io.BytesIO()
        figure.savefig(out)
        self.assertGreater(len(primary.get_children()), 10)

    def test_without_axes_there_is_a_figure_of_the_charts_size(self) -> None:
        for chart in (pareto(size=(900, 600)), vt.tally(COUNTS).chart(share_bar=True)):
            primary = chart.draw().primary
            width, height = primary.figure.get_size_inches() * 100
            self.assertEqual((round(width), round(height)), tuple(map(round, chart.size)))

    def test_a_figure_is_the_picture_that_is_saved(self) -> None:
        chart = pareto()
        out = io.BytesIO()
        chart.figure().savefig(out, dpi=100)
        from PIL import Image

        one, other = (
            np.asarray(Image.open(io.BytesIO(data)).convert("L"), float) for data in (out.getvalue(), chart.to_png())
        )
        self.assertEqual(one.shape, other.shape)
        self.assertLess(np.abs(one - other).mean(), 2.0)

    def test_axes_too_small_for_a_chart_say_which_size_would_do(self) -> None:
        with demo("inspections.csv") as log:
            chart = vt.compare(log, by="defect", split="shift", groups=("Early", "Night")).chart()
        with self.assertRaisesRegex(vt.ChartError, "would do"):
            drawn(chart, None, (3, 2))


if __name__ == "__main__":
    unittest.main()
