"""
A two-way table
===============

Products by kiln, grouped.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.crosstab(log, "product", "kiln").chart()
chart.save("plot_05_two_way.png")
