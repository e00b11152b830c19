"""Slips of the keyboard: what is one label, and what differs on purpose."""

import random
import time
import unittest
from itertools import combinations

from hypothesis import given
from hypothesis import strategies as st

import vantric as vt
from tests.effort import examples
from vantric.core.review.error_patterns import slip_between
from vantric.core.review.spellings import _near_pairs

WORDS = st.text("abcdefghij", min_size=7, max_size=12)


class Slips(unittest.TestCase):
    def test_on_purpose(self) -> None:
        for one, other in (
            ("Kiln II", "Kiln III"),
            ("Door-L", "Door-R"),
            ("Sensor (A)", "Sensor (B)"),
            ("Size XL", "Size XS"),
            ("Cracks", "Tracks"),
            ("ERRA", "ERRB"),
            ("Left side", "Right side"),
            ("Batch 12", "Batch 13"),
            ("Pin hole", "Pinhole"),
        ):
            self.assertIsNone(slip_between(one, other, 0.01), one)

    def test_words_that_are_both_frequent(self) -> None:
        for one, other in (
            ("Chipping", "Clipping"),
            ("Filing", "Filling"),
            ("Stain", "Strain"),
            ("Bonding", "Bending"),
        ):
            self.assertEqual(slip_between(one, other, 0.8), "unsure", one)

    @given(WORDS, st.integers(1, 5), st.sampled_from("klm"))
    def test_a_rare_neighbor_of_a_frequent_label(self, word: str, at: int, letter: str) -> None:
        for other in (word[:at] + letter + word[at:], word[:at] + word[at + 1 :], word + "s"):
            if other[:1] == word[:1] and other != word and not set(word) <= set("cdimlvx"):
                self.assertEqual(slip_between(word, other, 0.01), "sure", other)

    @given(st.lists(WORDS, min_size=2, max_size=8, unique=True))
    def test_the_order_of_labels_does_not_matter(self, words: list[str]) -> None:
        one = {frozenset(pair) for pair in _near_pairs(words)}
        self.assertEqual(one, {frozenset(pair) for pair in _near_pairs(words[::-1])})

    def test_of_many_labels_neighbors_are_found(self) -> None:
        dice = random.Random(1)
        labels = {"".join(dice.choice("abcdefghijklmnop") for _ in range(9)): 50 for _ in range(9000)}
        labels |= {"Glaze crawling": 900, "Glaze crwaling": 2, "Warping": 700, "Warpping": 3}
        start = time.monotonic()
        found = next(
            one for one in vt.review(vt.tally(labels)) if one.code == "near-labels" and one.severity == "warning"
        )
        self.assertLess(time.monotonic() - start, 60)
        self.assertIn("'Glaze crawling' and 'Glaze crwaling'", found.message + str(found))


if __name__ == "__main__":
    unittest.main()


class Search(unittest.TestCase):
    def test_no_pair_is_missed(self) -> None:
        """All pairs are looked at one by one, and those with a slip are among what the search yields."""
        for seed in range(examples(400)):
            draw = random.Random(seed)
            labels = [" ".join(draw.choices(SOME, k=draw.randint(1, 3))) for _ in range(draw.randint(2, 8))]
            labels = list(dict.fromkeys([*labels, *(mistyped(label, draw) for label in labels)]))
            long = [label for label in labels if len(label) >= 4]
            every = {
                frozenset(pair) for pair in combinations(long, 2) if slip_between(*pair, 0.05) == "sure" and near(*pair)
            }
            with self.subTest(labels=labels):
                self.assertLessEqual(every, {frozenset(pair) for pair in _near_pairs(long)})

    def test_numbered_labels_are_no_neighbors(self) -> None:
        labels = [f"Line {number} defect" for number in range(2_000)]
        self.assertEqual(list(_near_pairs(labels)), [])


SOME = (
    *("Crack", "Chip", "Pinhole", "Warping", "Scratch", "Line", "Battery", "Batteries", "Glass", "Boxes", "Type"),
    *("IV", "edge-chip", "Wickelfehler", "4.1", "Größe", "17"),
)


def mistyped(label: str, draw: random.Random) -> str:
    """Return a label with a letter more, less, other or swapped, or in the plural."""
    at = draw.randrange(len(label))
    sign = draw.choice("abcdeéx1")
    forms = (
        label[:at] + label[at + 1 :],
        label[:at] + sign + label[at:],
        label[:at] + sign + label[at + 1 :],
        label[:at] + label[at + 1 : at + 2] + label[at] + label[at + 2 :],
        label + "s",
    )
    return draw.choice(forms) or label


def near(one: str, other: str) -> bool:
    """Whether two labels differ at one place, in a few letters."""
    one, other = one.casefold(), other.casefold()
    start = next((at for at, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), min(len(one), len(other)))
    ends = zip(one[start:][::-1], other[start:][::-1], strict=False)
    alike = next((at for at, (a, b) in enumerate(ends) if a != b), min(len(one), len(other)) - start)
    return one != other and max(len(one), len(other)) - start - alike <= 3
