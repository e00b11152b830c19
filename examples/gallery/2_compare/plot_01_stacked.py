"""
Bars in parts
=============

Each defect by kiln, in patterns that need no color.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", split="kiln", merge_spellings=True, keep=8)
chart = vt.pareto_chart(table)
chart.save("plot_01_stacked.png")
