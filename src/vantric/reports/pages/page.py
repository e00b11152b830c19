"""A whole page: one file without a network, whose picture and table stay when scripts do not run."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from vantric.cleaning import escaped, markup
from vantric.reports.local import PLAIN, Fixed, Local
from vantric.reports.pages.figures import Ink, figure
from vantric.reports.pages.fonts import font_faces
from vantric.reports.pages.policy import policy
from vantric.reports.pages.prose import prose
from vantric.reports.pages.sectionparts import english, findings, notes, table
from vantric.reports.sections import Recut, Section, View

#: Variable of the style -> the role whose color it has.
_ROLES = {
    "ground": "ground", "ink": "title", "smoke": "note", "rule": "grid", "link": "strong", "strong": "strong",
    "quiet": "quiet", "cut": "cut", "mark": "grid", "error": "point-value", "on-strong": "on-strong",
    "on-quiet": "on-quiet",
}  # fmt: skip


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
    def local(self) -> Local:
        """The language of its sections, if it is one; English if they have several."""
        found = {one.local.tongue.code: one.local for one in self.sections if one.kind != "text"}
        return next(iter(found.values())) if len(found) == 1 else PLAIN


#: What the script of a page writes.
_SCRIPTED = ("Show", "values", "percents", "intervals", "Cutoff", "Cutoff in percent", "Cutoff in percent, typed",
             "as it was")  # fmt: skip


def _words(local: Local) -> dict[str, str]:
    """Return what the script of a page writes, and how a percent is written."""
    words = {name: local.tongue.tables.get(name, name) for name in _SCRIPTED}
    return {**words, "#": local.style.percent_unit, ".": local.style.signed(".")}


def page_text(page: Page) -> str:
    """Return a page as HTML (WHATWG)."""
    ink, local = Ink(), page.local
    body = [_section(one, f"s{at}", ink, alone=len(page.sections) == 1) for at, one in enumerate(page.sections, 1)]
    data = {f"s{at}": found for at, one in enumerate(page.sections, 1) if (found := _recut(one.recut()))}
    style = f"{font_faces(ink.letters) if ink.letters else ''}{_variables(page, ink)}{shipped('page.css')}"
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
    lead = prose(page.lead)
    changed = "".join(f"<li>{escaped(one)}</li>" for one in page.changed)
    since = escaped(page.local.word(Fixed("Since last time")))
    told = f'<div class="changed"><h2>{since}</h2><ul{english(page.local)}>{changed}</ul></div>' if changed else ""
    links = "".join(
        f'<li><a href="#s{at}">{escaped(one.title)}</a></li>' for at, one in enumerate(page.sections, 1) if one.title
    )
    named = escaped(page.local.word(Fixed("Contents")))
    contents = f'<nav class="contents" aria-label="{named}"><ol>{links}</ol></nav>' if len(page.sections) > 1 else ""
    kind = ' class="told"' if told else ""
    return f"<header{kind}><h1>{escaped(page.title)}</h1>{lead}{told}{contents}</header>"


def _foot(local: Local) -> str:
    said = "Made with Vantric. The file needs no network; it shows the same on any machine."
    return f"<footer{english(local)}>{said}</footer>"


def _section(one: Section, name: str, ink: Ink, *, alone: bool) -> str:
    views = one.views()
    shown = figure(views, name, ink)
    grids = one.grids()
    cut = bool(grids) and bool(grids[0].strong)
    parts = [
        "" if alone or not one.title else f'<h2 id="{name}-title">{escaped(one.title)}</h2>',
        f'<p class="sentence"{english(one.local)}>{escaped(one.sentence)}</p>' if one.sentence else "",
        prose(one.text),
        '<div class="controls"></div>' if one.recut() or len(views) > 1 else "",
        f'<a class="skip" href="#{name}-after">{escaped(one.local.word(Fixed("Skip the chart")))}</a>' if shown else "",
        shown,
        f'<div id="{name}-after"></div>' if shown else "",
        *(table(grid, grid.title or (one.base if not at else ""), ink, cut=cut and not at)
          for at, grid in enumerate(grids)),
        findings(one.findings, one.local),
        notes(one.notes, one.local),
    ]  # fmt: skip
    named = escaped(one.title or one.local.word(Fixed("Result")))
    label = f' aria-label="{named}"' if alone else f' aria-labelledby="{name}-title"'
    label = label if alone or one.title else ""
    wide = ' class="views-wide"' if _is_wide(views) else ""
    return f'<section id="{name}"{label}{wide}>\n{"".join(filter(None, parts))}\n</section>\n'


def _is_wide(views: Sequence[View]) -> bool:
    """Whether letters would be too small on a phone if the chart were as narrow: it is then moved sideways."""
    return any(view.chart.size[0] > 900 for view in views)


def _recut(found: Recut | None) -> dict[str, Any] | None:
    if found is None:
        return None
    return {
        "percent": found.percent, "units": [str(one) for one in found.units], "total": str(found.total),
        "labels": [markup(one) for one in found.labels], "places": list(found.places), "tied": list(found.tied),
        "rule": found.rule, "include": found.include, "slack": found.slack,
    }  # fmt: skip


def _json(data: Any) -> str:
    """Return data as JSON in which no sign can end the element that holds it."""
    text = json.dumps(data, separators=(",", ":"), ensure_ascii=True)
    return text.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")


def _variables(page: Page, ink: Ink) -> str:
    """Return the colors of both schemes; a page whose charts are all dark is dark in any scheme but on paper."""
    themes = {view.chart.theme for one in page.sections for view in one.views()[:1]}
    theme = "dark" if themes == {"dark"} else "light"
    named = "".join(f"--{name}:{ink.palette.of(role, theme)};" for name, role in _ROLES.items())
    light, dark = ink.palette.declared(dark=False), ink.palette.declared(dark=True)
    ground = ink.palette.of("ground", theme).removeprefix("var(").removesuffix(")")
    paper = "" if theme == "dark" else f"@media print{{:root{{--ground:#fff;--mark:#fff;{ground}:#fff}}}}"
    return f":root{{{light}{named}}}@media (prefers-color-scheme:dark){{@media not print{{:root{{{dark}}}}}}}{paper}"


@cache
def shipped(name: str) -> str:
    """Return a file of this room as a page holds it: without what only its readers need."""
    text = files("vantric.reports.pages").joinpath(name).read_text(encoding="utf-8")
    return "\n".join(line.lstrip() for line in text.splitlines() if not line.lstrip().startswith("//"))
