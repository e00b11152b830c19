"""The pictures of the gallery: each example leaves a chart, which is its picture."""

from __future__ import annotations

from pathlib import Path
from typing import Any


def scraper(block: Any, variables: dict[str, Any], conf: dict[str, Any], **kwargs: Any) -> str:
    """Save the chart that an example made as its picture, and return the text that shows it."""
    chart = variables["example_globals"].get("chart")
    if chart is None:
        return ""
    path = next(variables["image_path_iterator"])
    chart.save(path)
    about = getattr(chart, "description", "") or "A chart"
    return _figure(path, conf, about)


def _figure(path: str, conf: dict[str, Any], about: str) -> str:
    shown = Path(path).relative_to(conf["src_dir"]).as_posix()
    alternative = " ".join(about.split()).replace("\\", "")
    return f".. image:: /{shown}\n   :alt: {alternative}\n   :class: sphx-glr-single-img\n"
