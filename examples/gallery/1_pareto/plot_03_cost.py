"""
What defects cost
=================

Weighted by the cost of the rework, in dollars without cents.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", weight="rework_cost", merge_spellings=True, keep=9)
chart = vt.pareto_chart(table, prefix="$", decimals=0)
chart.save("plot_03_cost.png")
