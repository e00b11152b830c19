"""Handing over: a page, a workbook that works itself out again, and a report of the month beside the month before."""

from importlib.resources import as_file, files
from pathlib import Path

import vantric as vt

with as_file(files("vantric.demo") / "data") as data:
    table = vt.pareto(data / "inspections.csv", "defect", merge_spellings=True)
    for name in ("defects.html", "defects.xlsx", "defects.md"):
        print(table.save(name))

    for name in ("inspections.csv", "firings.csv", "monthly.toml"):
        Path(name).write_bytes((data / name).read_bytes())
    report = vt.report("monthly.toml")
    for line in report.changed:
        print(line)
    report.save("report.html")
    report.save("report.json")  # the next report says what changed since this one

    again = vt.report("monthly.toml", previous="report.json")
    print(again.changed[0])
