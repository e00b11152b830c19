"""
For a slide, wide and low
=========================

1600 by 700 pixels.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(vt.pareto(log, by="defect", merge_spellings=True, keep=9), size=(1600, 700))
chart.save("plot_09_wide.png")
