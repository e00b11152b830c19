"""Pictures: what the plan says is what is drawn, and every format says it in words too."""

import io
import re
import threading
import unittest
import warnings
import xml.etree.ElementTree as ET
import zlib
from dataclasses import replace
from itertools import combinations, pairwise, product
from unittest import mock

import matplotlib as mpl
import numpy as np
from matplotlib.backends.backend_agg import RendererAgg
from matplotlib.collections import PolyCollection
from matplotlib.figure import Figure
from PIL import Image

import vantric as vt
from tests.colors import contrast, distance
from tests.core.layout.test_charting import CASES
from vantric.core.layout import make_plan
from vantric.core.layout.text_layout import table_measure
from vantric.errors import ChartError, TargetError
from vantric.rendering import fonts
from vantric.rendering.fonts import PER_INCH, families_for, font_properties, linear_measure
from vantric.rendering.matplotlib_figure import _png_of, bare_figure
from vantric.rendering.pictures import picture
from vantric.rendering.themes import DARK, LIGHT, PRINT, THEMES, as_color, luminance, readable, theme_named

SVG = "{http://www.w3.org/2000/svg}"
COUNTS = {"Pinhole": 88, "Warping <&> $x_1$": 61, "Édge “chip”": 44, "Scratch": 9}


SERIES = [f"series-{number}" for number in range(1, 8)]


def chart() -> vt.Chart:
    return vt.pareto_chart(vt.pareto(COUNTS))


FAMILIES = ("DejaVu Sans", "Vantric Sans")


class Pictures(unittest.TestCase):
    def test_png_has_its_size_and_its_words(self) -> None:
        with Image.open(io.BytesIO(picture(chart(), "png"))) as image:
            self.assertEqual((image.size, image.mode), ((1280, 800), "RGB"))
            self.assertEqual(image.info["Title"], chart().title)
            self.assertEqual(image.info["Description"], chart().description)
            colors = {tuple(color) for _, color in image.getcolors(1 << 24) or []}
        for role in ("strong", "quiet", "ground"):
            red, green, blue = (int(LIGHT.colors[role][at : at + 2], 16) for at in (1, 3, 5))
            self.assertIn((red, green, blue), colors)

    def test_png_holds_the_pixels_that_were_drawn(self) -> None:
        chance = np.random.default_rng(5)
        for height, width in ((1, 1), (3, 7), (40, 33)):
            pixels = chance.integers(0, 256, (height, width, 3), dtype=np.uint8)
            read = Image.open(io.BytesIO(_png_of(pixels, 100.0, {"Title": "Größe & <b>"})))
            read.verify()
            read = Image.open(io.BytesIO(_png_of(pixels, 100.0, {"Title": "Größe & <b>"})))
            self.assertTrue(np.array_equal(np.asarray(read), pixels))
            self.assertEqual((read.mode, read.info["Title"], round(read.info["dpi"][0])), ("RGB", "Größe & <b>", 100))

    def test_svg_is_one_image_with_title_and_description(self) -> None:
        root = ET.fromstring(picture(chart(), "svg"))
        self.assertEqual((root.tag, root.get("role")), (SVG + "svg", "img"))
        spoken = [root.find(f".//*[@id='{name}']") for name in str(root.get("aria-labelledby")).split()]
        self.assertEqual([part.text for part in spoken if part is not None], [chart().title, chart().description])
        self.assertEqual(len(root.findall(SVG + "title")), 1)
        lines = root.findall(f".//{SVG}text")
        plan = chart().plan()
        self.assertEqual(len(lines), len(plan.texts) + sum(bool(mark.halo) for mark in plan.texts))
        self.assertTrue(all(line.get("textLength") for line in lines))  # measured: the same without the font

    def test_pdf_says_it_in_its_information(self) -> None:
        content = picture(chart(), "pdf")
        self.assertTrue(content.startswith(b"%PDF-") and content.rstrip().endswith(b"%%EOF"))
        self.assertIn(b"/Title (", content)
        plain = picture(replace(chart(), title="Four"), "pdf")
        self.assertIn(b"/Title (Four)", plain)
        self.assertIn(b"/Subject (\xfe\xff", content)

    def test_the_same_chart_gives_the_same_bytes(self) -> None:
        for kind in ("png", "svg", "pdf"):
            self.assertEqual(zlib.crc32(picture(chart(), kind)), zlib.crc32(picture(chart(), kind)), kind)

    def test_other_kinds_are_refused(self) -> None:
        with self.assertRaisesRegex(TargetError, "'.pgn' is not a kind of picture; did you mean 'png'"):
            picture(chart(), "pgn")

    def test_bars_go_to_the_canvas_as_one_collection(self) -> None:
        few, many = (
            len(bare_figure(vt.pareto_chart({f"C{n:04}": 5000 // n for n in range(1, size)}))[0].get_children())
            for size in (9, 500)
        )
        self.assertLess(many, 4 * few)
        self.assertEqual(
            sorted(len(a.get_paths()) for a in bare_figure(chart())[0].get_children() if isinstance(a, PolyCollection)),
            [1, 1, 4],  # the wash behind the vital few, the rim of the pale bar, the bars
        )

    def test_the_settings_of_the_caller_stay_and_do_not_matter(self) -> None:
        plain = picture(chart(), "svg")
        with mpl.rc_context(
            {
                "svg.fonttype": "none",
                "text.usetex": True,
                "figure.dpi": 50,
                "savefig.bbox": "tight",
                "figure.constrained_layout.use": True,
                "lines.marker": "x",
                "path.simplify": True,
            }
        ):
            before = dict(mpl.rcParams)
            self.assertEqual(picture(chart(), "svg"), plain)
            self.assertEqual(dict(mpl.rcParams), before)

    def test_threads_draw_the_same(self) -> None:
        plain, found = picture(chart(), "png"), []
        threads = [threading.Thread(target=lambda: found.append(picture(chart(), "png"))) for _ in range(4)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(found, [plain] * 4)


class Lettering(unittest.TestCase):
    def test_no_text_is_larger_than_its_place(self) -> None:
        """With the plan's boxes apart (test_charting), no drawn text covers another."""
        renderer = RendererAgg(1, 1, PER_INCH)
        for name, counts in CASES.items():
            drawn = vt.pareto_chart(vt.pareto(counts))
            families = families_for(drawn.categories)
            plan = make_plan(drawn, (1280, 800), linear_measure(families))
            with mpl.rc_context({"text.hinting": "none"}):
                for mark in plan.texts:
                    font = font_properties(families, mark.size, bold=mark.bold)
                    width, height, descent = renderer.get_text_width_height_descent(mark.text, font, False)
                    if mark.rotation in (0, 180):
                        place = mark.box.width, mark.y - mark.box.bottom, mark.box.top - mark.y
                    elif mark.rotation in (90, 270):
                        place = mark.box.height, mark.box.width, mark.box.width
                    else:
                        continue
                    with self.subTest(case=name, text=mark.text):
                        self.assertLessEqual(width, place[0] + 1.5)
                        self.assertLessEqual(descent, place[1] + 0.5)
                        self.assertLessEqual(height - descent, place[2] + 0.5)

    def test_signs_that_kerning_parts_are_measured_so(self) -> None:
        renderer = RendererAgg(1, 1, PER_INCH)
        with mpl.rc_context({"text.hinting": "none"}):
            for text, family in product(("A" * 36, "WAWA", "fiffi", "To Te", "AVAVAV", "11111"), FAMILIES):
                font = font_properties((family,), 15.5, bold=False)
                drawn = renderer.get_text_width_height_descent(text, font, False)[0]
                self.assertLessEqual(drawn, linear_measure((family,))(text, 15.5, False) + 1, (text, family))

    def test_the_table_the_outlines_and_the_renderer_agree(self) -> None:
        renderer = RendererAgg(1, 1, PER_INCH)
        with mpl.rc_context({"text.hinting": "none"}):
            for text in (
                "6 of 19 defects account for 82% of 3,834 records",
                "AVATAR To. Wa, 1,111.7",
                "Žluťoučký Ωμ Жук",
            ):
                for bold in (False, True):
                    font = font_properties((fonts.BASE_FAMILY,), 28, bold=bold)
                    drawn = renderer.get_text_width_height_descent(text, font, False)[0]
                    table = table_measure(text, 28, bold)
                    self.assertLess(abs(drawn - table), 1.0, text)  # the renderer counts in whole pixels
                    strides = sum(fonts.stride(before, sign, bold) for before, sign in pairwise(["", *text]))
                    self.assertAlmostEqual((strides + fonts.outline(text[-1], bold)[2]) * 28, table, places=6)

    def test_signs_that_no_font_has_are_told_once(self) -> None:
        counts = {"emoji \U0001f642": 3, "日本": 2, "plain": 1}
        with warnings.catch_warnings(record=True) as caught, mock.patch.object(fonts, "_others", return_value=[]):
            warnings.simplefilter("always")
            picture(vt.pareto_chart(counts), "png")
        told = [str(warning.message) for warning in caught]
        self.assertEqual(told, ["no installed font has 3 of the characters in the labels: U+65E5 U+672C U+1F642"])

    def test_other_fonts_are_asked_for_signs_that_the_first_lacks(self) -> None:
        held = {"other": frozenset({ord("日")}), "third": frozenset({ord("日"), ord("本")})}
        others = mock.patch.object(fonts, "_others", return_value=[("Other", "other"), ("Third", "third")])
        signs = mock.patch.object(fonts, "_signs", side_effect=lambda path: held.get(path, frozenset(range(256))))
        with others, signs:
            self.assertEqual(families_for(["日本", "x"]), ("Vantric Sans", "Other", "Third"))
            self.assertEqual(families_for(["plain", "é"]), ("Vantric Sans",))


class Figures(unittest.TestCase):
    def test_a_picture_cut_to_what_it_shows_is_whole(self) -> None:
        def saved(figure: Figure, **options: object) -> Image.Image:
            out = io.BytesIO()
            figure.savefig(out, **options)  # type: ignore[arg-type]
            return Image.open(out).convert("RGB")

        for dpi in (100, 150):
            plain = saved(chart().figure(), dpi=dpi)
            pad = round(0.1 * dpi)
            cut = saved(chart().figure(), dpi=dpi, bbox_inches="tight", pad_inches=0.1)
            width, height = plain.size
            self.assertEqual(cut.size, (width + 2 * pad, height + 2 * pad))
            inside = cut.crop((pad, pad, width + pad, height + pad))
            self.assertLess(np.abs(np.asarray(inside, int) - np.asarray(plain, int)).mean(), 0.5)

    def test_a_notebook_gets_the_picture_and_the_words(self) -> None:
        shown, sizes = chart()._repr_mimebundle_()
        self.assertEqual(sizes, {"image/png": {"width": 1280, "height": 800}})
        self.assertTrue(shown["image/png"].startswith(b"\x89PNG"))
        self.assertEqual(shown["text/plain"], chart().description)


class Look(unittest.TestCase):
    def test_text_and_marks_stand_out_from_what_is_beneath_them(self) -> None:
        texts = (
            "title",
            "subtitle",
            "tick",
            "note",
            "value",
            "value-quiet",
            "category-quiet",
            "cut-text",
            "class-text",
        )
        texts += ("class-name", "line-title", "moment-text", "point-value", "reference-text", "axis-line")
        marks = ("strong", "strong-b", "rim-strong-c", "line", "reference", "axis", "cut", "bracket", "bracket-rest")
        marks += ("baseline", "zero", "moment", "interval", "rim-quiet", "line-2")
        pairs = [(role, ground, 4.5) for role in texts for ground in ("ground", "wash")]
        pairs += [(role, ground, 3.0) for role in (*marks, *SERIES) for ground in ("ground", "wash", "band")[:2]]
        pairs += [(f"{role}-value", "ground", 4.5) for role in SERIES]
        pairs += [(f"on-{role}", role, 4.5) for role in (*SERIES, "strong", "strong-b", "strong-c", "quiet")]
        pairs += [("rim-quiet", "quiet", 3.0), ("rim-strong-c", "strong-c", 3.0), ("line", "quiet", 4.1)]
        for number in range(1, 8):
            pairs += [(f"rim-pale-{number}", f"pale-{number}", 3.0), (f"on-pale-{number}", f"pale-{number}", 4.5)]
        for number in range(1, 6):
            pairs += [(f"mark-{number}", ground, 3.0) for ground in ("ground", "band")]
            pairs.append((f"mark-{number}-value", "ground", 4.5))
        for theme in THEMES.values():
            for role, ground, least in pairs:
                with self.subTest(theme=theme.name, role=role, ground=ground):
                    self.assertGreaterEqual(contrast(theme.color(role), theme.color(ground)), least)

    def test_neighbors_are_told_apart_by_every_eye(self) -> None:
        pairs = [
            ("strong", "quiet"),
            ("strong", "strong-b"),
            ("strong-b", "strong-c"),
            ("line", "strong"),
            ("line", "quiet"),
            ("line", "line-2"),
            *combinations(SERIES, 2),
        ]
        for theme in (LIGHT, DARK):
            for one, other in pairs:
                for sight in (None, "protanopia", "deuteranopia", "tritanopia"):
                    with self.subTest(theme=theme.name, one=one, other=other, sight=sight):
                        apart = distance(theme.colors[one], theme.colors[other], deficiency=sight)
                        self.assertGreater(apart, 12.9)  # by CIEDE2000

    def test_print_is_told_apart_without_color(self) -> None:
        for one, other in (("strong", "quiet"), *pairwise(SERIES[:6])):
            lights = [luminance(PRINT.colors[role]) for role in (one, other)]
            patterns = {PRINT.hatches.get(role) for role in (one, other)}
            apart = (max(lights) + 0.05) / (min(lights) + 0.05)
            self.assertTrue(apart > 1.5 or len(patterns) == 2, (one, other))
        self.assertTrue(all(len({color[at : at + 2] for at in (1, 3, 5)}) == 1 for color in PRINT.colors.values()))
        self.assertNotEqual(PRINT.dashes.get("line"), PRINT.dashes.get("line-2"))

    def test_every_role_of_a_plan_has_a_color(self) -> None:
        for counts in CASES.values():
            plan = chart().plan() if not counts else make_plan(vt.pareto_chart(counts))
            roles = {mark.role for mark in (*plan.texts, *plan.rules)} | set(plan.bars.roles) | set(plan.swatches.roles)
            for theme in THEMES.values():
                self.assertTrue(all(re.fullmatch("#[0-9a-f]{6}", theme.color(role)) for role in roles))

    def test_own_colors_stay_readable(self) -> None:
        self.assertEqual(as_color("TeaL"), "#008080")
        self.assertEqual(as_color(" #AbC "), "#aabbcc")
        for ground in (LIGHT.ground, DARK.ground):
            for color in ("#ffff00", "#000080", "#808080"):
                self.assertGreaterEqual(contrast(readable(color, ground), ground), 4.5)
        with self.assertRaisesRegex(ChartError, "'tael' is not a color; did you mean 'teal'"):
            as_color("tael")
        with self.assertRaisesRegex(ChartError, "there is no theme 'drak'; did you mean 'dark'"):
            theme_named("drak")
