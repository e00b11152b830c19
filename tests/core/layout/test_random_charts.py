"""Three hundred random charts: no text over another or a mark, every mark in its place, every number true."""

import unittest
import warnings
import xml.etree.ElementTree as ET

from tests.geometry import misplaced, misread, read_back
from tests.randomcharts import random_chart
from tests.rendered import faults
from vantric.errors import VantricError
from vantric.rendering.pictures import picture


class Random(unittest.TestCase):
    def test_three_hundred(self) -> None:
        drawn, seed = 0, 40_000
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            while drawn < 300:
                seed += 1
                try:
                    chart, look = random_chart(seed)
                    found = [*faults(chart), *misplaced(chart), *misread(chart, si=look.get("si", False))]
                except VantricError as error:
                    self.assertNotIn("\n", str(error))
                    continue
                self.assertEqual(found, [], seed)
                drawn += 1
                if drawn % 10 == 0:
                    lines = ET.fromstring(picture(chart, "svg")).iter("{http://www.w3.org/2000/svg}text")
                    texts = chart.plan().texts
                    self.assertEqual(len(list(lines)), len(texts) + sum(bool(mark.halo) for mark in texts))
        self.assertLess(seed, 40_000 + 2 * 300)  # most of them are drawn, not refused

    def test_the_reader_reads(self) -> None:
        for text, si, number, half in (
            ("-$3,838.5", False, -3838.5, 0.05),
            ("40.5 k", True, 40_500, 50),
            ("1.235e+18", False, 1.235e18, 5e14),
            ("12%", False, 12, 0.5),
            ("5.0 M", True, 5e6, 5e4),
        ):
            found = read_back(text, si=si)
            self.assertAlmostEqual(found[0], number, delta=abs(number) * 1e-12)
            self.assertAlmostEqual(found[1], half, delta=half * 1e-9)
