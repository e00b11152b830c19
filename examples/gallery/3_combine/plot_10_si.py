"""
Thousands with a prefix
=======================

150 k in place of 150,000.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(firings, x="month", bars="first_firing=Fired", si=True)
chart.save("plot_10_si.png")
