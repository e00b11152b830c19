"""What the reader of workbooks does not keep of charts: text alternatives, and charts of kinds it does not know."""

from __future__ import annotations

import re
import zipfile
from dataclasses import dataclass
from pathlib import Path
from posixpath import basename, dirname, join, normpath
from xml.etree import ElementTree

_DRAWING = "{http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing}"
_CHART = re.compile(r"xl/(?:[^/]+/)*charts?/chart\d*\.xml", re.IGNORECASE)
_UNKNOWN = re.compile(r"xl/(?:[^/]+/)*chart(?:s/|/)?chartEx\d*\.xml|xl/charts/chartEx\d*\.xml", re.IGNORECASE)


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
    """

    charts: int
    unknown: tuple[str, ...]
    alternatives: dict[str, tuple[str, ...]]


def chart_parts(path: Path) -> ChartParts:
    """Return the parts of a workbook that hold charts; nothing where it cannot be looked into."""
    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
            known = [name for name in names if _CHART.fullmatch(name)]
            unknown = [basename(name) for name in names if _UNKNOWN.fullmatch(name)]
            return ChartParts(len(known), tuple(unknown), _alternatives(archive))
    except (zipfile.BadZipFile, ElementTree.ParseError, KeyError, ValueError, OSError):
        return ChartParts(0, (), {})


def _alternatives(archive: zipfile.ZipFile) -> dict[str, tuple[str, ...]]:
    book = ElementTree.fromstring(archive.read("xl/workbook.xml"))
    targets = _targets(archive, "xl/workbook.xml")
    found = {}
    for sheet in book.iter():
        if sheet.tag.rpartition("}")[2] != "sheet":
            continue
        identifier = next((value for name, value in sheet.attrib.items() if name.endswith("}id")), "")
        part = targets.get(identifier, "")
        drawing = next((target for target in _targets(archive, part).values() if "drawings/drawing" in target), None)
        if drawing is not None and drawing in archive.namelist():
            found[sheet.attrib.get("name", "")] = _of_drawing(archive.read(drawing))
    return found


def _of_drawing(content: bytes) -> tuple[str, ...]:
    told = []
    for frame in ElementTree.fromstring(content).iter(f"{_DRAWING}graphicFrame"):
        named = next((one for one in frame.iter() if one.tag.endswith("}cNvPr")), None)
        told.append("" if named is None else named.attrib.get("descr", ""))
    return tuple(told)


def _targets(archive: zipfile.ZipFile, part: str) -> dict[str, str]:
    """Return the relations of a part: identifier -> the part that it names."""
    name = join(dirname(part), "_rels", f"{basename(part)}.rels")
    if not part or name not in archive.namelist():
        return {}
    found = {}
    for one in ElementTree.fromstring(archive.read(name)):
        target = one.attrib.get("Target", "")
        path = target.lstrip("/") if target.startswith("/") else normpath(join(dirname(part), target))
        found[one.attrib.get("Id", "")] = path
    return found
