"""``vantric.align``: two value axes that are scaled together."""

from __future__ import annotations

from typing import TYPE_CHECKING, Unpack

from vantric.core.axes import ScalePair, Scaling
from vantric.kinds.scales import scaled
from vantric.options import split_options
from vantric.options.signatures import shows

if TYPE_CHECKING:
    from vantric.api.keywords import ScalingOptions


@shows(Scaling)
def align(primary: tuple[float, float], secondary: tuple[float, float], **options: Unpack[ScalingOptions]) -> ScalePair:
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
    return scaled(primary, secondary, scaling)
