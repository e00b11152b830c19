"""
What rises and what falls
=========================

Rates a month with control limits.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
trend = vt.trend(log, "defect", date="date", per="pieces", per_units=100, merge_spellings=True)
chart = trend.chart()
chart.save("plot_09_trend.png")
