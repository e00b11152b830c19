"""
The legend at the right
=======================

It never covers data.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(vt.pareto(log, by="defect", merge_spellings=True, keep=9), legend="right")
chart.save("plot_08_legend.png")
