"""A picture whose text is drawn as outlines is the picture that Matplotlib's own letters make."""

import io
import unittest

import matplotlib as mpl
import numpy as np
from PIL import Image

import vantric as vt
from vantric.rendering.matplotlib_figure import bare_figure
from vantric.rendering.pictures import picture

TURNED = {f"A long name of defect number {number}": 50 - number for number in range(24)}


def dots(chart: vt.Chart, *, outlined: bool) -> np.ndarray:
    """Return the dots of a picture."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg

    with mpl.rc_context({"path.simplify": False, "text.hinting": "none"}):
        canvas = FigureCanvasAgg(bare_figure(chart, outlined=outlined)[0])
        canvas.draw()
    return np.asarray(canvas.buffer_rgba()).astype(int)


class Outlines(unittest.TestCase):
    def charts(self) -> dict[str, vt.Chart]:
        table = vt.pareto({"AVATAR To": 5, "Wave, Ty.": 3, "10/11%": 1})
        return {
            "level": vt.pareto_chart(table),
            "turned": vt.pareto_chart(vt.pareto(TURNED)),
            "dark": vt.pareto_chart(table, theme="dark"),
            "print": vt.pareto_chart(table, theme="print"),
            "lying": vt.pareto_chart(table, orientation="horizontal"),
        }

    def test_as_letters_are(self) -> None:
        for name, chart in self.charts().items():
            one, other = dots(chart, outlined=True), dots(chart, outlined=False)
            with self.subTest(name):
                apart = np.abs(one - other).max(axis=2)
                self.assertLess(apart.mean(), 0.6)  # of 255: the edges of letters
                self.assertLess((apart > 160).mean(), 0.0005)
                self.assertGreater((apart > 0).mean(), 0.0)

    def test_what_the_base_family_has_not_is_drawn_as_letters(self) -> None:
        for label in ("缺陷", "عيب", "e\u0301cart", "Дефект"):
            chart = vt.pareto_chart(vt.pareto({label: 5, "Plain": 3}))
            image = Image.open(io.BytesIO(picture(chart, "png", tell=lambda message: None)))
            with self.subTest(label):
                self.assertEqual(image.size, (1280, 800))

    def test_a_pdf_holds_text(self) -> None:
        import pypdf

        chart = self.charts()["level"]
        text = pypdf.PdfReader(io.BytesIO(picture(chart, "pdf"))).pages[0].extract_text()
        self.assertIn("AVATAR", text)


if __name__ == "__main__":
    unittest.main()
