"""
By quarter
==========

Sums and a ratio of sums over a calendar.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
chart = vt.combine(
    firings, x="month", period="quarter", bars="sum:first_firing=Fired", line="percent:rejected/first_firing=Rejected"
)
chart.save("plot_11_quarters.png")
