"""
Within each of the vital few
============================

The kilns that matter, and the defects that matter in each.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(vt.pareto(log, drill=("kiln", "shift")))
chart.save("plot_03_drill.png")
