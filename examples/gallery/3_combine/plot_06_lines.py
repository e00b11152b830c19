"""
Lines and points
================

Names at the ends of the lines.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(firings, x="month", line=["first_firing=First firing", "second_firing=Second firing"], legend="ends")
chart.save("plot_06_lines.png")
