"""Axes: the scale of one value axis, and the alignment of two.

In come ranges of data and the options of `scaling.Scaling`; out go limits and ticks: a `Scale`, or a `ScalePair` with
what its policy promises. Start with `alignment.align`: it checks each side (`side`), then the policy takes over;
`grid` searches the best pair of nice steps. `suggestion` says which series belongs on which axis.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantric.base.lazily import on_first_use

if TYPE_CHECKING:
    from vantric.core.axes.alignment import ScalePair, align, common, proportional
    from vantric.core.axes.scale import Scale, linear_scale
    from vantric.core.axes.scaling import Scaling
    from vantric.core.axes.suggestion import Suggestion, suggest_axes

__getattr__ = on_first_use(
    __name__,
    {
        "alignment": "ScalePair align common proportional",
        "scale": "Scale linear_scale",
        "scaling": "Scaling",
        "suggestion": "Suggestion suggest_axes",
    },
)
