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
    _save_thumbnail(chart, Path(path))
    about = getattr(chart, "description", "") or "A chart"
    return _figure(path, conf, about)


def _save_thumbnail(chart: Any, path: Path) -> None:
    """Save what the index shows: drawn small, so that its bars are wide and its title can be read."""
    from vantric.errors import VantricError

    place = path.parent / "thumb" / f"{path.stem.removesuffix('_001')}_small.png"
    place.parent.mkdir(exist_ok=True)
    form = {"orientation": chart.orientation} if hasattr(chart, "orientation") else {}
    for width, height in ((400, 250), (560, 350), (800, 500)):
        try:
            small = chart.with_(size=(width, height), subtitle="", note=False, **form)
            place.write_bytes(small.to_png(960 / width))
            return
        except VantricError:  # too small for its labels, or no option of this chart
            continue


def put_thumbnails(app: Any) -> None:
    """Put the small pictures where the index looks for thumbnails, once all examples have run."""
    for path in (Path(app.srcdir) / "gallery").glob("*/images/thumb/*_small.png"):
        path.replace(path.with_name(path.name.replace("_small.png", "_thumb.png")))


def _figure(path: str, conf: dict[str, Any], about: str) -> str:
    shown = Path(path).relative_to(conf["src_dir"]).as_posix()
    alternative = " ".join(about.split()).replace("\\", "")
    return f".. image:: /{shown}\n   :alt: {alternative}\n   :class: sphx-glr-single-img\n"
