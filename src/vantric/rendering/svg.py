"""A plan becomes a semantic SVG: groups by series, a title for every mark, real text; no scripts, no styles of marks.

`svg_sheet` draws the marks; what is over what, and how large marks look, is what the Matplotlib picture has (`themes`).
As part of a page (`Embedded`) the image scales with it, and every category has a target with its values.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from vantric.base.lazily import dataclass
from vantric.base.safe_text import escaped
from vantric.core.charts import Chart, PanelChart
from vantric.core.composition.series_labels import value_texts
from vantric.core.layout import PanelPlan, Plan
from vantric.core.layout.plan import PointMarks, RectMarks
from vantric.core.layout.text_layout import TextMeasure, table_measure
from vantric.core.numbers.number_format import one_line
from vantric.rendering import themes as strokes
from vantric.rendering.svg_sheet import Mark, SvgSheet, attributes, element, number, rectangle, series_name, titled
from vantric.rendering.themes import Theme
from vantric.rendering.web_font import FAMILY


def targets(chart: Chart, plan: Plan, keys: Sequence[str], tips: Sequence[str]) -> str:
    """Return a group of targets, as high as the frame and as wide as each category.

    The group says where zero and 100 percent of the line are, so that a page can draw a cutoff elsewhere.

    Parameters
    ----------
    chart, plan
        What is drawn, and where.
    keys
        The number of each category in the page.
    tips
        What is said of each, in lines; empty where another view of the page says it.
    """
    if not chart.series:
        return ""
    low, high = (plan.frame.bottom, plan.frame.top) if plan.horizontal else (plan.frame.left, plan.frame.right)
    centers = np.asarray(plan.centers, dtype=float)
    # A target reaches halfway to its neighbors, so that none is missed.
    middles = (centers[1:] + centers[:-1]) / 2
    ends = [high, *middles, low] if plan.horizontal else [low, *middles, high]
    shapes = []
    for index, (key, tip) in enumerate(zip(keys, tips, strict=True)):
        value, other = sorted((float(ends[index]), float(ends[index + 1])))
        box = _box(plan, value, other)
        # A page finds the category of a target by this key, whatever its label holds.
        shapes.append(rectangle(*box, titled(tip), data_category=key, class_="target", role="graphics-symbol"))
    return element("g", "".join(shapes), class_="targets", fill="none", pointer_events="all", **_cutoff(chart, plan))


def _box(plan: Plan, low: float, high: float) -> tuple[float, float, float, float]:
    """Return left, top, width and height of a category's place."""
    frame, height = plan.frame, plan.size[1]
    if plan.horizontal:
        return frame.left, height - high, frame.width, high - low
    return low, height - frame.top, high - low, frame.height


def _cutoff(chart: Chart, plan: Plan) -> dict[str, str]:
    """Return where a cutoff may be drawn: the heights of 0 and 100, and the ends of its line."""
    if not chart.cuts:
        return {}
    whole = 100.0 if chart.secondary_unit else chart.total  # the line may show frequencies
    across = (plan.frame.left, plan.frame.right)
    if plan.horizontal:
        ends = [
            plan.frame.left + float(plan.scales.secondary.fraction(value)) * plan.frame.width for value in (0, whole)
        ]
        across = (plan.size[1] - plan.frame.top, plan.size[1] - plan.frame.bottom)
    else:
        ends = [plan.size[1] - float(plan.secondary_y(value)) for value in (0.0, whole)]
    return {
        "data_ends": " ".join(map(number, ends)),
        "data_across": " ".join(map(number, across)),
        "data_way": "horizontal" if plan.horizontal else "vertical",
    }


#: The font that was measured, and fonts like it for who has not got it: lines of text are held to their width.
_FAMILIES = f"{FAMILY}, Segoe UI, Helvetica Neue, Arial, sans-serif"


@dataclass(frozen=True)
class Embedded:
    """How an image is part of a page.

    Attributes
    ----------
    name
        What its ids begin with.
    keys
        Label of a category -> its number in the page.
    tips
        What is said of each category of a chart without panels; the values of its series if not given.
    title
        What the image is called: the page has a heading in place of its title.
    letters
        Whether the page holds the letters of its texts: they need not be held to their width.
    """

    name: str
    keys: Mapping[str, int]
    tips: Sequence[str] = ()
    title: str = ""
    letters: bool = False


def svg_text(
    chart: Chart | PanelChart,
    plan: Plan | PanelPlan,
    theme: Theme,
    measure: TextMeasure = table_measure,
    family: str = "",
    *,
    embedded: Embedded | None = None,
    name: str = "",
    faces: str = "",
) -> str:
    """Return the plan of a chart as one SVG image with a title and a description (SVG 1.1, WAI-ARIA).

    Parameters
    ----------
    chart, plan
        What is drawn, and where.
    theme
        Its colors and lines.
    measure
        How wide text is: lines of text are held to it.
    family
        A font family in front of the usual ones.
    embedded
        How it is part of a page of ours; an image of its own if not given.
    name
        What its ids begin with, as part of the page of others; empty for a file of its own.
    faces
        The rules that give it the characters of its texts (`web_font`); empty where whoever looks has the font.
    """
    own_name = embedded.name if embedded else name
    before = f"{own_name}-" if own_name else ""
    if isinstance(plan, Plan):
        assert isinstance(chart, Chart)
        body = _drawn(chart, plan, theme, measure, before, embedded=embedded)
    else:
        assert isinstance(chart, PanelChart)
        body = _panels(chart, plan, theme, measure, before, embedded)
    families = f"{escaped(family)}, {_FAMILIES}" if family else _FAMILIES
    width, height = plan.size
    part, name = bool(name), own_name or "chart"
    # Assistive technology reads title and description as the name of the whole image.
    head: dict[str, object] = {
        "aria_labelledby": f"{name}-title {name}-description",
        "viewBox": f"0 0 {number(width)} {number(height)}",
        "font_family": families,
    }
    if embedded:
        head = {"class_": "chart", "role": "graphics-document", **head}
    else:
        head = {"xmlns": "http://www.w3.org/2000/svg", "role": "img", "width": width, "height": height, **head}
    return (
        f"{'' if embedded or part else _DECLARATION}<svg{attributes(**head)}>\n"
        f'<title id="{name}-title">{escaped(embedded.title if embedded else plan.title)}</title>\n'
        f'<desc id="{name}-description">{escaped(plan.description)}</desc>\n'
        f"{element('style', faces) + chr(10) if faces else ''}"
        f"{rectangle(0, 0, width, height, class_='ground', fill=theme.ground)}\n{body}\n</svg>\n"
    )


_DECLARATION = '<?xml version="1.0" encoding="utf-8"?>\n'


def _panels(
    chart: PanelChart, plan: PanelPlan, theme: Theme, measure: TextMeasure, before: str, embedded: Embedded | None
) -> str:
    height, unit = plan.size[1], min(plan.size[0] / strokes.DEFAULT_SIZE[0], plan.size[1] / strokes.DEFAULT_SIZE[1])
    around = SvgSheet(theme, height, unit, measure, "", letters=embedded is not None and embedded.letters)
    key = plan.legend
    around.rects("swatches", key.rects, strokes.BARS)
    samples: list[Mark] = [*key.areas, *key.paths, *key.points]
    for mark in samples:
        around.mark(mark, "legend")
    for text in plan.texts:
        around.text(text)
    parts = [around.written()]
    for index, ((box, item), panel) in enumerate(zip(plan.panels, chart.panels, strict=True), start=1):
        # A panel is drawn in its own pixels and moved as a whole.
        place = f"translate({number(box.left)} {number(height - box.top)})"
        inner = _drawn(panel, item, theme, measure, f"{before}panel-{index}-", 0.8 * unit, embedded=embedded)
        parts.append(element("g", inner, id=f"{before}panel-{index}", class_="panel", transform=place))
    return "\n".join(parts)


def _drawn(
    chart: Chart,
    plan: Plan,
    theme: Theme,
    measure: TextMeasure,
    prefix: str,
    unit: float | None = None,
    *,
    embedded: Embedded | None = None,
) -> str:
    sheet = SvgSheet(theme, plan.size[1], strokes.unit_of(plan) if unit is None else unit, measure, prefix)
    # Limits that cut data off must cut the marks off too.
    if plan.clipped:
        left, bottom, right, top = plan.frame
        sheet.clip = f"{prefix}frame"
        frame = rectangle(left, sheet.height - top, right - left, top - bottom)
        sheet.defs.append(element("clipPath", frame, id=sheet.clip))
    words = _words(chart)
    if embedded:
        sheet.letters = embedded.letters
        sheet.keys = [str(embedded.keys[label]) for label in chart.categories]
    # In a page the targets say what a mark is; saying it twice would be read twice.
    _bars(chart, plan, sheet, [[] for _ in words] if embedded else words)
    sheet.rects("swatches", plan.swatches, strokes.BARS)
    sheet.rects("rims", plan.rims, strokes.OVER_BARS / 2)
    marks: list[Mark] = [*plan.areas, *plan.paths, *plan.drawn_points]
    for mark in marks:
        series = chart.series[mark.series]
        sheet.series(mark.series, series.name, series.kind)
        word = words[mark.series] if isinstance(mark, PointMarks) else [series_name(series.name)]
        sheet.mark(mark, "", [] if embedded else word, clipped=not isinstance(mark, PointMarks))
    sheet.series(-1, "", "")
    samples: list[Mark] = [*plan.swatch_areas, *plan.swatch_paths, *plan.swatch_points]
    for sample in samples:
        sheet.mark(sample, "legend")
    # Text over a pattern needs a plate, or it cannot be read.
    patterned = {
        role for role, own_ in zip(plan.bars.roles, plan.bars.patterns, strict=False) if own_ not in ("", "plain")
    }
    for text in plan.texts:
        sheet.plate(text, patterned)
        sheet.text(text)
    if not embedded:
        return sheet.written()
    tips = embedded.tips or _tips(chart, words)
    return f"{sheet.written()}\n{targets(chart, plan, sheet.keys, tips)}"


def _bars(chart: Chart, plan: Plan, sheet: SvgSheet, words: Sequence[Sequence[str]]) -> None:
    """Add what is behind the series, and the bars."""
    sheet.rects("bands", plan.bands, strokes.BAND)
    sheet.rules(plan.rules)
    count, own = len(chart.categories), [number for number, item in enumerate(chart.series) if item.kind == "bars"]
    for index, series in enumerate(own):
        part = slice(index * count, (index + 1) * count)
        rects = RectMarks(
            plan.bars.edges[part], plan.bars.roles[part], plan.bars.levels[part], plan.bars.patterns[part]
        )
        sheet.series(series, chart.series[series].name, "bars")
        sheet.rects("bars", rects, strokes.BARS, words=words[series])
    sheet.series(-1, "", "")


def _words(chart: Chart) -> list[list[str]]:
    """Return what is said of each mark: its category, its series and its value; empty where it is missing."""
    words = []
    labels = [one_line(label, longest=120) for label in chart.categories]
    for series in chart.series:
        style = series.style or (chart.secondary_style if series.secondary else chart.style)
        # Values in percent have one decimal, as everywhere.
        texts = value_texts(series.values, style, percent=series.unit == "%" or _is_percent(chart, series.secondary))
        unit = f" {one_line(series.unit)}" if series.unit and series.unit != "%" else ""
        name = series_name(series.name)
        words.append(
            [f"{label}, {name}: {text}{unit}" if text else "" for label, text in zip(labels, texts, strict=True)]
        )
    return words


def _tips(chart: Chart, words: Sequence[Sequence[str]]) -> list[str]:
    """Return what is said of each category: its label, and a line a series."""
    labels = [one_line(label, longest=120) for label in chart.categories]
    return [
        "\n".join([label, *(own[index].removeprefix(f"{label}, ") for own in words if own[index])])
        for index, label in enumerate(labels)
    ]


def _is_percent(chart: Chart, secondary: bool) -> bool:
    unit = chart.secondary_unit if secondary else chart.primary_unit
    return bool(unit) and unit.strip() == chart.style.percent_unit.strip()
