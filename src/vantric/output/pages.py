"""A whole page: one file without a network, with the font its charts were measured in; it works without scripts."""

from __future__ import annotations

import base64
import hashlib
import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from importlib.resources import files
from typing import Any

from vantric.base.safe_text import escaped, markup
from vantric.core.charts import Chart, PanelChart
from vantric.core.messages.formatter import PLAIN, English, Formatter
from vantric.core.messages.message import Message
from vantric.core.review import Finding
from vantric.output.findings import WRONG_HEAD, headline, wrong_cell
from vantric.output.prose import prose_html
from vantric.output.sections import ChartView, CutoffRecalculation, Section, local_of
from vantric.rendering.pictures import planned, texts_of
from vantric.rendering.svg import Embedded, svg_text
from vantric.rendering.themes import Palette, SchemeTheme
from vantric.rendering.web_font import font_faces
from vantric.tables.table import Column, Table

#: What a page may write into a chart by itself.
_ALWAYS = "0123456789.,% -–"


@dataclass
class Ink:
    """What the sections of a page share: colors, letters, and the numbers of the categories.

    A category has one number wherever it occurs, so that it can be pointed out everywhere at once.
    """

    palette: Palette = field(default_factory=Palette)
    keys: dict[str, int] = field(default_factory=dict)
    letters: list[tuple[str, bool]] = field(default_factory=list)

    def key(self, label: str) -> int:
        """Return the number of a category."""
        return self.keys.setdefault(label, len(self.keys) + 1)


def figure(views: Sequence[ChartView], name: str, ink: Ink) -> str:
    """Return the views of a chart, of which the first is shown; a page's script shows the others."""
    if not views:
        return ""
    texts = []
    for index, view in enumerate(views):
        svg = _svg(view, f"{name}-{view.name}", ink, explained=index == 0)
        texts.append(f'<div class="view" data-view="{view.name}"{" hidden" if index else ""}>\n{svg}</div>')
    return f"<figure>{''.join(texts)}</figure>"


def _svg(view: ChartView, name: str, ink: Ink, *, explained: bool) -> str:
    """Return a chart without what the page itself says; what is said of its categories is in the first view."""
    chart = replace(view.chart, title="", subtitle="", note="")
    measure, plan = planned(chart)
    for label in _labels(chart):
        ink.key(label)
    theme = SchemeTheme.named(chart.theme, ink.palette)
    ink.letters += [] if chart.font else [(mark.text, mark.bold) for mark in texts_of(plan)]
    tips = view.tips if explained else ("",) * len(getattr(chart, "categories", ()))
    part = Embedded(name, ink.keys, tips, title=view.chart.title, letters=not chart.font)
    return svg_text(chart, plan, theme, measure, chart.font, embedded=part)


def _labels(chart: Chart | PanelChart) -> Iterator[str]:
    for panel in chart.panels if isinstance(chart, PanelChart) else (chart,):
        yield from panel.categories


_MOST_CELLS = 60  # wrong cells of one finding


def table(grid: Table, caption: str, ink: Ink, *, cut: bool = False) -> str:
    """Return a table; rows of a category carry its number, `cut` says that the strong rows are the vital few."""
    strong = grid.strong if cut else 0
    heads = zip(grid.heads(), grid.columns, strict=True)
    head = "".join(f'<th scope="col"{_classes(column)}>{escaped(name)}</th>' for name, column in heads)
    rows = [_row(grid, index, ink, strong=index < strong) for index in range(grid.rows)]
    body, last = (rows[: -grid.last], rows[-grid.last :]) if grid.last else (rows, [])
    parts = [
        f"<caption>{escaped(caption)}</caption>" if caption else "",
        f"<thead><tr>{head}</tr></thead>",
        f"<tbody>{''.join(body)}</tbody>",
        f'<tbody class="last">{"".join(last)}</tbody>' if last else "",
    ]
    if any(grid.total):
        pairs = zip(grid.columns, grid.shown_total(), strict=True)
        cells = (f"<td{_classes(column)}>{escaped(text)}</td>" for column, text in pairs)
        parts.append(f"<tfoot><tr>{''.join(cells)}</tr></tfoot>")
    name = escaped(caption or grid.local.say("table"))
    return f'<div class="scroll" tabindex="0" role="region" aria-label="{name}"><table>{"".join(parts)}</table></div>'


def _row(grid: Table, index: int, ink: Ink, *, strong: bool) -> str:
    key = f' data-category="{ink.key(grid.labels[index])}"' if grid.keyed >= 0 and grid.labels else ""
    vital = ' class="vital"' if strong else ""
    texts = grid.shown(index)
    cells = "".join(
        _cell(column, index, texts[place], scope=place == grid.keyed) for place, column in enumerate(grid.columns)
    )
    return f"<tr{key}{vital}>{cells}</tr>"


def _cell(column: Column, index: int, cell_text: str, *, scope: bool) -> str:
    text = escaped(cell_text)
    if scope:
        return f'<th scope="row">{text}</th>'
    value = column.values[index]
    number = "" if column.kind == "text" or not isinstance(value, (int, float)) else f' data-v="{value!r}"'
    return f"<td{_classes(column)}{number}>{text}</td>"


def _classes(column: Column) -> str:
    names = [] if column.kind == "text" else ["n"]
    names += [f"only-{column.view}"] if column.view else []
    names += ["abc"] if column.key == "abc" else []
    return f' class="{" ".join(names)}"' if names else ""


def findings(findings: Sequence[Finding], local: Formatter = PLAIN) -> str:
    """Return what the review says, errors first, each with its reason and its fix, and the cells that are wrong."""
    if not findings:
        return ""
    order = ("error", "warning", "note")
    items = "".join(
        _finding(finding, local) for finding in sorted(findings, key=lambda finding: order.index(finding.severity))
    )
    head = local.text(headline(findings))
    text = f"<summary{lang(head)}>{escaped(head)}</summary>"
    return f'<details class="findings" open>{text}<ul>{items}</ul></details>'


def lang(text: str) -> str:
    """Return the attribute that marks a text as English in a page of another language."""
    return ' lang="en"' if isinstance(text, English) else ""


def _finding(finding: Finding, local: Formatter) -> str:
    where = f' <span class="where">({escaped(finding.where)})</span>' if finding.where else ""
    kind = local.say(finding.severity)
    way = f"{escaped(local.say('fix'))}: {_marked(finding.fix)}"
    fix = f'<br><span class="fix">{way}</span>' if finding.fix else ""
    wrong = _wrong_cells(finding, local) if len(finding.cells) > 1 else ""
    text = _marked(finding.message)
    return f'<li class="{finding.severity}"><b>{escaped(kind)}</b> {text}{where}{fix}{wrong}</li>'


def _marked(text: str) -> str:
    return f"<span{lang(text)}>{escaped(text)}</span>" if isinstance(text, English) else escaped(text)


def _wrong_cells(finding: Finding, local: Formatter) -> str:
    head = "".join(f'<th scope="col">{escaped(name)}</th>' for name in WRONG_HEAD)
    cells = map(wrong_cell, finding.cells[:_MOST_CELLS])
    rows = "".join(f"<tr>{''.join(f'<td>{escaped(cell)}</td>' for cell in row)}</tr>" for row in cells)
    more = len(finding.cells) - _MOST_CELLS
    rest = f"<p>{_marked(local.text(Message('more cells wrong', count=more)))}</p>" if more > 0 else ""
    return f"<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>{rest}"


def notes(pairs: Sequence[tuple[str, str]]) -> str:
    """Return where the numbers come from, and what was done with them."""
    if not pairs:
        return ""
    items = "".join(f"<dt>{escaped(name)}</dt><dd{lang(text)}>{escaped(text)}</dd>" for name, text in pairs)
    return f'<dl class="notes">{items}</dl>'


def policy(style: str, script: str) -> str:
    """Return the policy of a page with one style and one script."""
    return (
        f"default-src 'none'; style-src {_hash(style)}; script-src {_hash(script)}; font-src data:; "
        "base-uri 'none'; form-action 'none'"
    )


def _hash(text: str) -> str:
    return f"'sha256-{base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()}'"


#: Variable of the style -> the role whose color it has.
_ROLES = {
    "ground": "ground",
    "ink": "title",
    "smoke": "note",
    "rule": "grid",
    "link": "strong",
    "strong": "strong",
    "quiet": "quiet",
    "rim": "rim-quiet",
    "cut": "cut",
    "mark": "grid",
    "error": "strong-value",
    "on-strong": "on-strong",
    "on-quiet": "on-quiet",
}


@dataclass(frozen=True)
class Page:
    """What a page holds.

    Attributes
    ----------
    title, lead
        Its heading, and Markdown under it.
    sections
        One after the other; several have a list of contents.
    changed
        What changed since last time, in words; ahead of the sections.
    """

    title: str
    sections: tuple[Section, ...]
    lead: str = ""
    changed: tuple[str, ...] = ()

    @property
    def local(self) -> Formatter:
        """The language of its sections, if it is one; English if they have several."""
        return local_of(self.sections)


#: What the script of a page writes.
_SCRIPTED = (
    "show",
    "values",
    "percents",
    "intervals",
    "cutoff",
    "cutoff in percent",
    "cutoff in percent, typed",
    "reset",
)
_RECUT = ("recut, none", "recut, reach", "recut, within", "recut, tied", "recut, wrong", "quoted", "and", "and more")


def _words(local: Formatter) -> dict[str, Any]:
    """Return what the script of a page writes, and how numbers are written."""
    # Sentences are in one language, their quotation marks and lists too.
    tongue = local.pattern("recut, none")[1]
    spoken = local if tongue.code == local.tongue.code else local.in_english
    sentences = {name: spoken.pattern(name)[0] for name in _RECUT}
    words = {name: local.say(name) for name in _SCRIPTED}
    marks = {"#": local.style.percent_unit, ".": local.style.signed("."), ",": local.style.signed(",")}
    return {**words, **sentences, **marks, "plurals": tongue.code}


def page_text(page: Page) -> str:
    """Return a page as HTML (WHATWG)."""
    ink, local = Ink(), page.local
    body = [
        _section(section, f"s{index}", ink, alone=len(page.sections) == 1)
        for index, section in enumerate(page.sections, 1)
    ]
    data = {
        f"s{index}": content for index, section in enumerate(page.sections, 1) if (content := _recut(section.recut()))
    }
    style = f"{font_faces(ink.letters, _ALWAYS) if ink.letters else ''}{_variables(page, ink)}{shipped('page.css')}"
    script = f"{shipped('pointing.js')}\n{shipped('page.js')}"
    return (
        f'<!DOCTYPE html>\n<html lang="{local.tongue.code}">\n<head>\n<meta charset="utf-8">\n'
        f'<meta http-equiv="Content-Security-Policy" content="{policy(style, script)}">\n'
        '<meta name="viewport" content="width=device-width, initial-scale=1">\n'
        '<meta name="generator" content="Vantric">\n'
        f"<title>{escaped(page.title)}</title>\n<style>{style}</style>\n</head>\n<body>\n"
        f"{_head(page)}\n<main>\n{''.join(body)}</main>\n{_foot(local)}\n"
        f'<script type="application/json" id="data">{_json(data)}</script>\n'
        f'<script type="application/json" id="words">{_json(_words(local))}</script>\n<script>{script}</script>\n'
        "</body>\n</html>\n"
    )


def _head(page: Page) -> str:
    lead = prose_html(page.lead)
    texts = list(map(page.local.text, page.changed))
    changed = "".join(f"<li{lang(text)}>{escaped(text)}</li>" for text in texts)
    since = escaped(page.local.say("since last time"))
    text = f'<div class="changed"><h2>{since}</h2><ul>{changed}</ul></div>' if changed else ""
    links = "".join(
        f'<li><a href="#s{index}">{escaped(section.title)}</a></li>'
        for index, section in enumerate(page.sections, 1)
        if section.title
    )
    named = escaped(page.local.say("contents"))
    contents = f'<nav class="contents" aria-label="{named}"><ol>{links}</ol></nav>' if len(page.sections) > 1 else ""
    kind = ' class="told"' if text else ""
    return f"<header{kind}><h1>{escaped(page.title)}</h1>{lead}{text}{contents}</header>"


def _foot(local: Formatter) -> str:
    text = local.text(Message("footer"))
    return f"<footer{lang(text)}>{text}</footer>"


def _section(section: Section, name: str, ink: Ink, *, alone: bool) -> str:
    views = section.views()
    text = figure(views, name, ink)
    grids = section.grids()
    cut = bool(grids) and bool(grids[0].strong)
    parts = [
        "" if alone or not section.title else f'<h2 id="{name}-title">{escaped(section.title)}</h2>',
        f'<p class="sentence"{lang(section.sentence)}>{escaped(section.sentence)}</p>' if section.sentence else "",
        prose_html(section.text),
        '<div class="controls"></div>' if section.recut() or len(views) > 1 else "",
        f'<a class="skip" href="#{name}-after">{escaped(section.local.say("skip the chart"))}</a>' if text else "",
        text,
        f'<div id="{name}-after"></div>' if text else "",
        *(
            table(grid, grid.title or (section.base if not index else ""), ink, cut=cut and not index)
            for index, grid in enumerate(grids)
        ),
        findings(section.findings, section.local),
        notes(section.notes),
    ]
    named = escaped(section.title or section.local.say("result"))
    label = f' aria-label="{named}"' if alone else f' aria-labelledby="{name}-title"'
    label = label if alone or section.title else ""
    wide = ' class="views-wide"' if _is_wide(views) else ""
    return f'<section id="{name}"{label}{wide}>\n{"".join(filter(None, parts))}\n</section>\n'


def _is_wide(views: Sequence[ChartView]) -> bool:
    """Whether letters would be too small on a phone if the chart were as narrow: it is then moved sideways."""
    return any(view.chart.size[0] > 900 for view in views)


def _recut(recalculation: CutoffRecalculation | None) -> dict[str, Any] | None:
    if recalculation is None:
        return None
    return {
        "percent": recalculation.percent,
        "units": [str(unit) for unit in recalculation.units],
        "total": str(recalculation.total),
        "labels": [markup(label) for label in recalculation.labels],
        "places": list(recalculation.places),
        "tied": list(recalculation.tied),
        "rule": recalculation.rule,
        "include": recalculation.include,
        "slack": recalculation.slack,
    }


def _json(data: Any) -> str:
    """Return data as JSON in which no sign can end the element that holds it."""
    text = json.dumps(data, separators=(",", ":"), ensure_ascii=True)
    return text.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")


def _variables(page: Page, ink: Ink) -> str:
    """Return the colors of both schemes; a page whose charts are all dark is dark in any scheme but on paper."""
    themes = {view.chart.theme for section in page.sections for view in section.views()[:1]}
    theme = "dark" if themes == {"dark"} else "light"
    named = "".join(f"--{name}:{ink.palette.of(role, theme)};" for name, role in _ROLES.items())
    light, dark = ink.palette.declared(dark=False), ink.palette.declared(dark=True)
    ground = ink.palette.of("ground", theme).removeprefix("var(").removesuffix(")")
    paper = "" if theme == "dark" else f"@media print{{:root{{--ground:#fff;--mark:#fff;{ground}:#fff}}}}"
    return f":root{{{light}{named}}}@media (prefers-color-scheme:dark){{@media not print{{:root{{{dark}}}}}}}{paper}"


@cache
def shipped(name: str) -> str:
    """Return a file of this room as a page holds it: without what only its readers need."""
    text = files("vantric.output").joinpath(name).read_text(encoding="utf-8")
    return "\n".join(line.lstrip() for line in text.splitlines() if not line.lstrip().startswith("//"))
