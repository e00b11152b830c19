"""
Two shifts
==========

Each in percent of its own total; significant changes stand out.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
shifts = vt.crosstab(log, "defect", "shift", merge_spellings=True)
chart = shifts.compare("Early", "Night").chart()
chart.save("plot_04_shifts.png")
