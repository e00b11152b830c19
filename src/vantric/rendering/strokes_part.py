"""What both renderers share: what is over what, how lines are dashed, how large marks look."""

from __future__ import annotations

from vantric.core.layout import Plan
from vantric.core.layout.plan import PathMark, PointMarks

DEFAULT_SIZE = (1280.0, 800.0)
OUTLINE, HALO = 1.0, 1.2  # pixels
#: What is over what: marks by their own level, which is zero for bars.
GROUND, BAND, GRID, BARS, OVER_BARS, RULES, LINE, POINT, LEADER, TEXT = (
    -(10.0**9),
    -(10.0**8) - 2,
    -(10.0**8) - 1,
    0.0,
    0.5,
    25.0,
    30.0,
    35.0,
    10.0**8,
    10.0**9,
)
DASHES: dict[str, tuple[float, ...]] = {"dashed": (4.0, 2.0), "dotted": (1.2, 1.6), "dash-dot": (6.0, 2.0, 1.2, 2.0)}
SHARES = {"diamond": 0.86, "triangle": 1.12, "pointer": 1.12, "cross": 1.1}  # so that all shapes look equally large
SHADE, BAND_SHADE = 0.35, 0.13
#: Rules that have a halo of the ground.
HALOED = ("reference", "interval")
_LEVELS = {
    "grid": GRID,
    "leader": LEADER,
    "reference": LEADER - 1,
    "interval": LINE - 2,
    "band-edge": GRID,
}
_SMALL_POINT, _EDGE = 3.0, 1.4  # pixels: smaller points have no edge


def rule_level(mark: PathMark) -> float:
    """Return how far in front a rule is: what parts bars is over them, and under bars in front of them."""
    if mark.role == "parting":
        return mark.level or OVER_BARS
    return _LEVELS.get(mark.role, RULES)


def point_edge(points: PointMarks) -> float:
    """Return the width of the rim of a set of points, in pixels."""
    return _EDGE if points.radius >= _SMALL_POINT else 0.0


def unit_of(plan: Plan) -> float:
    """Return how large a picture is beside one of 1280 x 800, for the widths of its lines."""
    return min(plan.size[0] / DEFAULT_SIZE[0], plan.size[1] / DEFAULT_SIZE[1])
