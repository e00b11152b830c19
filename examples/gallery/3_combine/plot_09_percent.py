"""
Stacked to a hundred percent
============================

Shares of two firings.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(firings, x="month", bars=["first_firing=First", "second_firing=Second"], together="percent")
chart.save("plot_09_percent.png")
