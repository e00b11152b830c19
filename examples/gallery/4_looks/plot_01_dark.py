"""
Dark
====

For a screen in the hall.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(vt.pareto(log, by="defect", merge_spellings=True, keep=9), theme="dark")
chart.save("plot_01_dark.png")
