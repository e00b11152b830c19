"""Auditing: sheets and finished workbooks as they are, cell by cell, for the review.

In comes a source with one table, or a workbook; out go `SheetTable`s and drawn charts as `vantric.core.reviewing` takes
them. `numbers` reads the cells of a column, `table` makes a sheet of columns, `sheetrows` of a source. Of workbooks
`bookcells` reads cells and formulas, `formulas` works formulas out, `bookcharts` and `chartparts` read charts.
"""
