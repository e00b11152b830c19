"""The script that a person would write by hand with pandas and Matplotlib: the peer of the benchmarks, kept fixed.

``python bench/by_hand.py chart LOG.csv COLUMN PICTURE`` draws, ``python bench/by_hand.py json LOG.csv COLUMN`` prints.
"""

from __future__ import annotations

import json
import sys
from typing import Any


def draw(counts: Any, path: Any, kind: str) -> None:
    import matplotlib.pyplot as plt

    total = counts.sum()
    cumulative = counts.cumsum() / total * 100
    figure, left = plt.subplots(figsize=(12.8, 8))
    left.bar(range(len(counts)), counts.to_numpy(), color="steelblue")
    left.set_ylim(0, total)
    left.set_ylabel("Frequency")
    left.set_xticks(range(len(counts)))
    left.set_xticklabels(counts.index, rotation=45, ha="right")
    left.set_title("Pareto chart")
    right = left.twinx()
    right.plot(range(len(counts)), cumulative.to_numpy(), color="firebrick", marker="o")
    right.axhline(80, color="gray", linestyle="--")
    right.set_ylim(0, 100)
    right.set_ylabel("Cumulative percent")
    figure.savefig(path, format=kind)
    plt.close(figure)


def combine(months: Any, fired: Any, second: Any, rejects: Any, path: Any) -> None:
    """Draw stacked bars and a line on a second axis; numbers stand where they fall."""
    import matplotlib.pyplot as plt

    figure, left = plt.subplots(figsize=(12.8, 8))
    places = range(len(months))
    lower = left.bar(places, fired, color="steelblue", label="First firing")
    upper = left.bar(places, second, bottom=fired, color="goldenrod", label="Second firing")
    left.set_ylabel("Tiles")
    left.set_xticks(places)
    left.set_xticklabels(months, rotation=45, ha="right")
    left.set_title("Firings and rejects")
    right = left.twinx()
    right.plot(places, rejects, color="firebrick", marker="o", label="Rejected")
    right.set_ylabel("Rejected (%)")
    if len(months) <= 60:
        left.bar_label(lower, label_type="center")
        left.bar_label(upper, label_type="center")
        for place, value in zip(places, rejects, strict=True):
            right.annotate(f"{value:.1f} %", (place, value), xytext=(0, 5), textcoords="offset points", ha="center")
    left.legend(loc="upper left")
    right.legend(loc="upper right")
    figure.savefig(path, format="png")
    plt.close(figure)


def chart(log: str, column: str, path: str) -> None:
    import matplotlib
    import pandas as pd

    matplotlib.use("Agg")
    draw(pd.read_csv(log)[column].value_counts(), path, path.rsplit(".", 1)[1])


def table(log: str, column: str) -> None:
    import pandas as pd

    labels = pd.read_csv(log)[column]
    counts = labels.value_counts()
    frame = pd.DataFrame({"frequency": counts, "percent": counts / counts.sum() * 100})
    frame["cumulative_percent"] = frame["percent"].cumsum()
    inside = int((frame["cumulative_percent"] < 80).sum()) + 1
    rows = frame.reset_index().to_dict(orient="records")
    print(json.dumps({"total": int(counts.sum()), "missing": int(labels.isna().sum()), "vital": inside, "rows": rows}))


if __name__ == "__main__":
    {"chart": chart, "json": table}[sys.argv[1]](*sys.argv[2:])
