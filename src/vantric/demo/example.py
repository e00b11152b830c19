"""The full example: commands as a user types them, run in a folder that holds the demo data."""

from __future__ import annotations

from importlib.resources import files

DATA = ("inspections.csv", "defect_families.csv", "firings.csv", "crews.csv", "survey.csv")

#: What each step is for, and its arguments behind ``vantric``.
STEPS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (
        "Which defects make most of the records? The table here, the chart in three formats.",
        ("pareto", "inspections.csv", "--by", "defect", "--out", "defects.png", "--out", "defects.svg", "--out",
         "defects.pdf"),
    ),
    (
        "The same by pieces, for a spreadsheet and a page.",
        ("pareto", "inspections.csv", "--by", "defect", "--count", "pieces", "--out", "pieces.png", "--out",
         "pieces.csv", "--out", "pieces.md", "--out", "pieces.json"),
    ),
    (
        "Which kiln do they come from? With the cut-off at half.",
        ("pareto", "inspections.csv", "--by", "kiln", "--cut", "50", "--out", "kilns.png"),
    ),
)  # fmt: skip


def data_file(name: str) -> bytes:
    """Return one of the shipped data files."""
    return files("vantric.demo").joinpath("data", name).read_bytes()
