"""
Steps
=====

A value that holds for a whole month.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(firings, x="month", steps="energy_kwh=Energy", units={"Energy": "kWh"})
chart.save("plot_07_steps.png")
