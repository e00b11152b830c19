"""Finished workbooks: what their charts draw, and where that would mislead.

In come `DrawnChart`s, as they were read from a workbook: series with their cells, axes with their limits and titles;
out go findings. Start with `charts`; `drawn` holds what a chart is. The arithmetic of the sheets is that of `sheets`.
"""
