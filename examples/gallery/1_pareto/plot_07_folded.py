"""
Small categories folded
=======================

What is below 2% becomes one row, always last.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, fold_below=2, rest_label="All others")
chart = vt.pareto_chart(table)
chart.save("plot_07_folded.png")
