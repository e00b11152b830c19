"""
Pieces, not records
===================

A record stands for as many pieces as it says.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", count="pieces", merge_spellings=True, keep=9)
chart = vt.pareto_chart(table)
chart.save("plot_04_pieces.png")
