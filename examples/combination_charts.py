"""Bars and lines on two axes: columns of a file, numbers of your own, and a chart kept as a file."""

from importlib.resources import as_file, files

import vantric as vt

with as_file(files("vantric.demo") / "data" / "firings.csv") as firings:
    rejects = vt.combine(
        firings,
        x="month",
        bars="first_firing=Tiles fired",
        line="percent:rejected/first_firing=Rejected",
        units={"Tiles fired": "tiles"},
        references=[vt.Reference(4, text="4% limit", axis="secondary")],
    )
    print(rejects.description)
    rejects.save("rejects.png")
    rejects.save("rejects.toml")
    print(vt.read_chart("rejects.toml", allow_source=True) == rejects)  # its source does not lie beside it

hours = vt.Chart(
    ["Pressing", "Glazing", "Kilns", "Packing"],
    [
        vt.Bars("Planned", [1600, 1850, 2400, 980], bar_width=0.9),
        vt.Bars("Achieved", [1376, 1499, 2401, None], bar_width=0.45, labels="percent of series"),
    ],
    together="overlaid",
    subject="crew",
    primary_title="Hours",
    orientation="horizontal",
)
print(hours.plan().left_out, "labels without a place")
hours.save("hours.svg")
