"""
Two empty axes
==============

How two scales share one grid.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.align((0, 160000), (0, 9.4), policy="grid").chart()
chart.save("plot_10_policies.png")
