"""The charts of a workbook as they are: their series with the cells they draw, and what its reader leaves out."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from itertools import combinations
from pathlib import Path
from posixpath import basename, dirname, join, normpath
from typing import Any, Literal, TypeAlias
from xml.etree import ElementTree

from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted

DrawnKind: TypeAlias = Literal["bars", "line", "area", "points", "pie", "other"]


@dataclass(frozen=True)
class DrawnAxis:
    """An axis.

    Attributes
    ----------
    title
    lower, upper
        Its fixed limits; None where the program chooses them.
    log
    percent
        Whether its numbers are shown as percents: 1 as 100%.
    shown
        Whether it is drawn; one that is not scales its series all the same.
    dated
        Whether it is one of dates, on which unequal steps are drawn unequal.
    """

    title: str = ""
    lower: float | None = None
    upper: float | None = None
    log: bool = False
    percent: bool = False
    shown: bool = True
    dated: bool = False


@dataclass(frozen=True)
class DrawnSeries:
    """A series.

    Attributes
    ----------
    name
    kind
    categories, values
        What its cells hold; None where a cell holds no number.
    secondary
        Whether it is on the secondary axis.
    where
        The cells of its values: ``"Pareto!$B$2:$B$5"``.
    stacked
        Whether it stands on the series before it.
    left_out, before
        Labels of rows that its table goes on with below the cells that are drawn, and of those above them.
    shifted
        The cells of its categories, where these are of other rows than its values; else empty.
    labels_from, labels_apart
        The cells that the texts at its marks are taken from, and whether these are other rows than its own.
    see_through
        Whether what is behind it can be seen: its fill is transparent, or none.
    """

    name: str
    kind: DrawnKind
    categories: tuple[str, ...]
    values: tuple[float | None, ...]
    secondary: bool = False
    where: str = ""
    stacked: bool = False
    left_out: tuple[str, ...] = ()
    before: tuple[str, ...] = ()
    shifted: str = ""
    labels_from: str = ""
    labels_apart: bool = False
    see_through: bool = False

    def covers(self, behind: DrawnSeries) -> bool:
        """Whether it is as high as a series behind it wherever both are drawn, so that nothing of that is seen."""
        if self.see_through or self.secondary != behind.secondary:
            return False  # on axes of their own heights are not those of the numbers
        pairs = zip(self.values, behind.values, strict=False)
        both = [(high, low) for high, low in pairs if high is not None and low is not None]
        return any(low > 0 for _, low in both) and all(high >= low >= 0 for high, low in both)


#: "Top 5 defects", "the 5 largest".
_THE_FIRST = compiled(
    r"top|first|largest|biggest|highest|most|leading|erste|größte|häufigste|premier|principa|primer|maggior|prim[ie]",
    re.IGNORECASE,
)


@dataclass(frozen=True)
class DrawnChart:
    """A chart of a workbook.

    Attributes
    ----------
    place
        Where it is: ``"sheet 'Pareto', the chart at F2"``.
    title
    series
    primary, secondary, category
        Its axes; None where there is none.
    alternative
        Its text alternative.
    told
        The codes of what was found in the table that it draws: one cause is one finding.
    sheet
        The name of the sheet that it stands on.
    """

    place: str
    title: str
    series: tuple[DrawnSeries, ...]
    primary: DrawnAxis | None = None
    secondary: DrawnAxis | None = None
    category: DrawnAxis | None = None
    alternative: str = ""
    told: frozenset[str] = frozenset()
    sheet: str = ""

    def draws(self, sheet: str) -> bool:
        """Whether any series draws cells of a sheet."""
        names = (series.where.lstrip("(").rpartition("!")[0] for series in self.series)
        return any(name.strip("'").replace("''", "'") == sheet for name in names)

    def says_how_many(self, drawn: int, others: int) -> bool:
        """Whether its title says that so many rows are drawn on purpose: the first of them, or "5 of 12"."""
        number = re.search(rf"\b{drawn}\b", self.title)
        more = re.search(rf"\b{drawn + others}\b", self.title)
        return number is not None and (more is not None or bool(_THE_FIRST.search(self.title)))

    def hidden_areas(self) -> tuple[str, ...]:
        """Return the names of areas that a later one, which is drawn in front, covers wherever both are drawn."""
        areas = [series for series in self.series if series.kind == "area" and not series.stacked]
        return tuple(dict.fromkeys(behind.name for behind, front in combinations(areas, 2) if front.covers(behind)))


_DRAWING = "{http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing}"
#: Charts of an Office Open XML archive, wherever its relations put them.
_CHART = compiled(r"xl/(?:[^/]+/)*charts?/chart\d*\.xml", re.IGNORECASE)
#: Charts of an OpenDocument archive are objects of their own.
_OBJECT = compiled(r"Object [^/]+/content\.xml")
#: Kinds of charts (waterfall, Pareto, ...) that openpyxl does not read.
_UNKNOWN = compiled(r"xl/(?:[^/]+/)*chart(?:s/|/)?chartEx\d*\.xml|xl/charts/chartEx\d*\.xml", re.IGNORECASE)


@dataclass(frozen=True)
class SeriesPart:
    """What the reader leaves out of a series.

    Attributes
    ----------
    label_cells
        The cells that its labels are taken from; empty where they are none.
    see_through
        Whether its fill is transparent, or none.
    axes
        The identifiers of the axes that it is drawn on.
    value_axis
        The one of its values; None where it has none.
    """

    label_cells: str = ""
    see_through: bool = False
    axes: tuple[str, ...] = ()
    value_axis: ElementTree.Element | None = None


@dataclass(frozen=True)
class ChartParts:
    """The parts of a workbook that hold charts.

    Attributes
    ----------
    charts
        How many charts there are that the reader knows.
    unknown
        The names of those that it does not.
    alternatives
        Sheet -> the text alternatives of its charts in their order.
    series
        Sheet -> of each chart, what the reader leaves out of each series.
    """

    charts: int
    unknown: tuple[str, ...]
    alternatives: dict[str, tuple[str, ...]]
    series: dict[str, tuple[tuple[SeriesPart, ...], ...]]


def chart_parts(path: Path) -> ChartParts:
    """Return the parts of a workbook that hold charts; nothing where it cannot be looked into."""
    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
            charts = [name for name in names if _CHART.fullmatch(name)]
            unknown = [basename(name) for name in names if _UNKNOWN.fullmatch(name)]
            return ChartParts(len(charts), tuple(unknown), *_of_sheets(archive))
    except (zipfile.BadZipFile, ElementTree.ParseError, KeyError, ValueError, OSError):
        # A part that cannot be read is reported as unread, not fatal.
        return ChartParts(0, (), {}, {})


def with_alternatives(content: bytes, texts: Mapping[str, Sequence[str]]) -> bytes:
    """Return a workbook whose charts have their text alternatives again, which its writer does not keep.

    Parameters
    ----------
    content
        The workbook.
    texts
        Sheet -> the text alternatives of its charts in their order.
    """
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as before, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as after:
        drawings = {drawing: texts.get(sheet, ()) for sheet, drawing in _drawings(before)}
        for part in before.infolist():
            part_bytes = before.read(part)
            after.writestr(
                part, _described(part_bytes, drawings[part.filename]) if part.filename in drawings else part_bytes
            )
    return out.getvalue()


def _described(drawing: bytes, texts: Sequence[str]) -> bytes:
    root = ElementTree.fromstring(drawing)
    for frame, text in zip(root.iter(f"{_DRAWING}graphicFrame"), texts, strict=False):
        named = next((element for element in frame.iter() if element.tag.endswith("}cNvPr")), None)
        if named is not None and text:
            named.set("descr", text)
    return bytes(ElementTree.tostring(root, encoding="utf-8", xml_declaration=True))


def charts_unread(data: Any) -> list[Note]:
    """Return that the charts of an OpenDocument workbook are not read here, if it has any."""
    if not isinstance(data, str | Path) or not str(data).casefold().endswith(".ods"):
        return []
    try:
        with zipfile.ZipFile(data) as archive:
            inner = [name for name in archive.namelist() if _OBJECT.fullmatch(name)]
            number = sum(
                b"<chart:chart" in archive.read(name) or b"office:chart" in archive.read(name) for name in inner
            )
    except (zipfile.BadZipFile, KeyError, ValueError, OSError, NotImplementedError, RuntimeError):
        # The workbook's own reader says what is wrong with the archive.
        return []
    verb = "it was" if number == 1 else "they were"
    what = f"{counted(number, 'chart')} of '{Path(data).name}' cannot be read here: {verb} not reviewed"
    return [Note("unread-chart", what, "note", "save it as .xlsx to have its charts read")] if number else []


def _of_sheets(
    archive: zipfile.ZipFile,
) -> tuple[dict[str, tuple[str, ...]], dict[str, tuple[tuple[SeriesPart, ...], ...]]]:
    texts, series = {}, {}
    for name, drawing in _drawings(archive):
        texts[name], series[name] = _of_drawing(archive, drawing)
    return texts, series


def _drawings(archive: zipfile.ZipFile) -> Iterator[tuple[str, str]]:
    """Yield each sheet that has a drawing, and the part that holds it."""
    book = ElementTree.fromstring(archive.read("xl/workbook.xml"))
    targets = _targets(archive, "xl/workbook.xml")
    for sheet in book.iter():
        if sheet.tag.rpartition("}")[2] != "sheet":
            continue
        identifier = next((value for name, value in sheet.attrib.items() if name.endswith("}id")), "")
        parts = _targets(archive, targets.get(identifier, "")).values()
        drawing = next((target for target in parts if "drawings/drawing" in target), None)
        if drawing is not None and drawing in archive.namelist():
            yield sheet.attrib.get("name", ""), drawing


def _of_drawing(archive: zipfile.ZipFile, drawing: str) -> tuple[tuple[str, ...], tuple[tuple[SeriesPart, ...], ...]]:
    """Return the text alternative of each chart of a drawing, and what the reader leaves out of its series."""
    texts, series = [], []
    parts = _targets(archive, drawing)
    for frame in ElementTree.fromstring(archive.read(drawing)).iter(f"{_DRAWING}graphicFrame"):
        named = next((element for element in frame.iter() if element.tag.endswith("}cNvPr")), None)
        texts.append("" if named is None else named.attrib.get("descr", ""))
        chart = next((element for element in frame.iter() if element.tag.endswith("}chart")), None)
        identifier = (
            "" if chart is None else next((text for name, text in chart.attrib.items() if name.endswith("}id")), "")
        )
        part = parts.get(identifier, "")
        series.append(_series_parts(archive.read(part)) if part in archive.namelist() else ())
    return tuple(texts), tuple(series)


def _series_parts(content: bytes) -> tuple[SeriesPart, ...]:
    """Return what the reader leaves out of each series of a chart, in the order of the series."""
    root = ElementTree.fromstring(content)
    value_axes = {
        name: element for element in root.iter() if element.tag.endswith("}valAx") for name in _axis_names(element)
    }
    parts = []
    for plot in root.iter():
        axes = _axis_names(plot)
        value_axis = next((value_axes[name] for name in axes if name in value_axes), None)
        series = (element for element in plot if element.tag.endswith("}ser"))
        parts += [SeriesPart(_label_cells(element), _see_through(element), axes, value_axis) for element in series]
    return tuple(parts)


def _axis_names(element: ElementTree.Element) -> tuple[str, ...]:
    """Return the identifiers of the axes of a plot, or that of an axis."""
    return tuple(part.attrib.get("val", "") for part in element if part.tag.endswith("}axId"))


def _label_cells(series: ElementTree.Element) -> str:
    ranges = (part for part in series.iter() if part.tag.endswith("}datalabelsRange"))
    formulas = (part.text or "" for range_element in ranges for part in range_element if part.tag.endswith("}f"))
    return next(formulas, "")


def _see_through(series: ElementTree.Element) -> bool:
    """Whether the fill of a series is none, or any color of it has an alpha below 100%."""
    shape = next((part for part in series if part.tag.endswith("}spPr")), None)
    fills = [part for part in shape if part.tag.endswith("Fill")] if shape is not None else []
    if any(fill.tag.endswith("}noFill") for fill in fills):
        return True
    alphas = (part.attrib.get("val", "") for fill in fills for part in fill.iter() if part.tag.endswith("}alpha"))
    return any(alpha not in ("100000", "100%") for alpha in alphas)


def _targets(archive: zipfile.ZipFile, part: str) -> dict[str, str]:
    """Return the relations of a part: identifier -> the part that it names."""
    name = join(dirname(part), "_rels", f"{basename(part)}.rels")
    if not part or name not in archive.namelist():
        return {}
    targets = {}
    for element in ElementTree.fromstring(archive.read(name)):
        target = element.attrib.get("Target", "")
        path = target.lstrip("/") if target.startswith("/") else normpath(join(dirname(part), target))
        targets[element.attrib.get("Id", "")] = path
    return targets
