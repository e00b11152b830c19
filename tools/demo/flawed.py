"""The flawed files of the demo: a sheet, a log and charts, each with faults that the review must find."""

from __future__ import annotations

#: A Pareto sheet as it may come by mail: not sorted, divided by a sum with the Total row in it, rounded and added up.
FLAWED_SHEET = """defect,count,percent,cumulative
Pinhole,88,19.1,19.1
Warping,44,9.5,28.6
Edge chip,61,13.2,41.8
Scratch,38,8.2,50.0
Total,230,50.0,
"""

#: A chart with nearly every fault that a chart can have.
FLAWED_CHART = """format = "vantric/chart"
version = 2
kind = "series"

[given]
categories = ["Pressing", "Glazing", "Kilns", "Packing"]

[[given.series]]
kind = "bars"
name = "Tiles"
values = [640, 590, 610, 655]
unit = "tiles"

[[given.series]]
kind = "bars"
name = "Energy"
values = [310, 300, 420, 90]
unit = "kWh"

[[given.series]]
kind = "line"
name = "Rejected"
values = [4.2, 3.9, 5.1, 4.4]
unit = "%"

[[given.series]]
kind = "line"
name = "Hours"
values = [90, 40, 95, 30]
axis = "secondary"

[[given.series]]
kind = "steps"
name = "Staff"
values = [500, 900, 400, 950]

[chart]
title = "Everything at once"
together = "stacked"
policy = "separate"
primary_zero = false
primary_limits = [300, 900]
clip = true
secondary_title = ""
"""

#: Bars that hide each other on a log axis, and more lines than there are colors.
FLAWED_OVERLAY = """format = "vantric/chart"
version = 2
kind = "series"

[given]
categories = ["2026-01", "2026-02", "2026-03", "2026-04"]
series = [
  { kind = "bars", name = "Planned", values = [640, 590, 610, 655], axis = "primary", bar_width = 0.5 },
  { kind = "bars", name = "Done", values = [700, 600, 650, 700], axis = "primary", bar_width = 0.6 },
  { kind = "line", name = "Energy", values = [1000, 1200, 900, 100], axis = "secondary" },
  { kind = "line", name = "Rejected", values = [4, 5, 4, 6], axis = "secondary" },
  { kind = "line", name = "Staff", values = [40, 41, 39, 44], axis = "secondary" },
  { kind = "line", name = "Lorries", values = [12, 14, 11, 15], axis = "secondary" },
  { kind = "line", name = "Moulds", values = [30, 33, 31, 35], axis = "secondary" },
  { kind = "line", name = "Kilns", values = [3, 4, 4, 3], axis = "secondary" },
]

[chart]
together = "overlaid"
primary_log = true
policy = "separate"
title = "Plan and output"
"""

#: A cumulative line that is not the sum of its bars, over bars that are not sorted.
FLAWED_PARETO = """format = "vantric/chart"
version = 2
kind = "series"

[given]
categories = ["Warping", "Pinhole", "Edge chip", "Scratch"]

[[given.series]]
kind = "bars"
name = "Frequency"
values = [44, 88, 61, 38]

[[given.series]]
kind = "line"
name = "Cumulative percent"
values = [38.1, 64.5, 83.5, 100]
axis = "secondary"
unit = "%"

[chart]
title = "Defects"
"""

#: A log with its total among the categories, slips of the keyboard, and more without a defect than with one.
FLAWED_LOG = """defect,pieces
Pinhole,60
pinhole,5
Scratch,20
Scrach,4
Edge chip,4
,300
Total,93
"""

#: Rates of unlike bases, two records a month, and hours that only seem to go with the tiles.
FLAWED_RATES = """month,fired,hours,reject_rate
2026-01,300,30,4.0
2026-01,340,34,2.0
2026-02,200,20,5.0
2026-02,230,23,3.0
2026-03,310,31,2.5
2026-03,330,33,3.5
2026-04,150,15,6.0
2026-04,180,18,2.0
"""

FLAWED_RATES_CHART = """format = "vantric/chart"
version = 2
kind = "combine"

[data]
source = "flawed_rates.csv"

[combine]
x = "month"
series = [
  { kind = "line", what = "fired", unit = "tiles" },
  { kind = "line", what = "hours", unit = "h" },
  { kind = "points", what = "mean:reject_rate", unit = "tiles" },
]
"""

#: A cumulative line on an axis of its own, which does not meet the total of the bars.
FLOATING_LINE = """format = "vantric/chart"
version = 2
kind = "series"

[given]
categories = ["Pinhole", "Edge chip", "Warping", "Scratch"]

[[given.series]]
kind = "bars"
name = "Frequency"
values = [88, 61, 44, 38]

[[given.series]]
kind = "line"
name = "Cumulative percent"
values = [38.1, 64.5, 83.5, 100]
axis = "secondary"
unit = "%"
"""
