"""What a kind of result is: how it is made of a source, reviewed, told, drawn and written."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeAlias

from vantric.api.recipe import Recipe
from vantric.core.reviewing import Finding
from vantric.options import split_options
from vantric.reports.documents import Document
from vantric.reports.local import PLAIN, Local
from vantric.reports.table import Table, stacked
from vantric.sources.options import Opening

if TYPE_CHECKING:
    from vantric.api.drawables import Chart, PanelChart
    from vantric.reports.sections import Section

Parts: TypeAlias = Mapping[str, Any]


@dataclass(frozen=True, kw_only=True)
class Kind:
    """A kind of result.

    Attributes
    ----------
    name
        In chart files, and of its command.
    options
        Section of a chart file -> its class of options; the look of its chart is ``"chart"``.
    make
        Returns the result of a source, as it is opened, under options.
    origin
        Returns where a result comes from.
    review
        Returns what is wrong or risky in a result.
    sentence
        Returns what it shows.
    tables
        Returns its tables, for a look and in a language; more words say how.
    data
        Returns its JSON object, with findings.
    view
        Returns it for a terminal.
    chart
        Returns its chart under a look.
    section
        Returns what pages, workbooks and slides hold of it.
    titled
        What it is called, before its subject.
    optional
        Sections that only some results of the kind have.
    shown
        Returns the result as a look arranges it.
    check
        Raises an error for a result that says nothing.
    html
        Returns it for a notebook; its first table if not given.
    floats
        Columns of its frame that are floats.
    styled
        Whether its view holds styles of its own.
    verbs
        What only this kind can do, by name.
    """

    name: str
    options: Mapping[str, type]
    make: Callable[[Any, Opening, Parts], Any]
    origin: Callable[[Any], Any]
    review: Callable[[Any], Iterable[Finding]]
    sentence: Callable[[Any], str]
    tables: Callable[..., Sequence[Table]]
    data: Callable[..., dict[str, Any]]
    view: Callable[..., str]
    chart: Callable[[Any, Any], Any]
    section: Callable[..., Section]
    titled: str
    optional: tuple[str, ...] = ()
    shown: Callable[[Any, Any], Any] = lambda result, look: result
    check: Callable[[Any], object] = lambda result: None
    notebook: Callable[[Any], str] | None = None
    floats: tuple[str, ...] = ()
    styled: bool = False
    verbs: Mapping[str, Callable[..., Any]] = field(default_factory=dict)

    @property
    def plain_look(self) -> Any:
        """The look of its chart, where nothing is said."""
        return self.options["chart"]()

    def made(self, data: Any, options: Mapping[str, Any], **apart: Mapping[str, Any]) -> Any:
        """Return the result of data under options that are named, with how it was made.

        Options of a part that is optional come `apart`, under its name.
        """
        names = [name for name in self.options if name not in ("chart", *self.optional)]
        *found, opening = split_options(options, *(self.options[name] for name in names), Opening)
        parts = dict(zip(names, found, strict=True))
        parts |= {name: split_options(given, self.options[name])[0] for name, given in apart.items()}
        recipe, known = Recipe(self.name, data, opening, parts), getattr(data, "_recipe", None)
        if known is not None:  # a result that was made of something
            recipe = Recipe(self.name, known.source, known.opening, {**parts, "counting": known.parts["counting"]})
        return self.make(data, opening, parts)._made_by(recipe)

    def document(self, result: Any, look: Any, findings: Iterable[Finding], **how: Any) -> Document:
        """Return a result as a document."""
        shown, by = self.shown(result, look), self.origin(result).by
        return Document(
            title=f"{self.titled} of {by}" if by else self.titled,
            tables=lambda local: [one.in_language(local) for one in self.tables(shown, look, local, **how)],
            data=lambda: self.data(shown, look, findings, **how),
        )

    def reviewed(self, result: Any) -> list[Finding]:
        """Return what is wrong or risky, as users hold it."""
        from vantric.api.findings import Findings

        return Findings(self.review(result))

    def to_dict(self, result: Any, **how: Any) -> dict[str, Any]:
        """Return the JSON object of a result."""
        return self.data(result, self.plain_look, result._reviewed(), **how)

    def to_frame(self, result: Any, **how: Any) -> Any:
        """Return a result as a frame."""
        from vantric.api.frames import frame_of

        like = result._recipe and result._recipe.source
        return frame_of(*stacked(self.tables(result, self.plain_look, PLAIN, **how)), like=like, floats=self.floats)

    def save(self, result: Any, path: str | Path, *, slide_tables: bool, **how: Any) -> Path:
        """Write a result by its ending."""
        from dataclasses import replace

        from vantric.api.saving import save_table

        look, source = self.plain_look, self.origin(result).source

        def document() -> Document:
            plain = self.document(result, look, result._reviewed(), **how)
            section = cache(lambda: self.section(result, look, result._reviewed(), **how))
            return replace(plain, section=section, slide_tables=slide_tables)

        return save_table(path, document, [source] if source else [])

    def html(self, result: Any) -> str:
        """Return a result for a notebook."""
        from vantric.reports.tablehtml import table_html

        return self.notebook(result) if self.notebook else table_html(self.tables(result, self.plain_look, PLAIN)[0])

    def public_chart(self, result: Any, **options: Any) -> Chart | PanelChart:
        """Return the chart of a result that users hold; what is handed over of it is found again by its kind."""
        [look] = split_options(options, self.options["chart"])
        return self.drawn(result, look, result._recipe and result._recipe.with_parts(chart=look))

    def drawn(self, result: Any, look: Any, recipe: Recipe | None) -> Chart | PanelChart:
        """Return the chart under a look."""
        from vantric.api.drawables import public_chart

        return public_chart(self.chart(result, look), recipe, Told(self.name, result, look))


@dataclass(frozen=True)
class Told:
    """What hands a chart over with its table: the result and the look it was made of. It can be pickled."""

    kind: str
    result: Any
    look: Any

    def __call__(self, chart: Any) -> Section:
        """Return the section of the chart."""
        from vantric.api.kinds import kind_named

        return kind_named(self.kind).section(self.result, self.look, self.result._reviewed(), chart=chart)


def local_of(look: Any) -> Local:
    """Return the language of what people read beside a chart."""
    return PLAIN if look.language == "en" else Local.of(look.wording)
