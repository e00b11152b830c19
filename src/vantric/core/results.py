"""What every result that users hold can do.

How, its kind says: the registry of kinds is asked by name when something is wanted of a result, so that a result is
one class, in the room that computes it, and that room imports nothing further down the street.
"""

from __future__ import annotations

import importlib
from copy import copy
from pathlib import Path
from typing import TYPE_CHECKING, Any, ClassVar, Self

from vantric.base.arithmetic import compute_alone

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from vantric.core.review import Finding

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


class DataResult(Result):
    """A result that is data, and shows itself in notebooks as a table or in words."""

    def to_dict(self) -> dict[str, Any]:
        """Return the object that the command line prints with ``--format json``."""
        mapping: dict[str, Any] = self._of_kind().to_dict(self)
        return mapping

    def _repr_html_(self) -> str:
        text: str = self._of_kind().html(self)
        return text


class TableResult(DataResult):
    """A result that is a table: it is reviewed, drawn, and saved."""

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

    def save(self, path: str | Path, *, slide_tables: bool = False) -> Path:
        """Write the table by the path's ending.

        ``.csv`` and ``.json`` hold the data; ``.md`` the table with a picture beside it; ``.html`` a page with the
        chart, ``.xlsx`` a workbook with a chart that follows its cells, ``.pptx`` a slide (install vantric[slides]).

        A file that is there is replaced only by the complete new one. A label that a spreadsheet would run as a
        formula is behind an apostrophe in ``.csv`` and as plain text in ``.xlsx``.

        Parameters
        ----------
        path
        slide_tables
            Whether a slide is followed by the table.

        Returns
        -------
        pathlib.Path
            The path written.

        Raises
        ------
        TargetError
            If the ending is another one or the place cannot be written.
        """
        target: Path = self._of_kind().save(self, path, slide_tables=slide_tables)
        return target


class Drawable(Result):
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

    def save(self, path: str | Path, *, slide_tables: bool = False) -> Path:
        """Write the chart by the path's ending: ``.png``, ``.svg`` or ``.pdf`` a picture of its size.

        ``.html`` is a page with its table and what the review says, ``.xlsx`` a workbook with a chart that follows its
        cells, ``.pptx`` a slide (install vantric[slides]), ``.md`` its table with a picture beside it. A file that is
        there is replaced only by the complete new one. Every picture carries what it shows in words.
        ``.toml`` and ``.json`` are chart files, which `read_chart` and ``vantric draw`` draw again: of series given as
        numbers, or of the file or database that the chart was made from.

        Parameters
        ----------
        path
        slide_tables
            Whether a slide is followed by the table.

        Returns
        -------
        pathlib.Path
            The path written.

        Raises
        ------
        TargetError
            If the ending is another one, the place cannot be written, or the data were in memory, so that no chart
            file can name them.
        """
        target: Path = self._of_kind().verbs["save"](self, Path(path), slide_tables=slide_tables)
        return target

    def draw(self, ax: Axes | None = None) -> Figure:
        """Draw the chart with Matplotlib.

        Parameters
        ----------
        ax
            Axes whose place the whole chart takes, titles and labels included; a new figure if not given.

        Returns
        -------
        matplotlib.figure.Figure
        """
        figure: Figure = self._of_kind().verbs["draw"](self, ax)
        return figure

    def _repr_mimebundle_(self, include: Any = None, exclude: Any = None) -> dict[str, Any]:
        """Show the picture in a notebook, with what it shows in words beside it; pointed at, it shows its values."""
        bundle: dict[str, Any] = self._of_kind().verbs["notebook"](self)
        return bundle
