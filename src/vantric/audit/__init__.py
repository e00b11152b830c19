"""Audit: sheets and workbooks made elsewhere, read cell by cell, checked and repaired.

In comes a source with one table, or a workbook; out go findings and corrections. Start with `arithmetic.check_sheet`.

- What a sheet says: `sheet_rows` takes the rows of a source, `column_roles` decides which columns are labels, counts,
  percents and running sums, `sheets` tells totals from categories.
- What it should say: `arithmetic` works every cell out again, `total_checks` the rows of totals, and `causes` finds the
  slip that explains wrong cells.
- Workbooks: `books` reads one with `book_tables` (cells and tables), `formulas` (worked out where no value is stored)
  and `drawn_charts`; `chart_findings` says where a chart would mislead.
- `repairs` writes the right numbers in place of the wrong ones.
"""
