"""The review over a corpus: nothing wrong is said of good inputs, and every flaw is found for the right reason."""

import tempfile
import unittest
from pathlib import Path

from tests.corpus.flaws import flaws
from tests.corpus.goods import goods

FEWEST_GOOD, FEWEST_FLAWED = 250, 120


class Corpus(unittest.TestCase):
    def test_good_inputs_raise_no_error_and_no_warning(self) -> None:
        tried = 0
        for good in goods():
            with self.subTest(good.name), tempfile.TemporaryDirectory() as folder:
                found = [one for one in good.review(Path(folder)) if one.severity != "note"]
                self.assertEqual([(one.severity, one.code, one.message) for one in found], [])
            tried += 1
        self.assertGreaterEqual(tried, FEWEST_GOOD)

    def test_every_flaw_is_found_for_its_reason_and_not_by_a_note_alone(self) -> None:
        tried = 0
        for flawed in flaws():
            with self.subTest(flawed.name), tempfile.TemporaryDirectory() as folder:
                found = [one for one in flawed.review(Path(folder)) if one.severity != "note"]
                told = [(one.code, one.message) for one in found]
                self.assertTrue(any(flawed.code == code and flawed.words in message for code, message in told), told)
                self.assertTrue(all(one.fix and one.where for one in found), told)
            tried += 1
        self.assertGreaterEqual(tried, FEWEST_FLAWED)


if __name__ == "__main__":
    unittest.main()
