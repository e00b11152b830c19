"""
Percents at the bars
====================

The shares instead of the frequencies.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, keep=9)
chart = vt.pareto_chart(table, labels="percent")
chart.save("plot_09_percents.png")
