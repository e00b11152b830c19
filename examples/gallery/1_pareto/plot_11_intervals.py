"""
How sure the ranking is
=======================

An interval on every bar, and the band of mere chance.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, where="kiln = 'Kiln 3'", keep=9)
chart = vt.pareto_chart(table, intervals=True)
chart.save("plot_11_intervals.png")
