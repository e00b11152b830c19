"""
For print
=========

Distinct without any color.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(vt.pareto(log, by="defect", merge_spellings=True, keep=9), theme="print")
chart.save("plot_02_print.png")
