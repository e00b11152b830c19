"""Marks and words that repeat the label above."""

from __future__ import annotations

#: As they are compared: without case and blanks at the ends.
DITTO_MARKS = (
    *('"', "''", "´´", "``", "〃", "″", "“", "”", "„", "«", "»", '" "', '"" ""', '"-"', '- " -', '-"-', '—"—', '–"–'),
    *("'''", "“ “", "” ”", ",,", '""', "〃〃", '" " "', "-〃-"),
    *("ditto", "dito", "do.", "dto.", "idem", "ídem", "id.", "same as above", "as above", "see above"),
    *("wie oben", "siehe oben", "w.o.", "comme ci-dessus", "voir ci-dessus", "como arriba"),
    *("come sopra", "zie boven", "jw.", "j.w.", "viz výše", "то же", "тоже самое", "то же самое", "同上", "上同"),
    *("위와 같음", "(ditto)", "(dito)", "(idem)", "dº"),
)
_MARKS = frozenset(DITTO_MARKS)


def is_ditto(label: str | None) -> bool:
    """Whether a label is a mark or a word that repeats the label above."""
    return label is not None and label.strip().casefold() in _MARKS
