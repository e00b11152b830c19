"""
The line at the edges
=====================

Each point over the right edge of its bar, the line from the origin.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, keep=9)
chart = vt.pareto_chart(table, line_at="edge")
chart.save("plot_10_edge.png")
