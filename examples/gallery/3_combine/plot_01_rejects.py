"""
Output and reject rate
======================

Two units, two axes, one grid, and a limit.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(
    firings,
    x="month",
    bars="first_firing=Fired",
    line="percent:rejected/first_firing=Rejected",
    references=[vt.Reference(4, text="4% limit", axis="secondary")],
)
chart.save("plot_01_rejects.png")
