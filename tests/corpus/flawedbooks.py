"""Inputs with a flaw each: finished workbooks."""

from collections.abc import Iterator

from tests.corpus.books import book
from tests.corpus.making import DEFECTS, Flawed

HEAD = "defect,count,percent,cumulative\n"
MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
FIRED = [640.0, 590.0, 610.0, 655.0]
NAMES = ["Pinhole", "Warping", "Edge chip", "Scratch"]


def flawedbooks() -> Iterator[Flawed]:
    """Yield every flawed input of its kind."""
    yield from _books()
    yield from _drawn()


def _books() -> Iterator[Flawed]:
    yield Flawed(
        "formulas: Total in the base", "wrong-percent", "includes the row 'Total'", book(percent="=B{r}/SUM(B$2:B${t})")
    )
    yield Flawed(
        "formulas: a range that stops short",
        "wrong-percent",
        "without the row 'Scratch'",
        book(percent="=B{r}/SUM(B$2:B$4)"),
    )
    yield Flawed(
        "formulas: a base that drifts",
        "wrong-percent",
        "the base was not fixed",
        book(percent=lambda r, c, s, t: f"=B{r}/B{r + 4}"),
    )
    yield Flawed(
        "formulas: a range that drifts",
        "wrong-percent",
        "drifts",
        book(
            percent=lambda r, c, s, t: f"=B{r}/SUM(B{r}:B{r + 3})",
            total=None,
            cumulative="=SUM(B$2:B{r})/SUM(B$2:B${n})",
        ),
    )
    yield Flawed(
        "formulas: the wrong cell added",
        "wrong-cumulative",
        "two rows only",
        book(cumulative=lambda r, c, s, t: "=C2" if r == 2 else f"=C{r}+C{r - 1}"),
    )
    yield Flawed(
        "formulas: its own row not in it",
        "wrong-cumulative",
        "not yet",
        book(cumulative=lambda r, c, s, t: 0 if r == 2 else f"=SUM(B$2:B{r - 1})/B$6"),
    )
    yield Flawed(
        "formulas: a total that stops short", "wrong-total", "says 193 and should be 231", book(total="=SUM(B2:B4)")
    )
    yield Flawed(
        "a typed percent",
        "wrong-percent",
        "two digits changed places",
        book(percent=lambda r, c, s, t: round(c / t, 3) if r != 3 else 0.246),
    )
    yield Flawed(
        "a typed total",
        "wrong-total",
        "says 213",
        book(total=213, percent="=B{r}/SUM(B$2:B${n})", cumulative="=SUM(B$2:B{r})/SUM(B$2:B${n})"),
    )
    yield Flawed(
        "rows that are not sorted",
        "not-sorted",
        "is larger than the row before",
        book([DEFECTS[2], DEFECTS[0], DEFECTS[1]]),
    )
    yield Flawed(
        "a label twice", "repeated-label", "'Pinhole'", book([("Pinhole", 88), ("Warping", 61), ("Pinhole", 44)])
    )
    yield Flawed(
        "percents shown 100 times too large", "wrong-percent", "100 times too large", book(percent="=B{r}/B${t}*100")
    )


def _drawn() -> Iterator[Flawed]:
    yield Flawed("drawn: the axis ends with the tallest bar", "floating-line", "not one height", book(top=88))
    yield Flawed("drawn: the program chooses the axis", "floating-line", "where the program chooses", book(top=None))
    yield Flawed("drawn: the line ends at 120 %", "floating-line", "not one height", book(secondary_top=1.2))
    yield Flawed(
        "drawn: the second axis is free", "floating-line", "the secondary axis ends where", book(secondary_top=None)
    )
    yield Flawed("drawn: the line on the counts", "percents-too-small", "on an axis of counts", book(secondary=False))
    yield Flawed("drawn: 100 times too small", "percents-too-small", "100 times too small", book(secondary_top=100))
    yield Flawed(
        "drawn: percents times 100 on the counts",
        "several-units",
        "at a count of 100",
        book(
            form="0.0",
            percent=lambda r, c, s, t: round(100 * c / t, 1),
            cumulative=lambda r, c, s, t: round(100 * s / t, 1),
            secondary=False,
        ),
    )
    yield Flawed("drawn: swapped axes, floating", "floating-line", "not one height", book(swapped=True, top=88))
    yield Flawed(
        "drawn: a hidden axis to 150 %", "floating-line", "not one height", book(hidden=True, secondary_top=1.5)
    )
    yield Flawed(
        "drawn: the Total as a bar",
        "total-as-category",
        "is the total of all others",
        book(drawn="2:{t}", line="2:{t}", labels="2:{t}"),
    )
    yield Flawed(
        "drawn: the Total as a slice",
        "total-as-category",
        "is the total of all others",
        book(drawn="2:{t}", labels="2:{t}", with_line=False, kind="pie", top=None, titles=False),
    )
    yield Flawed(
        "drawn: stops short",
        "rows-not-drawn",
        "'Scratch' is not drawn",
        book(drawn="2:{m}", line="2:{m}", labels="2:{m}"),
    )
    yield Flawed("drawn: the line is shorter", "unlike-ranges", "stand over other categories", book(line="2:{m}"))
    yield Flawed(
        "drawn: the line is a row below",
        "unlike-ranges",
        "stand over other categories",
        book(line="3:{t}", labels="2:{t}", drawn="2:{t}"),
    )
    yield Flawed("drawn: an axis from 30", "bars-without-zero", "runs from 30", book(bottom=30))
    yield Flawed("drawn: a log axis", "log-bars", "logarithmic under bars", book(with_line=False, log=True, top=None))
    yield Flawed("drawn: no titles", "untitled-axis", "the primary axis has no title", book(titles=False))
    yield Flawed(
        "drawn: not sorted, without percents",
        "not-descending",
        "not in descending order",
        book(
            [DEFECTS[2], DEFECTS[0], DEFECTS[1]],
            percent=None,
            head=("Defect", "Count", "", "Line of sums"),
            total=None,
            cumulative=lambda r, c, s, t: s / t,
        ),
    )
