"""
Margins below zero
==================

Zero is one height on both sides.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(firings, x="month", bars="margin=Margin", line="rejected=Rejected")
chart.save("plot_03_negative.png")
