"""
What has no defect, as a category
=================================

Records without a label, shown as one.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
table = vt.pareto(log, by="defect", merge_spellings=True, missing="category", keep=10)
chart = vt.pareto_chart(table)
chart.save("plot_15_missing.png")
