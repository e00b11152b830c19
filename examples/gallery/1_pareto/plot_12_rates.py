"""
Rates per hundred pieces
========================

Ratios of sums, by product.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="product", per="pieces", per_units=100)
chart = vt.pareto_chart(table)
chart.save("plot_12_rates.png")
