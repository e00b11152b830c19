"""
Two firings stacked
===================

With their totals, and the energy as a line.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(
    firings,
    x="month",
    bars=["first_firing=First", "second_firing=Second"],
    line="energy_kwh=Energy",
    together="stacked",
    units={"Energy": "kWh"},
)
chart.save("plot_02_stacked.png")
