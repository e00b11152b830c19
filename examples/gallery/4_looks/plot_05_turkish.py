"""
In Turkish
==========

The sign of percents stands first.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(vt.pareto(log, by="defect", merge_spellings=True, keep=9), language="tr")
chart.save("plot_05_turkish.png")
