"""
In Russian
==========

With the dates of the log.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, keep=9, date="date")
chart = vt.pareto_chart(table, language="ru")
chart.save("plot_06_russian.png")
