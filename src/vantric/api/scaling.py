"""``vantric.align``, and the pair of scales that users hold."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.chartsof import chart_of_scales
from vantric.api.drawables import Chart
from vantric.api.frames import frame_of
from vantric.api.recipe import Recipe
from vantric.api.verbs import TableResult
from vantric.core import axes
from vantric.core.axes import Scaling
from vantric.options import split_options
from vantric.options.showing import shows
from vantric.reports import scalesdata
from vantric.reports.tablefile import scales_document

if TYPE_CHECKING:
    from vantric.api.keywords import ScalingOptions
    from vantric.reports.documents import Document
    from vantric.reports.sections import Section


@dataclass(frozen=True)
class ScalePair(TableResult, axes.ScalePair):
    """A primary and a secondary scale; made by `vantric.align`."""

    @classmethod
    def of(cls, pair: axes.ScalePair, recipe: Recipe | None = None) -> ScalePair:
        """Return the public form of a pair of scales."""
        return cls(**{field.name: getattr(pair, field.name) for field in fields(pair)})._made_by(recipe)

    def _document(self, **how: Any) -> Document:
        return scales_document(self)

    def _section(self) -> Section:
        from vantric.api.handing.sections import scales_section

        return scales_section(self, self._reviewed())

    def sentence(self) -> str:
        """Return what the two scales promise."""
        return " ".join(scalesdata.scales_words(self))

    def to_frame(self) -> Any:
        """Return a row a tick as a frame: its side, its value, its share of the height."""
        return frame_of(*scalesdata.scales_rows(self))

    def chart(self) -> Chart:
        """Return the chart of two empty axes."""
        plain = axes.ScalePair(**{field.name: getattr(self, field.name) for field in fields(self)})
        from vantric.api.handing.sections import scales_section as told

        return Chart.of(chart_of_scales(plain), self._recipe, lambda chart: told(plain, self._reviewed(), chart=chart))


@shows(Scaling)
def align(
    primary: tuple[float, float], secondary: tuple[float, float], **options: Unpack[ScalingOptions]
) -> ScalePair:  # fmt: skip
    """Scale two value axes together.

    Parameters
    ----------
    primary, secondary
        The ranges of the data, lower and upper, in the units of each side.

    Returns
    -------
    ScalePair

    Raises
    ------
    ScaleError
        For a range that runs downward, is not finite, or is not above zero on a log side; and for options that
        conflict: the message says which two.

    Notes
    -----
    The grid is an optimum over all pairs of nice steps; see ``docs/axes.md`` for the method and its sources.

    Examples
    --------
    >>> import vantric as vt
    >>> pair = vt.align((0, 650), (0, 100))
    >>> pair.shared_ticks
    True
    """
    [scaling] = split_options(options, Scaling)
    recipe = Recipe("scales", parts={"scales": {"primary": primary, "secondary": secondary, **scaling.changed()}})
    return ScalePair.of(axes.align(primary, secondary, scaling), recipe)
