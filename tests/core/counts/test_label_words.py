"""What labels say by their words: a rest, an order of their own."""

import unittest

from vantric.core.counts.relabeling import is_rest
from vantric.core.numbers.label_order import own_order


class Words(unittest.TestCase):
    def test_a_rest(self) -> None:
        for label in (
            "Other",
            "others",
            "All other",
            "Misc.",
            "Sonstige",
            "Autres",
            "Other (7)",
            "All other causes",
            "Прочие",
            "7 others",
            "(other)",
        ):
            self.assertTrue(is_rest(label), label)
        for label in ("Mother", "Resting marks", "Restaurant", "Otherwise", "Brother kiln", "Miscast", "Diversion"):
            self.assertFalse(is_rest(label), label)

    def test_an_order_of_their_own(self) -> None:
        for wanted, lists in (
            (
                "yes",
                (
                    ["Jan", "Feb"],
                    ["Mon", "Tue"],
                    ["KW 12", "KW 13"],
                    ["Q1 2025", "Q2 2025"],
                    ["2024/25", "2025/26"],
                    ["<5", "5-10", ">10"],
                    ["low", "medium", "high"],
                    ["S", "M", "L"],
                    ["1", "2", "5"],
                    ["-5", "0", "5"],
                    ["Batch 1", "Batch 2"],
                    ["8:00", "9:00"],
                    ["very good", "good", "fair"],
                    ["12 Jan", "13 Jan"],
                    ["0-10", "10-20", "20+"],
                ),
            ),
            (
                "no",
                (
                    ["Pinhole", "Warping"],
                    ["Kiln 1", "Kiln 2"],
                    ["Line 1", "Line 2"],
                    ["North", "South"],
                    ["Pressing", "Glazing", "Kilns"],
                ),
            ),
            ("perhaps", (["A", "B", "C"], ["3", "1", "2"], ["Alpha 1", "Alpha 2"])),
        ):
            for labels in lists:
                self.assertEqual(own_order(labels), wanted, labels)


if __name__ == "__main__":
    unittest.main()
