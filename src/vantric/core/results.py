"""What every result that users hold can do.

How, its kind says: the registry of kinds is asked by name when something is wanted of a result, so that a result is
one class, in the room that computes it, and that room imports nothing further down the street.
"""

from __future__ import annotations

import importlib
from collections.abc import Iterator
from copy import copy
from pathlib import Path
from typing import TYPE_CHECKING, Any, ClassVar, Generic, Self, TypeVar, overload

from vantric.base.arithmetic import compute_alone
from vantric.errors import LabelError, unknown

if TYPE_CHECKING:
    from typing import BinaryIO

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from vantric.core.review import Finding
    from vantric.rendering.native_axes import DrawnAxes

#: Where kinds are looked up: the one name of a room further down that this one knows, as text.
KINDS = "vantric.kinds"


class Result:
    """The base of the results that users hold."""

    #: The kind of result it is.
    _kind: ClassVar[str] = ""
    #: Names that other rooms use, and `dir()` leaves out.
    _inner: ClassVar[frozenset[str]] = frozenset()
    _recipe: Any = None

    def __init_subclass__(cls, **options: Any) -> None:
        """Have what users call compute alike, whatever they have set for arithmetic of their own."""
        super().__init_subclass__(**options)
        compute_alone(cls)

    def _of_kind(self) -> Any:
        return importlib.import_module(KINDS).kind_named(self._kind)

    def _made_by(self, recipe: Any) -> Self:
        """Return the result with what it was made of."""
        result = copy(self)
        object.__setattr__(result, "_recipe", recipe)
        return result

    def __dir__(self) -> list[str]:
        """Return the public names."""
        return sorted(name for name in object.__dir__(self) if not name.startswith("_") and name not in self._inner)


R = TypeVar("R")


class Rows(Generic[R]):
    """A result of rows: they are counted, gone through, and found by their place or by their label."""

    #: The field of a row that is its label, and what a row is.
    _label: ClassVar[str] = "category"
    _row_is: ClassVar[str] = "category"

    def __len__(self) -> int:
        return len(self._every_row())

    def __iter__(self) -> Iterator[R]:
        return iter(self._every_row())

    @overload
    def __getitem__(self, key: int | str) -> R: ...

    @overload
    def __getitem__(self, key: slice) -> tuple[R, ...]: ...

    def __getitem__(self, key: int | str | slice) -> R | tuple[R, ...]:
        """Return a row by its place or its label, or the rows of a slice.

        Raises
        ------
        LabelError
            If there is no such label or place; it is a `KeyError` and an `IndexError` too.
        """
        rows = self._every_row()
        if isinstance(key, str):
            labels = [str(getattr(row, self._label)) for row in rows]
            if key in labels:
                return rows[labels.index(key)]
            raise unknown(LabelError, f"there is no {self._row_is} '{key}'", key, labels)
        if isinstance(key, int) and not -len(rows) <= key < len(rows):
            raise LabelError(f"there is no row {key}: the result has {len(rows)}, counted from 0", value=key)
        return rows[key]

    def __contains__(self, label: object) -> bool:
        return any(getattr(row, self._label) == label for row in self._every_row())

    def _every_row(self) -> tuple[R, ...]:
        rows: tuple[R, ...] = self.rows  # type: ignore[attr-defined]
        return rows


class Handed(Result):
    """A result that is handed on: as text in memory, into an open file, or by a path."""

    def _written(self, kind: str, **how: Any) -> bytes:
        """Return what a file of an ending holds."""
        content: bytes = self._of_kind().written(self, kind, **how)
        return content

    def to_html(self) -> str:
        """Return the page that saving as ``.html`` writes: one whole document."""
        return self._written("html").decode()

    def to_json(self) -> str:
        """Return the JSON text that saving as ``.json`` writes.

        Of a chart that is the chart file; where its data were in memory, the result that it was made of.
        """
        return self._written("json").decode()

    def to_markdown(self) -> str:
        """Return its tables as Markdown, without a picture."""
        return self._written("md").decode()

    @overload
    def save(self, target: str | Path, *, format: str = "", slide_tables: bool = False) -> Path: ...

    @overload
    def save(self, target: BinaryIO, *, format: str, slide_tables: bool = False) -> None: ...

    def save(self, target: str | Path | BinaryIO, *, format: str = "", slide_tables: bool = False) -> Path | None:
        """Write the result by the path's ending, or into an open file.

        Of a table ``.csv`` and ``.json`` hold the data, ``.md`` the table with a picture beside it. Of a chart
        ``.png``, ``.svg`` and ``.pdf`` are pictures of its size, ``.md`` its table with a picture beside it; ``.toml``
        and ``.json`` are chart files, which `read_chart` and ``vantric draw`` draw again: of series given as numbers,
        or of the file or database that the chart was made from. Of any of them ``.html`` is a page with chart, table
        and what the review says, ``.xlsx`` a workbook with a chart that follows its cells, ``.pptx`` a slide (install
        vantric[slides]).

        A file that is there is replaced only by the complete new one. Every picture carries what it shows in words. A
        label that a spreadsheet would run as a formula is behind an apostrophe in ``.csv`` and as plain text in
        ``.xlsx``.

        Parameters
        ----------
        target
            A path, or a file that is open for bytes.
        format
            The ending, where the path has none, or another one; needed for an open file.
        slide_tables
            Whether a slide is followed by the table.

        Returns
        -------
        pathlib.Path or None
            The path written; None for an open file.

        Raises
        ------
        TargetError
            If the ending is another one, the place cannot be written, the file takes text, or the data were in memory,
            so that no chart file can name them.
        """
        path: Path | None = self._of_kind().save(self, target, format=format, slide_tables=slide_tables)
        return path

    def show(self) -> Path:
        """Write it as a page into a temporary folder, open that with the system's browser, and return its path."""
        page: Path = self._of_kind().show(self)
        return page


class DataResult(Result):
    """A result that is data, and shows itself in notebooks as a table or in words."""

    def to_dict(self) -> dict[str, Any]:
        """Return the object that the command line prints with ``--format json``."""
        mapping: dict[str, Any] = self._of_kind().to_dict(self)
        return mapping

    def _repr_html_(self) -> str:
        text: str = self._of_kind().html(self)
        return text


class TableResult(DataResult, Handed):
    """A result that is a table: it is reviewed, drawn, and saved."""

    def __str__(self) -> str:
        """Return the table as lines of text, of a long one its first rows."""
        text: str = self._of_kind().text(self)
        return text

    def to_csv(self) -> str:
        """Return the table as saving it as ``.csv`` writes it: comma-separated, with a row of headings."""
        return self._written("csv").decode()

    def _reviewed(self) -> list[Finding]:
        """Return what the review says, worked out once."""
        if "_findings" not in self.__dict__:
            object.__setattr__(self, "_findings", self.review())
        findings: list[Finding] = self.__dict__["_findings"]
        return findings

    def review(self) -> list[Finding]:
        """Return what is wrong or risky, each with its fix; see `vantric.review`."""
        findings: list[Finding] = self._of_kind().reviewed(self)
        return findings

    def sentence(self) -> str:
        """Return what it shows, in words that can be read out."""
        sentence: str = self._of_kind().sentence(self)
        return sentence

    def to_frame(self) -> Any:
        """Return its rows as a frame of the library that the data came in, else of one that is installed."""
        return self._of_kind().to_frame(self)


class Drawable(Handed):
    """A picture: it is planned, drawn, saved, and shown in notebooks."""

    _kind = "chart"
    description: str
    #: What hands the picture over with the table it was made of.
    _told: Any = None

    def _with_section_source(self, section_source: Any) -> Self:
        """Return the picture with what hands it over."""
        drawn = copy(self)
        object.__setattr__(drawn, "_told", section_source)
        return drawn

    def _section(self) -> Any:
        """Return the picture with its table and what the review says of it."""
        return self._of_kind().section(self, None, ()) if self._told is None else self._told(self)

    def sentence(self) -> str:
        """Return what the chart shows, in words: the text alternative of every picture."""
        return self.description

    def review(self) -> list[Finding]:
        """Return what is wrong or risky, each with its fix; see `vantric.review`."""
        findings: list[Finding] = self._of_kind().reviewed(self)
        return findings

    def to_svg(self, *, name: str = "chart", fonts: bool = False) -> str:
        """Return the picture as SVG 1.1, to be part of a page: one element, with title and description inside.

        Parameters
        ----------
        name
            What the ids in it begin with: one of its own for each picture of a page.
        fonts
            Whether it holds the characters of its texts. Without, a page gives the font once (`vantric.font_css`); each
            text keeps its width in any case.
        """
        return self._written("svg", name=name, fonts=fonts).decode()

    def to_png(self, scale: float = 1.0) -> bytes:
        """Return the picture as PNG, `scale` times its size in pixels."""
        return self._written("png", scale=scale)

    def with_(self, **options: Any) -> Self:
        """Return the chart with some of its options replaced: ``chart.with_(title="Ours", theme="dark")``.

        Parameters
        ----------
        options
            Those that its function takes: of `Chart` for series given as numbers, else of ``result.chart()``.

        Raises
        ------
        OptionError
            For an option that the chart has not, or a value that it does not take.
        ChartError
            If the chart was not made by a function of Vantric.
        """
        chart: Self = self._of_kind().verbs["with"](self, options)
        return chart

    def draw(self, ax: Axes | None = None, *, link: bool = True) -> DrawnAxes:
        """Draw the chart into Matplotlib axes, which can then be changed like any others.

        Parameters
        ----------
        ax
            The primary axes, of a figure of the caller's; those of a new figure of the chart's size if not given.
        link
            Whether limits that are changed on one value axis move the other one, so that both grids still meet.

        Returns
        -------
        DrawnAxes
            The primary axes, and the secondary ones or None: ``primary, secondary = chart.draw(ax)``. Categories are
            from 0; bars are containers and lines are lines with the names of their series, all of which the legend of
            the primary axes names. Of panels, a tuple with a pair for each.

        Notes
        -----
        Give the figure ``layout="constrained"``, or call its ``tight_layout``, for titles to have their room.
        """
        axes: DrawnAxes = self._of_kind().verbs["draw"](self, ax, link=link)
        return axes

    def figure(self) -> Figure:
        """Return the whole picture as a Matplotlib figure, as saving it draws it: without axes."""
        figure: Figure = self._of_kind().verbs["figure"](self)
        return figure

    def _repr_mimebundle_(self, include: Any = None, exclude: Any = None) -> tuple[dict[str, Any], dict[str, Any]]:
        """Show the picture in a notebook, with what it shows in words beside it; pointed at, it shows its values.

        The PNG, for notebooks that show nothing else, has two pixels for each of the picture.
        """
        bundle: tuple[dict[str, Any], dict[str, Any]] = self._of_kind().verbs["notebook"](self)
        return bundle
