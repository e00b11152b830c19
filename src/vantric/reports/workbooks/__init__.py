"""Workbooks: sections as Office Open XML (ISO/IEC 29500) that can be worked on further.

In come sections (`reports.sections`); out go the bytes of a workbook: tables under headings that people read, native
charts, findings, notes. Start with `book`. `sheets` is the pen: text never becomes a formula, cells have formats.
`livesheets` writes a Pareto table that works itself out again when a count is edited, by the formulas of `formulas`,
and its chart; `nativechart` draws every other chart with the scales that were solved for it.
"""
