"""From a log to a Pareto chart: count, read, draw."""

from importlib.resources import as_file, files

import vantric as vt

with as_file(files("vantric.demo") / "data" / "inspections.csv") as log:
    table = vt.pareto(log, by="defect", count="pieces")

print(table.sentence())
print(table.to_frame().head())
for finding in vt.review(table):
    print(f"{finding.severity}: {finding.message}")

vt.pareto_chart(table).save("defects.png")
