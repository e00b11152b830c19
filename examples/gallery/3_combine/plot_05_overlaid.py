"""
One bar before the other
========================

Overlaid, the narrow one in front.
"""

from importlib.resources import files

import vantric as vt

crews = files("vantric.demo") / "data" / "crews.csv"
chart = vt.combine(crews, x="crew", area="planned_hours=Planned", bars="achieved_hours=Achieved")
chart.save("plot_05_overlaid.png")
