"""
Four kilns side by side
=======================

In the order of the whole and on one percent scale.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", split="kiln", merge_spellings=True, keep=7)
chart = vt.pareto_chart(table, panels=True)
chart.save("plot_02_panels.png")
