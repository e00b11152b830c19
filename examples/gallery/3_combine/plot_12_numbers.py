"""
Numbers of your own
===================

Without any file.
"""

from importlib.resources import files

import vantric as vt

firings = files("vantric.demo") / "data" / "firings.csv"
hours = [vt.Bars("Planned", [1600, 1850, 2400, 980]), vt.Line("Achieved", [1376, 1499, 2401, None])]
chart = vt.Chart(["Pressing", "Glazing", "Kilns", "Packing"], hours, subject="crew", primary_title="Hours")
chart.save("plot_12_numbers.png")
