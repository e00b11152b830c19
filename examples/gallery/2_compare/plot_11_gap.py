"""
Planned and achieved
====================

What is below the plan is hatched.
"""

from importlib.resources import files

import vantric as vt

crews = files("vantric.demo") / "data" / "crews.csv"
chart = vt.combine(crews, x="crew", planned="planned_hours", actual="achieved_hours")
chart.save("plot_11_gap.png")
