"""
The most that stay within 80%
==============================

The other rule of a cutoff.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, rule="within", keep=10)
chart = vt.pareto_chart(table)
chart.save("plot_06_within.png")
