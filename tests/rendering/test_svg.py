"""The semantic SVG: groups by series, a title for every mark, real text, nothing that runs."""

import re
import subprocess
import sys
import unittest
import xml.etree.ElementTree as ET

import vantric as vt
from vantric.rendering.pictures import picture
from vantric.rendering.web_font import font_faces, latin_face, latin_path, picture_faces

SVG = "{http://www.w3.org/2000/svg}"
MONTHS = ["2026-01", "2026-02", "2026-03"]


def parsed(chart: vt.Chart | vt.PanelChart) -> ET.Element:
    return ET.fromstring(picture(chart, "svg"))


class Semantic(unittest.TestCase):
    def chart(self, **look: object) -> vt.Chart:
        bars = [vt.Bars("Good <b>", [600, 580, None], unit="tiles"), vt.Bars("Scrap", [12, 20, 15], unit="tiles")]
        rate = vt.Line("Rejected", [2.0, 3.4, 2.4], axis="secondary", unit="%")
        return vt.Chart(MONTHS, [*bars, rate], together="stacked", **look)  # type: ignore[arg-type]

    def test_each_series_has_a_group_and_each_mark_says_what_it_is(self) -> None:
        root = parsed(self.chart())
        groups = {one.get("id"): one for one in root.iter(SVG + "g") if one.get("id")}
        self.assertLessEqual({"series-1-bars", "series-2-bars", "series-3-line"}, set(groups))
        titles = [one.text for one in groups["series-1-bars"].iter(SVG + "title")]
        self.assertEqual(titles, ["2026-01, Good <b>: 600 tiles", "2026-02, Good <b>: 580 tiles"])
        said = {one.text for one in root.iter(SVG + "title")}
        self.assertIn("2026-02, Rejected: 3.4%", said)
        numbers = [one.get("data-category") for one in groups["series-2-bars"].iter(SVG + "rect")]
        self.assertEqual(numbers, ["1", "2", "3"])

    def test_its_letters_come_ready_or_are_cut_for_it(self) -> None:
        for bold in (False, True):
            self.assertEqual(latin_path(bold).read_text(encoding="ascii"), latin_face(bold))
        plain, other = picture_faces([("Pareto chart", False), ("7 of 9", True)]), picture_faces([("Größe", False)])
        self.assertIn(latin_face(False), plain)
        self.assertIn(latin_face(True), plain)
        self.assertNotIn(latin_face(False), other)
        self.assertEqual(other, font_faces([("Größe", False)]))
        self.assertEqual(picture_faces([]), "")

    def test_ids_are_unique_and_nothing_runs(self) -> None:
        table = vt.pareto({"d": list("aabbbc"), "k": list("xyxyxy")}, "d", split="k")
        broken = vt.Chart(
            list(range(30)),
            [
                vt.Line("a", [n if n % 3 else None for n in range(30)]),
                vt.Stems("b", list(range(30))),
            ],
        )
        for chart in (self.chart(), self.chart(theme="print"), vt.pareto_chart(table, panels=True), broken):
            root = parsed(chart)
            ids = [one.get("id") for one in root.iter() if one.get("id")]
            self.assertEqual(len(ids), len(set(ids)))
            names = {one.tag.removeprefix(SVG) for one in root.iter()}
            self.assertFalse(names & {"script", "foreignObject", "image", "a"})
            # The one style sheet holds the characters that are drawn, and fetches nothing.
            rules = "".join(one.text or "" for one in root.iter(SVG + "style"))
            self.assertRegex(rules, r"^(@font-face\{[^{}]*\})*$")
            self.assertFalse([link for link in re.findall(r"url\(([^)]*)\)", rules) if not link.startswith("data:")])
            self.assertFalse(
                [key for one in root.iter() for key in one.attrib if key == "style" or key.startswith("on")]
            )

    def test_texts_are_those_of_the_plan_with_their_widths(self) -> None:
        chart = self.chart()
        drawn = parsed(chart)
        halos = {line for group in drawn.iter(SVG + "g") if group.get("class") == "halo" for line in group}
        lines = [
            ("".join(one.itertext()), float(one.get("x", 0))) for one in drawn.iter(SVG + "text") if one not in halos
        ]
        self.assertEqual(len(halos), sum(bool(mark.halo) for mark in chart.plan().texts))
        planned = [(mark.text, round(mark.x, 2)) for mark in chart.plan().texts]
        self.assertEqual(sorted(lines), sorted(planned))

    def test_names_are_only_text(self) -> None:
        names = ['"><script>alert(1)</script>', "a & b", "c\x00d\x1b", "<![CDATA[", "שריטה", "日本語のラベル", "]]>"]
        chart = vt.Chart(names, [vt.Bars('q"uote\x07', list(range(7))), vt.Line("<b>", list(range(7)))], title="<i>&")
        root = parsed(chart)
        self.assertFalse({"script", "i", "b"} & {one.tag.removeprefix(SVG) for one in root.iter()})
        self.assertIn("a & b, <b>: 1", {one.text for one in root.iter(SVG + "title")})

    def test_patterns_and_clipping(self) -> None:
        content = picture(self.chart(theme="print"), "svg").decode()
        self.assertIn("<pattern", content)
        clipped = vt.Chart(MONTHS, [vt.Line("a", [1, 50, 2])], primary_limits=(0, 10), clip=True)
        self.assertIn('clip-path="url(#frame)"', picture(clipped, "svg").decode())

    def test_it_is_written_without_matplotlib(self) -> None:
        code = (
            "import sys, vantric as vt; from vantric.rendering.pictures import picture;"
            "picture(vt.pareto_chart({'a': 3, 'b': 2}), 'svg'); print('matplotlib' in sys.modules)"
        )
        found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertEqual(found.stdout.strip(), "False")
