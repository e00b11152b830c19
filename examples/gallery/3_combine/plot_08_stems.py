"""
Stems
=====

Less ink than bars.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(firings, x="month", stems="rejected=Rejected")
chart.save("plot_08_stems.png")
