"""Labels that say that nothing was wrong, or that somebody tried the form, and labels that only look so."""

import unittest

import vantric as vt

#: Heading, labels with their records.
RIGHT: tuple[tuple[str, dict[str, int]], ...] = (
    ("Problem", {"No signal": 60, "Weak signal": 20, "Broken": 9}),
    ("Fehler", {"Ohne Etikett": 60, "Falsches Etikett": 20, "Nass": 9}),
    ("Complaint", {"Nothing works": 60, "Not delivered": 40, "Late": 12}),
    ("Problem", {"No error message shown": 60, "Freeze": 40, "Crash": 12}),
    ("Error", {"Zero error": 60, "Drift": 40, "Gap": 12}),
    ("Defect", {"OK button broken": 60, "Dent": 40, "Gap": 12}),
    ("Answer", {"Good": 60, "Fair": 40, "Poor": 12}),
    ("Condition", {"OK": 60, "Worn": 40, "Leaking": 12}),
    ("Result", {"Pass": 60, "Fail": 40, "Void": 12}),
    ("what", {"OK": 60, "Rework": 40, "Scrap": 12}),
    ("Complaint?", {"No": 60, "Yes": 40, "Unsure": 12}),
    ("Station", {"Assembly": 60, "Packing": 40, "Test": 22, "Paint": 9}),
    ("Test", {"Leak test": 60, "Pull test": 40, "Test 1": 30, "Test 2": 28}),
    ("Class", {"I": 60, "II": 40, "III": 12, "IV": 2}),
    ("Size", {"XXL": 60, "XL": 40, "XXXL": 12, "S": 3}),
    ("Cause", {"Firing": 60, "Firing, heat": 31, "Firing, dust": 20, "Moisture": 9}),
    ("Word", {"As": 60, "Were": 40, "Top": 2, "Poi": 1}),
)
GOOD_FIRST: tuple[tuple[str, str], ...] = (
    ("No visible defects", "Finding"),
    ("keine Beanstandung", "Prüfung"),
    ("Sans anomalie", "Défaut"),
    ("nothing found", "c"),
    ("no incident", "Incident"),
    ("Ingen fel", "Orsak"),
    ("異常なし", "不良"),
    ("OK", "Fehlerart"),
    ("good", "what"),
    ("none", "Damage"),
    ("No Fault Found (NFF)", "Cause"),
)
TRIED = ("TEST", "Test-2", "testtest", "qwer", "ASDFGH", "123 test", "foo", "Dummy", "xxx")


def said(heading: str, labels: dict[str, int]) -> list[str]:
    records = [label for label, number in labels.items() for _ in range(number)]
    return [found.code for found in vt.review(vt.tally({heading: records}, heading)) if found.severity != "note"]


class Labels(unittest.TestCase):
    def test_what_only_looks_so_is_right(self) -> None:
        for heading, labels in RIGHT:
            with self.subTest(next(iter(labels))):
                self.assertEqual(said(heading, labels), [])

    def test_nothing_wrong_is_no_defect(self) -> None:
        for label, heading in GOOD_FIRST:
            with self.subTest(label):
                self.assertEqual(said(heading, {label: 60, "Pinhole": 20, "Crack": 9}), ["good-as-defect"])
                self.assertNotIn("good-as-defect", said("Result", {label: 60, "Fail": 20, "Void": 9}))

    def test_another_code_is_asked_about_all_the_same(self) -> None:
        self.assertEqual(said("Defect", {"none": 60, "Pinhole": 20, "Crack": 9}), ["good-as-defect"])
        told = said("Defect", {"OK": 60, "Pinhole": 20, "Crack": 9, "n/a": 12})
        self.assertEqual(told, ["good-as-defect", "missing-code"])

    def test_who_tried_the_form(self) -> None:
        for label in TRIED:
            with self.subTest(label):
                self.assertEqual(said("Defect", {"Pinhole": 60, "Crack": 30, label: 1}), ["test-entries"])

    def test_half_of_a_log_is_no_total(self) -> None:
        for label in ("Sum on invoice wrong", "tbd", "All channels down"):
            with self.subTest(label):
                self.assertNotIn("total-as-category", said("Reason", {label: 60, "Late": 40, "Slow": 20}))
                self.assertNotIn("total-as-category", said("Reason", {label: 58, "Late": 40, "Slow": 20}))
