"""Auditing: sheets and finished workbooks as they are, cell by cell, for the review.

In comes a source with one table, or a workbook; out go `SheetTable`s and drawn charts as `vantric.core.review`
takes them. Start with `table`, which makes a sheet of columns; `numbers` reads the cells of a column, `sheetrows`
takes those of a source. Of workbooks, which `books` reads, `bookcells` holds cells and formulas, `formulas` works
formulas out, `booktables` finds tables, and `chartparts` reads charts.
"""
