"""Charts from data frames, side by side in a figure of your own."""

from importlib.resources import as_file, files

import pandas as pd
from matplotlib.figure import Figure

import vantric as vt

with as_file(files("vantric.demo") / "data" / "inspections.csv") as log:
    inspections = pd.read_csv(log)

figure = Figure(figsize=(16, 6))
left, right = figure.subplots(1, 2)
for axes, kiln in ((left, "Kiln 2"), (right, "Kiln 3")):
    table = vt.pareto(inspections[inspections["kiln"] == kiln], by="product", count="pieces")
    vt.pareto_chart(table).draw(ax=axes)
    print(f"{kiln}: {table.sentence()}")
figure.savefig("products_by_kiln.png")
