"""
A workbook of counts
====================

Two rows of headings, units in the heading, a Total row left out.
"""

from importlib.resources import files

import vantric as vt

scrap_years = files("vantric.demo") / "data" / "scrap_years.xlsx"
chart = vt.pareto_chart(vt.pareto(scrap_years, by="Defect", count="2025 Pieces (pcs)"))
chart.save("plot_14_counts.png")
