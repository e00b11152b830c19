"""Months and weekdays as text, in the order of the calendar."""

import unittest

from tools import calendarwords

from vantric.core.numbers.label_order import WORDS, calendar_keys, in_label_order, is_turned, month_words


class Words(unittest.TestCase):
    def test_the_table_is_what_the_locale_data_say(self) -> None:
        self.assertEqual(calendarwords.PATH.read_text(encoding="utf-8"), calendarwords.text())

    def test_every_language_has_twelve_months_and_seven_days(self) -> None:
        self.assertGreaterEqual(len(WORDS), 11)
        for language, (months, days) in WORDS.items():
            self.assertEqual((len(months.split(";")), len(days.split(";"))), (12, 7), language)
            for place, words in enumerate(months.split(";"), 1):
                for word in words.split("|"):
                    self.assertIn(month_words().get(word, place), range(1, 13))

    def test_all_months_of_a_language_stand_in_order(self) -> None:
        for language, parts in WORDS.items():
            for names in parts:
                first = [words.split("|")[0] for words in names.split(";")]
                self.assertEqual(in_label_order(reversed(first)), first, language)


class Order(unittest.TestCase):
    def test_labels_of_one_kind_have_places(self) -> None:
        for labels, wanted in (
            (["Mar", "Jan"], [(0, 3), (0, 1)]),
            (["Jan-26", "Dec-25"], [(2026, 1), (2025, 12)]),
            (["2026 Feb", "2026 Jan"], [(2026, 2), (2026, 1)]),
            (["Mo", "So"], [(0, 1), (0, 7)]),
            (["Jan", "Pinhole"], None),
            (["Jan"], None),
            (["Jan", "Mon"], None),
            (["", "Jan"], None),
        ):
            self.assertEqual(calendar_keys(labels), wanted, labels)

    def test_a_business_year_is_in_order(self) -> None:
        for places, turned in (
            ([10, 11, 12, 1, 2], True),
            ([1, 2, 3], True),
            ([3, 1, 2], False),
            ([12, 1], True),
            ([7, 1, 2], True),
            ([1, 3, 2], False),
            ([11, 12, 1, 12], False),
        ):
            self.assertEqual(is_turned([(0, place) for place in places]), turned, places)


if __name__ == "__main__":
    unittest.main()
