"""The options of a combination chart, as users write them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, get_args

from vantric.api.chartoptions import LookOptions, read_look
from vantric.core.axes.align import Limits, Policy
from vantric.core.charting import Reference, Series
from vantric.core.composing import CombinationWish, ScaleWish
from vantric.drawing.colors import as_color
from vantric.errors import ChartError, ScaleError, nearest


class CombinationOptions(LookOptions, total=False):
    """How a combination chart is made and looks; see `vantric.Chart`."""

    policy: str | None
    log: str | Sequence[str]
    primary_limits: Limits
    secondary_limits: Limits
    include_zero: tuple[bool | None, bool | None]
    meet: tuple[float, float] | None
    headroom: float
    clip: bool
    together: str
    gap: float
    totals: bool
    references: Sequence[Reference]
    period: str | None
    transpose: bool
    subject: str


COMBINATION_OPTIONS = (*LookOptions.__annotations__, *CombinationOptions.__annotations__)


def read_combination(options: Mapping[str, Any]) -> CombinationWish:
    """Return the options of a combination chart as the core takes them.

    Raises
    ------
    ChartError, ScaleError
        For one that cannot be met.
    TypeError
        For one that there is not, as in any call.
    """
    strange = sorted(set(options) - set(COMBINATION_OPTIONS))
    if strange:
        hint = nearest(strange[0], COMBINATION_OPTIONS)
        raise TypeError(f"unexpected keyword argument '{strange[0]}'{hint}")
    given = read_look(options)
    policy = given.get("policy")
    if policy is not None and policy not in get_args(Policy):
        known = get_args(Policy)
        raise ScaleError(f"'{policy}' is no policy{nearest(str(policy), known)}; there are: {', '.join(known)}")
    scale = ScaleWish(
        policy=given.pop("policy", None),
        kind=_kinds(given.pop("log", ())),
        limits=(given.pop("primary_limits", None), given.pop("secondary_limits", None)),
        **{name: given.pop(name) for name in ("include_zero", "meet", "headroom", "clip") if name in given},
    )
    references = tuple(given.pop("references", ()))
    for one in references:
        if not isinstance(one, Reference):
            raise ChartError(f"a reference is a vantric.Reference, such as Reference(600, text='Target'); {one} is not")
    return CombinationWish(**given, scale=scale, references=references)


def _kinds(log: str | Sequence[str]) -> tuple[str, str]:
    sides = [log] if isinstance(log, str) else list(log)
    for side in sides:
        if side not in ("primary", "secondary"):
            raise ScaleError(f"a log side is primary or secondary, not '{side}'")
    return tuple("log" if side in sides else "linear" for side in ("primary", "secondary"))  # type: ignore[return-value]


def colored(series: Series) -> Series:
    """Return a series with its color as ``#rrggbb``, whatever way it was named."""
    return replace(series, color=as_color(series.color)) if getattr(series, "color", "") else series
