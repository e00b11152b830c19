"""
In German
=========

Words, numbers and dates.
"""

from importlib.resources import files

import vantric as vt

rework_costs = files("vantric.demo") / "data" / "rework_costs.csv"
table = vt.pareto(rework_costs, by="Fehler", weight="Kosten", date="Datum")
chart = vt.pareto_chart(table, language="de", suffix=" EUR")
chart.save("plot_04_german.png")
