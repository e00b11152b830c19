"""The options of how two axes are scaled; read without loading what scales."""

from __future__ import annotations

from typing import Literal, TypeAlias

from vantric.core.numbers.parsing import read_limits, read_range
from vantric.options import Options, option

Policy: TypeAlias = Literal["grid", "proportional", "common", "separate"]
Pair: TypeAlias = tuple[float, float]
Ends: TypeAlias = tuple[float | None, float | None]
Limits: TypeAlias = Ends | None
AXES = ("primary", "secondary")


class Scaling(Options, section="How the axes are scaled"):
    """The options of two value axes that are scaled together."""

    policy: Policy | None = option(
        None,
        "grid: every tick of one axis is as high as a tick of the other; proportional: the pair meet is one height; "
        "common: one scale; separate: each for itself.",
    )
    primary_limits: Limits = option(
        None, "Fixed limits; an end that is left empty is free, as in 0: or :100.", metavar="LOW:HIGH", read=read_limits
    )
    secondary_limits: Limits = option(None, "The same for the secondary axis.", metavar="LOW:HIGH", read=read_limits)
    primary_log: bool = option(False, "A logarithmic primary axis.")
    secondary_log: bool = option(False, "A logarithmic secondary axis.")
    primary_zero: bool | None = option(None, "Whether the primary axis shows zero; as its series need it if not given.")
    secondary_zero: bool | None = option(None, "The same for the secondary axis.")
    meet: Pair | None = option(
        None, "The two values that are one height under the policy proportional.", metavar="P:S", read=read_range
    )
    headroom: float = option(
        0.05, "The share of the height that is left free beyond the data.", metavar="SHARE", least=0, below=1 / 3
    )
    clip: bool = option(False, "Let fixed limits cut data off.")

    @property
    def logs(self) -> tuple[bool, bool]:
        """Whether each axis is logarithmic."""
        return self.primary_log, self.secondary_log

    @property
    def limits(self) -> tuple[Limits, Limits]:
        """The fixed limits of each axis."""
        return self.primary_limits, self.secondary_limits

    @property
    def zeros(self) -> tuple[bool | None, bool | None]:
        """Whether each axis shows zero, where that was said."""
        return self.primary_zero, self.secondary_zero
