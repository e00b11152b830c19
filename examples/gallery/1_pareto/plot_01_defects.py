"""
A Pareto chart
==============

The bars are ranked, the line accumulates, and 80% cuts where the vital few end.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(vt.pareto(log, by="defect", merge_spellings=True))
chart.save("plot_01_defects.png")
