"""
A two-way table in percent
==========================

Each product is 100%.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.crosstab(log, "product", "kiln").chart(values="percent", percent_of="row", together="percent")
chart.save("plot_06_two_way_percent.png")
