"""Handing over: results become sections of pages, workbooks and slides, and these become files.

In come results that users hold, with the look of their charts; out go sections (`reports.sections`). Start with
`sections`; `paretosections` does it for Pareto tables, whose page can show intervals and be cut anew.
"""
