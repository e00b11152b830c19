"""
Colors of your own
==================

Bound to a category wherever it occurs.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", split="shift", merge_spellings=True, keep=7)
chart = vt.pareto_chart(table, colors={"Early": "#c7a34a", "Late": "#8a5a33", "Night": "#2c3e5c"})
chart.save("plot_03_colors.png")
