"""
Classes A, B and C
==================

Two cutoffs make three classes.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, cut=(80, 95))
chart = vt.pareto_chart(table)
chart.save("plot_05_classes.png")
