"""
Three orders of magnitude
=========================

Bars on a log axis begin at its floor.
"""

from importlib.resources import files

import vantric as vt

crews = files("vantric.demo") / "data" / "crews.csv"
chart = vt.combine(crews, x="crew", bars=["planned_hours", "achieved_hours"], primary_log=True)
chart.save("plot_04_log.png")
