"""
Families of defects
===================

A second sheet says which family a defect belongs to.
"""

from importlib.resources import files

import vantric as vt

inspections = files("vantric.demo") / "data" / "inspections.csv"
defect = files("vantric.demo") / "data" / "defect_families.csv"
table = vt.pareto(inspections, by="defect", families=defect)
chart = vt.pareto_chart(table)
chart.save("plot_08_families.png")
