"""The options of a Pareto table that is made of a tally."""

from __future__ import annotations

import csv
from typing import Literal, TypeAlias

from vantric.core.counts.cutoff import DEFAULT_CUT, Default, cuts_in
from vantric.core.counts.folding_part import REST_LABEL, check_folding
from vantric.core.counts.ordering import NAMED, Order, order_name
from vantric.errors import OptionError
from vantric.options import Options, option

Rule: TypeAlias = Literal["reach", "within"]
Measured: TypeAlias = Literal["frequency", "rate", "percent"]
Ties: TypeAlias = Literal["exclude", "include"]
Cut: TypeAlias = float | str | tuple[float | str, ...] | Default | None


def read_names(text: str) -> tuple[str, ...]:
    """Return names with commas between them; a name that holds a comma is in quotes."""
    try:
        rows = list(csv.reader([text], skipinitialspace=True))
    except csv.Error:
        raise OptionError(
            f"names are written with commas between them on one line, not as {text!r}", value=text
        ) from None
    return tuple(name.strip() for row in rows for name in row if name.strip())


def read_order(text: str) -> str | tuple[str, ...]:
    """Return the name of an order, or the categories of a listed one."""
    return text if text in NAMED or "," not in text else read_names(text)


class Ranking(Options, section="How it is ranked, cut off and folded"):
    """How the categories of a tally are ranked, cut off and folded."""

    cut: Cut = option(
        DEFAULT_CUT,
        "The cutoff in percent, or several, ascending, for the classes A, B, C; 80 if not given, and none in an order "
        "other than frequency.",
        metavar="PCT[,PCT]",
        off=None,
    )
    rule: Rule = option(
        "reach", "reach: the fewest leading categories that reach the cutoff; within: the most that stay within it."
    )
    ties: Ties = option("exclude", "Whether categories as frequent as the last one inside the cutoff are included.")
    order: Order = option(
        "frequency",
        "frequency, given (first appearance), label, or every category in its order.",
        metavar="ORDER",
        read=read_order,
    )
    last: tuple[str, ...] = option((), "A category that is pinned to the end.", metavar="LABEL")
    keep: int | None = option(
        None, "How many categories keep their names; the others become the rest.", metavar="N", least=1
    )
    fold_below: float | None = option(
        None, "The percent below which categories become the rest.", metavar="PCT", above=0, most=100
    )
    rest_label: str = option(REST_LABEL, "The name of the rest.", metavar="LABEL")
    drop_zero: bool = option(False, "Leave out categories of frequency zero.")

    def __post_init__(self) -> None:
        """Check how the options fit together, before anything is read."""
        super().__post_init__()
        cuts = cuts_in(self.cut, order_name(self.order))
        if self.cut is not None and not isinstance(self.cut, Default):
            object.__setattr__(self, "cut", cuts if len(cuts) > 1 else cuts[0])
        check_folding(self.keep, self.fold_below, self.rest_label)
