"""
Shares in one bar
=================

The small ones are led out in steps.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.tally(log, "defect", merge_spellings=True).chart(share_bar=True, keep=8)
chart.save("plot_08_shares.png")
