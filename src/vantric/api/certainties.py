"""How sure a result is, as users hold it."""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields
from typing import Any

from vantric.api.frames import frame_of
from vantric.api.verbs import Result
from vantric.cleaning import escaped
from vantric.core import inference
from vantric.reports.certaintydata import certainty_cells, certainty_object
from vantric.reports.documents import Plain
from vantric.reports.tablehtml import table_html


@dataclass(frozen=True)
class Certainty(Result, inference.Certainty):
    """How sure the ranking of a table is; made by `ParetoTable.certainty`."""

    _inner = frozenset({"of"})

    @classmethod
    def of(cls, found: inference.Certainty) -> Certainty:
        """Return the public form of what is known."""
        return cls(**{field.name: getattr(found, field.name) for field in fields(found)})

    def to_dict(self) -> Plain:
        """Return the object that ``vantric pareto --intervals --format json`` prints under ``certainty``."""
        return certainty_object(self)

    def to_frame(self) -> Any:
        """Return a row a category as a frame."""
        rows = [list(asdict(row).values()) for row in self.rows]
        return frame_of([field.name for field in fields(inference.CertaintyRow)], rows)

    def _repr_html_(self) -> str:
        return table_html(certainty_cells(self).table(), caption=self.sentence())


@dataclass(frozen=True)
class Concentration(Result, inference.Concentration):
    """How concentrated frequencies are; made by `ParetoTable.concentration`."""

    _inner = frozenset({"of"})

    @classmethod
    def of(cls, found: inference.Concentration) -> Concentration:
        """Return the public form of what is known."""
        return cls(**{field.name: getattr(found, field.name) for field in fields(found)})

    def to_dict(self) -> Plain:
        """Return every number and the sentence as plain values."""
        return {**asdict(self), "sentence": self.sentence()}

    def _repr_html_(self) -> str:
        return f"<p>{escaped(self.sentence())}</p>"
