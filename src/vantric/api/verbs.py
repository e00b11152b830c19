"""What every result can do: say what it shows, become data and frames, save itself, show itself in notebooks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Self

from vantric.api.saving import save_table
from vantric.core.reviewing import Finding
from vantric.reports.local import PLAIN

if TYPE_CHECKING:
    from vantric.api.recipe import Recipe
    from vantric.reports.documents import Document, Plain
    from vantric.reports.sections import Section


class Result:
    """The base of the results that users hold."""

    #: Names that other rooms use, and `dir()` leaves out.
    _inner: frozenset[str] = frozenset()
    _recipe: Recipe | None = None

    def _made_by(self, recipe: Recipe | None) -> Self:
        """Return the result itself, with what it was made of."""
        vars(self)["_recipe"] = recipe
        return self

    def __dir__(self) -> list[str]:
        """Return the public names."""
        return sorted(name for name in object.__dir__(self) if not name.startswith("_") and name not in self._inner)


class TableResult(Result):
    """A result that is a table."""

    _inner = frozenset({"of"})

    def _document(self, **how: Any) -> Document:
        raise NotImplementedError

    def _sources(self) -> list[str]:
        """Return the files it was made of, which saving must not replace."""
        return []

    def _reviewed(self) -> list[Finding]:
        """Return what the review says, worked out once."""
        own = vars(self)
        if "_findings" not in own:
            own["_findings"] = self.review()
        found: list[Finding] = own["_findings"]
        return found

    def _section(self) -> Section | None:
        """Return what is handed over of it: with its chart, where it has one."""
        return None

    def _handed(self, **how: Any) -> Document:
        """Return the document with what pages, workbooks and slides hold."""
        document = self._document(**how)
        own: Any = self._section
        return document if type(self)._section is TableResult._section else replace(document, section=own)

    def review(self) -> list[Finding]:
        """Return what is wrong or risky, each with its fix; see `vantric.review`."""
        from vantric.api.reviews import review

        return review(self)

    def to_dict(self) -> Plain:
        """Return the object that the command line prints with ``--format json``."""
        return self._document().data()

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
        return save_table(path, lambda: replace(self._handed(), slide_tables=slide_tables), self._sources())

    def _repr_html_(self) -> str:
        from vantric.reports.tablehtml import table_html

        document = self._document()
        if document.tables is not None:
            return table_html(document.tables(PLAIN)[0], caption=document.caption)
        assert document.cells is not None
        return table_html(document.cells().table(), caption=document.caption)


def listed(one: str | Sequence[str]) -> tuple[str, ...]:
    """Return one name, or several, as several."""
    return (one,) if isinstance(one, str) else tuple(one)
