"""
A trend with a marked date
==========================

The day of the new glaze.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
trend = vt.trend(log, "defect", date="date", merge_spellings=True, categories=("Pinhole", "Glaze crawl"))
chart = trend.chart(marks=["2026-05-12=New glaze"])
chart.save("plot_10_marked.png")
