"""Counting by two columns, by family and by month."""

from importlib.resources import as_file, files

import vantric as vt

data = files("vantric.demo") / "data"
with as_file(data / "inspections.csv") as log, as_file(data / "defect_families.csv") as families:
    table = vt.crosstab(log, "defect", "kiln", families=families, where="pieces >= 2")
    print(table.to_frame(percent_of="row").round(1))

    months = vt.aggregate(log, "date", {"pieces": "sum", "cost a piece": "ratio:rework_cost/pieces"}, period="month")
    print(months.to_frame())
