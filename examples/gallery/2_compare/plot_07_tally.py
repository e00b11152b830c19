"""
A plain tally
=============

Counts without a cumulative line.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.tally(log, "shift").chart()
chart.save("plot_07_tally.png")
