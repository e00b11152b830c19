"""
Titles of your own
==================

And no note at the foot.
"""

from importlib.resources import files

import vantric as vt

log = files("vantric.demo") / "data" / "inspections.csv"
chart = vt.pareto_chart(
    vt.pareto(log, by="defect", merge_spellings=True, keep=9),
    title="What we reject",
    subtitle="November to October",
    category_title="Defect",
    note=False,
    title_place="center",
)
chart.save("plot_07_titles.png")
