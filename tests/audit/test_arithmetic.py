"""Sheets worked out again: right ones are right however they are rounded, and each cause is one finding."""

import unittest
from dataclasses import replace
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from vantric.audit.arithmetic import check_and_correct, check_sheet
from vantric.audit.sheets import SheetCell, SheetRow, SheetTable

COUNTS = st.lists(st.integers(1, 5000), min_size=3, max_size=12, unique=True).map(
    lambda counts: sorted(counts, reverse=True)
)
NAMES = (
    "Pinhole",
    "Warping",
    "Edge chip",
    "Scratch",
    "Glaze crawl",
    "Bloating",
    "Lamination",
    "Moss",
    "Drip",
    "Speck",
    "Vein",
    "Rim",
)


def table(counts: list[int], decimals: int, *, base: int = 0, total: bool = True) -> SheetTable:
    """Return a sheet that is right, but for another base if one is given."""
    whole, of_all, so_far, rows = sum(counts), base or sum(counts), 0, []
    for number, (name, count) in enumerate(zip(NAMES, counts, strict=False), 2):
        so_far += count
        rows.append(
            SheetRow(
                f"row {number}",
                name,
                Fraction(count),
                said(count, of_all, decimals, f"C{number}"),
                said(so_far, whole, decimals, f"D{number}"),
            )
        )
    if total:
        rows.append(SheetRow(f"row {len(rows) + 2}", "Total", Fraction(whole), said(whole, whole, decimals, "C99")))
    return SheetTable(tuple(rows), headings=(("percent", "Percent"), ("cumulative", "Cumulative")))


def said(part: int, whole: int, decimals: int, place: str) -> SheetCell:
    text = f"{float(round(Fraction(100 * part, whole), decimals)):.{decimals}f}"
    return SheetCell(place, text, Fraction(text))


def wrong(one: SheetTable) -> list[tuple[str, int]]:
    return [
        (finding.code, len(finding.cells))
        for finding in check_sheet(one)
        if finding.severity != "note" and finding.code.startswith(("wrong", "other", "not-end"))
    ]


class Sheets(unittest.TestCase):
    @given(COUNTS, st.integers(0, 4), st.booleans())
    def test_a_right_sheet_is_right_however_it_is_rounded(self, counts: list[int], decimals: int, total: bool) -> None:
        self.assertEqual(wrong(table(counts, decimals, total=total)), [])

    @given(COUNTS, st.integers(1, 3), st.integers(0, 11))
    def test_a_wrong_cell_is_one_finding_and_is_put_right(self, counts: list[int], decimals: int, at: int) -> None:
        right = table(counts, decimals)
        rows = list(right.rows)
        place = at % len(counts)
        cell = rows[place].percent
        assert cell is not None
        rows[place] = replace(rows[place], percent=replace(cell, text="777.7", value=Fraction("777.7")))
        flawed = replace(right, rows=tuple(rows))
        self.assertEqual(wrong(flawed), [("wrong-percent", 1)])
        [shown] = next(one.cells for one in check_sheet(flawed) if one.code == "wrong-percent")
        exact = 100 * counts[place] / sum(counts)
        self.assertLessEqual(abs(float(shown.should.replace(",", "")) - exact), 5.001e-4 * exact)
        self.assertEqual(float(shown.says), 777.7)
        [correction] = check_and_correct(flawed).corrections
        self.assertEqual((correction.place, correction.kind), (cell.place, "percent"))
        self.assertEqual(correction.value, Fraction(100 * counts[place], sum(counts)))

    @given(COUNTS.filter(lambda counts: min(counts) * 20 > sum(counts)), st.integers(2, 3))
    def test_one_slip_in_all_rows_is_one_finding_with_every_cell(self, counts: list[int], decimals: int) -> None:
        [finding] = [
            one for one in check_sheet(table(counts, decimals, base=2 * sum(counts))) if one.code == "wrong-percent"
        ]
        self.assertIn("a sum that includes the row 'Total'", finding.message)
        self.assertEqual(len(finding.cells), len(counts))
        self.assertEqual(len({cell.place for cell in finding.cells}), len(counts))

    @given(COUNTS, st.integers(2, 3))
    def test_what_is_corrected_is_right(self, counts: list[int], decimals: int) -> None:
        flawed = table(counts, decimals, base=max(counts))
        found = {(one.place, one.kind): one.value for one in check_and_correct(flawed).corrections}
        rows = []
        for row in flawed.rows:
            for kind in ("percent", "cumulative"):
                cell = getattr(row, kind)
                if cell is not None and (cell.place, kind) in found:
                    value = found[cell.place, kind]
                    row = replace(row, **{kind: replace(cell, value=value, text=f"{float(value):.12f}")})
            rows.append(row)
        self.assertEqual(wrong(replace(flawed, rows=tuple(rows))), [])

    def test_the_column_that_fits_best_is_counted_where_all_shares_are_small(self) -> None:
        from vantric.audit.column_roles import SheetColumn, find_columns

        def column(name: str, values: list[Fraction]) -> SheetColumn:
            return SheetColumn(name, tuple(values), tuple(map(str, values)))

        counts = [Fraction(500 - at) for at in range(500)]
        names = SheetColumn("Category", (None,) * 500, tuple(f"c{at}" for at in range(500)))
        ranks = [Fraction(at + 1) for at in range(500)]  # of the same sum
        shares = [100 * one / sum(counts) for one in counts]
        found = find_columns([column("Place", ranks), names, column("Found", counts), column("Percent", shares)])
        assert found is not None
        self.assertEqual((found.count, found.percent), (2, 3))

    def test_sums_of_a_spreadsheet_carry_noise(self) -> None:
        rows = tuple(
            SheetRow(f"row {at}", name, Fraction(value), said(1, 3, 2, f"C{at}"))
            for at, (name, value) in enumerate(zip(NAMES, (0.1, 0.7, 1.25), strict=False), 2)
        )
        total = SheetRow("row 5", "Total", Fraction(0.1 + 0.7 + 1.25), SheetCell(f"C{len(rows) + 2}", "", None))
        self.assertEqual([one for one in check_sheet(SheetTable((*rows, total))) if one.code == "wrong-total"], [])

    def test_a_stated_base(self) -> None:
        counts = [88, 61, 44, 38]
        of_500 = table(counts, 1, base=500, total=False)
        of_500 = replace(of_500, rows=tuple(replace(row, cumulative=None) for row in of_500.rows))
        self.assertEqual([one.code for one in check_sheet(of_500)], ["other-base"])
        self.assertEqual(check_sheet(replace(of_500, base=Fraction(500))), [])
        self.assertEqual(check_sheet(replace(of_500, stated=(Fraction(12), Fraction(500)))), [])
        self.assertEqual(check_and_correct(of_500).corrections, (), "it may be meant")
        self.assertEqual(check_sheet(replace(of_500, base=Fraction(400)))[0].code, "other-base")


if __name__ == "__main__":
    unittest.main()
