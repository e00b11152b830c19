"""Charts from data frames, side by side in a figure of your own, and changed there."""

from importlib.resources import as_file, files

import pandas as pd
from matplotlib.figure import Figure

import vantric as vt

with as_file(files("vantric.demo") / "data" / "inspections.csv") as log:
    inspections = pd.read_csv(log)

figure = Figure(figsize=(16, 6), layout="constrained")
for axes, kiln in zip(figure.subplots(1, 2), ("Kiln 2", "Kiln 3"), strict=True):
    table = vt.pareto(inspections[inspections["kiln"] == kiln], by="product", count="pieces")
    primary, secondary = table.chart(orientation="vertical").draw(axes)
    primary.set_title(kiln)
    primary.set_ylabel("Tiles rejected")
    primary.legend(loc="center right")
    secondary.tick_params(labelsize=8)
    print(f"{kiln}: {table.sentence()}")
figure.savefig("products_by_kiln.png")
