"""
Long names to the left
======================

Horizontal bars keep names whole.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, keep=12)
chart = vt.pareto_chart(table, orientation="horizontal")
chart.save("plot_02_horizontal.png")
