"""What a kind of result is: how it is made of a source, reviewed, described, drawn, written and saved."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import field
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeAlias

from vantric.base.lazily import dataclass
from vantric.base.safe_files import check_target, ending_of, write_whole
from vantric.base.safe_text import Plain
from vantric.core.charts.settings import ChartSettings
from vantric.core.messages.formatter import PLAIN, Formatter
from vantric.core.review import Finding
from vantric.engines.source_paths import check_no_input
from vantric.errors import TargetError, nearest, unknown
from vantric.kinds.recipe import Recipe
from vantric.options import split_options
from vantric.reading.settings import ReadSettings
from vantric.tables.table import Table, stacked

if TYPE_CHECKING:
    from vantric.core.charts import Chart, PanelChart
    from vantric.files.models import ChartFile
    from vantric.output.sections import Section
    from vantric.output.writers import Content


class Findings(list[Finding]):
    """A list of findings that shows itself in notebooks."""

    def to_dict(self) -> Plain:
        """Return the findings as the command line prints them."""
        return {"format": "vantric/review", "version": 1, "findings": [finding.to_dict() for finding in self]}

    def sentence(self) -> str:
        """Return how many of each severity there are."""
        from vantric.output.findings import headline

        return headline(self)

    def _repr_html_(self) -> str:
        from vantric.output.findings import findings_html

        return findings_html(self)


def save_content(target: Path, content: Callable[[], Content], sources: Iterable[str], kind: str) -> Path:
    """Write a result whole; raise `TargetError` if that cannot be, or would replace a source of it."""
    from vantric.output.writers import contents_of

    read = list(sources)
    check_target(target)
    check_no_input(target, read)
    for place, written in contents_of(target, kind, content(), sources=read):
        write_whole(place, written)
    return target


def ending(target: Path, names: Sequence[str]) -> str:
    """Return a path's ending, or raise `TargetError` if it is not one of those known."""
    kind = ending_of(target)
    if kind in names:
        return kind
    hint = nearest(kind, names) if kind else ""
    message = f"cannot write '{target}': its ending is not one of .{', .'.join(names)}{hint}"
    raise TargetError(message, value=str(target), known=names, hint=hint.removeprefix("; "))


def file_kind(format: str, names: Sequence[str]) -> str:
    """Return a format that was said, or raise `TargetError` if it is not one of those known."""
    kind = format.removeprefix(".").casefold()
    if kind in names:
        return kind
    if not kind:
        raise TargetError(f"an open file has no ending: say its format, one of {', '.join(names)}", known=names)
    raise unknown(TargetError, f"'{format}' is not a format that is written", kind, names, every=True)


def write_open(file: Any, content: bytes) -> None:
    """Write bytes into an open file; raise `TargetError` for one that takes text, or takes nothing."""
    try:
        file.write(content)
    except TypeError:
        raise TargetError("the open file takes text: open it for bytes, in the mode 'wb'") from None
    except (OSError, ValueError) as error:
        raise TargetError(f"cannot write into the open file: {error}") from None


Parts: TypeAlias = Mapping[str, Any]


def _nothing(*_: Any, **__: Any) -> Any:
    return ()


def _sections(kind: Kind, chart_file: ChartFile) -> dict[str, Any]:
    return {name: chart_file.parts[name] for name in kind.options if name in chart_file.parts}


_MOST_ROWS, _WIDE = 30, 120  # rows and signs of a printed result


def _more(rows: Sequence[Sequence[str]]) -> list[str]:
    """Return the row that says how many more there are."""
    return [f"… {len(rows) - _MOST_ROWS + 1:,} more", *("" for _ in rows[0][1:])]


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
        Returns where a result comes from; None for what has no source.
    review
        Returns what is wrong or risky in a result.
    sentence
        Returns what it shows.
    tables
        Returns its tables, for a look and in a language; more words say how.
    data
        Returns its JSON object, with findings; more words say how.
    view
        Returns it for a terminal, as lines under which the findings stand, or as a text that holds them.
    chart
        Returns its chart under a look.
    section
        Returns what pages, workbooks and slides hold of it.
    drawn
        Whether its chart is what is reviewed and described: it is needed whatever is written.
    optional
        Sections that only some results of the kind have.
    shown
        Returns the result as a look arranges it.
    check
        Raises an error for a result that says nothing.
    sources
        Returns the names of the files that it was made of.
    compared
        Returns what the next report compares with; None if nothing is.
    parts_of
        Returns its options, as a chart file says them.
    recipe_parts
        Returns the options of a recipe, from a result and the options that it was made with.
    notebook
        Returns it for a notebook; its first table if not given.
    floats
        Columns of its frame that are floats.
    styled
        Whether its view holds styles of its own, and the findings.
    endings
        Of the files that it is saved as, where they are not those of every table.
    verbs
        What only this kind can do, by name.
    """

    name: str
    options: Mapping[str, type] = field(default_factory=dict)
    make: Callable[[Any, ReadSettings, Parts], Any] = _nothing
    origin: Callable[[Any], Any] = lambda result: result.origin
    review: Callable[[Any], Iterable[Finding]] = _nothing
    sentence: Callable[[Any], str] = lambda result: str(result.sentence())
    tables: Callable[..., Sequence[Table]] = _nothing
    data: Callable[..., dict[str, Any]] = _nothing
    view: Callable[..., Any] = _nothing
    chart: Callable[[Any, Any], Any] = _nothing
    section: Callable[..., Section] = _nothing
    drawn: bool = False
    optional: tuple[str, ...] = ()
    shown: Callable[[Any, Any], Any] = lambda result, look: result
    check: Callable[[Any], object] = _nothing
    sources: Callable[[Any], list[str]] | None = None
    compared: Callable[[Any], Any] = lambda result: None
    parts_of: Callable[[Kind, ChartFile], Parts] = _sections
    recipe_parts: Callable[[Any, Parts], Parts] = lambda result, parts: parts
    notebook: Callable[[Any], str] | None = None
    floats: tuple[str, ...] = ()
    styled: bool = False
    endings: tuple[str, ...] = ()
    verbs: Mapping[str, Callable[..., Any]] = field(default_factory=dict)

    @property
    def plain_look(self) -> Any:
        """The look of its chart, where nothing is said."""
        return self.options.get("chart", ChartSettings)()

    def made(self, data: Any, options: Mapping[str, Any], **apart: Mapping[str, Any]) -> Any:
        """Return the result of data under options that are named, with how it was made.

        Options of a part that is optional come `apart`, under its name.
        """
        names = [name for name in self.options if name not in ("chart", *self.optional)]
        *values, opening = split_options(options, *(self.options[name] for name in names), ReadSettings)
        parts = dict(zip(names, values, strict=True))
        parts |= {name: split_options(section_values, self.options[name])[0] for name, section_values in apart.items()}
        recipe, known_recipe = Recipe.of(self.name, data, opening, parts), getattr(data, "_recipe", None)
        if known_recipe is not None:  # a result that was made of something
            recipe = Recipe(
                self.name,
                known_recipe.source,
                known_recipe.opening,
                {**parts, "counting": known_recipe.parts["counting"]},
            )
        return self.make(data, opening, parts)._made_by(recipe)

    def findings(self, result: Any, look: Any, chart: Any) -> list[Finding]:
        """Return what is wrong or risky in a result as a look shows it, or in its chart."""
        if not self.drawn:
            return list(self.review(self.shown(result, look)))
        from vantric.core.review import review_chart

        return list(review_chart(chart))

    def reviewed(self, result: Any) -> list[Finding]:
        """Return what is wrong or risky, as users hold it."""
        return Findings(self.review(result))

    def content(
        self,
        result: Any,
        look: Any,
        findings: Iterable[Finding],
        *,
        chart: Any = None,
        local: Formatter = PLAIN,
        slide_tables: bool = False,
        **how: Any,
    ) -> Content:
        """Return what files of a result are written from; `chart` if it is drawn already."""
        from vantric.output.writers import Content

        drawn_result = self.shown(result, look)
        more = {**how, "chart": chart} if self.drawn else how
        return Content(
            sections=cache(lambda: (self.section(result, look, findings, chart=chart, **how),)),
            tables=lambda local: [table.in_language(local) for table in self.tables(drawn_result, look, local, **more)],
            data=lambda: self.data(drawn_result, look, findings, **more),
            local=local,
            slide_tables=slide_tables,
        )

    def to_dict(self, result: Any, **how: Any) -> dict[str, Any]:
        """Return the JSON object of a result."""
        findings = result._reviewed() if hasattr(result, "_reviewed") else ()
        return self.data(result, self.plain_look, findings, **how)

    def to_frame(self, result: Any, **how: Any) -> Any:
        """Return a result as a frame."""
        if "frame" in self.verbs:
            return self.verbs["frame"](result, **how)
        from vantric.kinds.frames import frame_of

        like = result._recipe and result._recipe.library
        return frame_of(*stacked(self.tables(result, self.plain_look, PLAIN, **how)), like=like, floats=self.floats)

    def sources_of(self, result: Any) -> list[str]:
        """Return the names of the files that a result was made of, which nothing may replace."""
        if self.sources is not None:
            return self.sources(result)
        source = self.origin(result).source
        return [source] if source else []

    def written(self, result: Any, kind: str, *, slide_tables: bool = False, **how: Any) -> bytes:
        """Return a result as a file of an ending holds it."""
        if "written" in self.verbs:
            written: bytes = self.verbs["written"](result, kind, slide_tables=slide_tables, **how)
            return written
        from vantric.output.writers import write_content

        findings = result._reviewed() if hasattr(result, "_reviewed") else ()
        return write_content(self.content(result, self.plain_look, findings, slide_tables=slide_tables, **how), kind)

    def save(
        self, result: Any, target: Any, *, format: str = "", slide_tables: bool = False, **how: Any
    ) -> Path | None:
        """Write a result by its ending, or into an open file."""
        from vantric.output.writers import WRITERS

        endings = self.endings or tuple(WRITERS)
        if hasattr(target, "write"):
            kind = file_kind(format, endings)
            write_open(target, self.written(result, kind, slide_tables=slide_tables, **how))
            return None
        path = Path(target)
        kind = file_kind(format, endings) if format else ending(path, endings)
        if "save" in self.verbs:
            saved: Path = self.verbs["save"](result, path, kind, slide_tables=slide_tables, **how)
            return saved

        def content() -> Content:
            return self.content(result, self.plain_look, result._reviewed(), slide_tables=slide_tables, **how)

        return save_content(path, content, self.sources_of(result), kind)

    def text(self, result: Any) -> str:
        """Return the first table of a result as lines of text, of a long one its first rows; and what it shows."""
        from textwrap import wrap

        from vantric.tables.table import grid_lines

        table = self.tables(result, self.plain_look, PLAIN)[0]
        rows = table.shown_rows(total=False)
        shorter = rows if len(rows) <= _MOST_ROWS else [*rows[: _MOST_ROWS - 1], _more(rows)]
        total = [table.shown_total()] if table.total else []
        left = frozenset(place for place, column in enumerate(table.columns) if column.plain)
        lines = grid_lines(table.heads(), [*shorter, *total], width=_WIDE, left=left)
        return "\n".join([*lines, "", *wrap(PLAIN.text(self.sentence(result)), _WIDE)])

    def show(self, result: Any) -> Path:
        """Open a result as a page in the system's browser, and return its path."""
        import tempfile
        import webbrowser

        page = Path(tempfile.mkdtemp(prefix="vantric-")) / "vantric.html"
        self.save(result, page)
        webbrowser.open(page.as_uri())
        return page

    def html(self, result: Any) -> str:
        """Return a result for a notebook."""
        from vantric.output.markup import table_html

        return self.notebook(result) if self.notebook else table_html(self.tables(result, self.plain_look, PLAIN)[0])

    def public_chart(self, result: Any, **options: Any) -> Chart | PanelChart:
        """Return the chart of a result that users hold; what is handed over of it is found again by its kind."""
        if "chart" in self.verbs:
            chart: Chart = self.verbs["chart"](result, **options)
            return chart
        [look] = split_options(options, self.options["chart"])
        return self.drawn_chart(result, look, result._recipe and result._recipe.with_parts(chart=look))

    def drawn_chart(self, result: Any, look: Any, recipe: Recipe | None) -> Chart | PanelChart:
        """Return the chart under a look."""
        chart: Chart | PanelChart = self.chart(result, look)
        return chart._made_by(recipe)._with_section_source(SectionSource(self.name, result, look))


@dataclass(frozen=True)
class SectionSource:
    """What hands a chart over with its table: the result and the look it was made of. It can be pickled."""

    kind: str
    result: Any
    look: Any

    def __call__(self, chart: Any) -> Section:
        """Return the section of the chart."""
        from vantric.kinds import kind_named

        kind = kind_named(self.kind)
        return kind.section(self.result, self.look, kind.findings(self.result, self.look, chart), chart=chart)
