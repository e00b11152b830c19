"""The full example: commands as a user types them, run in a folder that holds the demo data."""

from __future__ import annotations

from importlib.resources import files

DATA = ("inspections.csv", "defect_families.csv", "firings.csv", "crews.csv", "survey.csv")

#: What each step is for, and its arguments behind ``vantric``.
STEPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (
        "A first look at the log: what is in it, and what is missing?",
        ("columns", "inspections.csv"),
    ),
    (
        "Which defects make most of the records? The table here, the chart in three formats.",
        ("pareto", "inspections.csv", "--by", "defect", "--out", "defects.png", "--out", "defects.svg", "--out",
         "defects.pdf"),
    ),
    (
        "The same with spellings made one, by pieces, for a spreadsheet and a page.",
        ("pareto", "inspections.csv", "--by", "defect", "--count", "pieces", "--merge-spellings", "--out", "pieces.png",
         "--out", "pieces.csv", "--out", "pieces.md", "--out", "pieces.json"),
    ),
    (
        "And by family, in the night shift alone, with the cut-off at 70 %.",
        ("pareto", "inspections.csv", "--by", "defect", "--families", "defect_families.csv", "--where",
         "shift = 'Night'", "--cut", "70", "--out", "families.png"),
    ),
    (
        "Do the kilns differ by product? Percents of each product's records.",
        ("tally", "inspections.csv", "--by", "product", "--split", "kiln", "--percent-of", "row", "--out",
         "products.csv"),
    ),
    (
        "How was the survey answered? A third of the answers are missing.",
        ("tally", "survey.csv", "--by", "answer"),
    ),
)  # fmt: skip


def data_file(name: str) -> bytes:
    """Return one of the shipped data files."""
    return files("vantric.demo").joinpath("data", name).read_bytes()
