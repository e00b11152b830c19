"""Tallies and two-way tables."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from vantric.api.kinds.kind import Kind, Parts, local_of
from vantric.api.recipe import Recipe
from vantric.core import counting
from vantric.core.charting.options import TallyLook
from vantric.core.counting.arranging import arranged, arranged_rows
from vantric.core.counting.origin import Origin
from vantric.core.counting.tally import Tally, check_rankable
from vantric.core.reviewing import Finding, review_strata, review_tally
from vantric.options.showing import shows
from vantric.reports.local import Local
from vantric.reports.table import Table
from vantric.reports.tallytable import tally_object, tally_sentence, tally_tables
from vantric.sources import crossed, gather
from vantric.sources.options import Counting, Crossing, Opening, Sides


def make(data: Any, opening: Opening, parts: Parts) -> Tally | counting.Crosstab:
    """Return the tally of a source, or its two-way table."""
    look, crossing, wanted = parts.get("chart"), parts.get("crossing"), parts["counting"]
    wanted = replace(wanted, in_order=look is not None and look.order == "given") if look else wanted
    if crossing is not None and (crossing.split is not None or crossing.split_columns):
        return crossed(data, wanted, opening, crossing)
    return gather(data, wanted, opening)


def whole(found: Any) -> Tally:
    """Return a tally itself, and that of the categories of a two-way table."""
    return found if isinstance(found, Tally) else found.tally()


def check(found: Any) -> None:
    """Raise an error for a tally without a category."""
    if not whole(found).categories:
        check_rankable(whole(found))


def shown(found: Any, look: TallyLook) -> Any:
    """Return what was counted in the order of a look."""
    if isinstance(found, Tally):
        return arranged(found, look.order, look.keep)
    return arranged_rows(found.transposed() if look.transpose else found, look.order, look.keep)


def review(found: Any) -> list[Finding]:
    """Return what is wrong or risky."""
    return [*review_tally(whole(found)), *([] if isinstance(found, Tally) else review_strata(found))]


def tables(found: Any, look: TallyLook, local: Local, percent_of: Any = None) -> Sequence[Table]:
    """Return its table."""
    return tally_tables(found, percent_of)


def data(found: Any, look: TallyLook, findings: Any, percent_of: Any = None) -> dict[str, Any]:
    """Return its JSON object."""
    return tally_object(found, findings, percent_of)


def view(
    found: Any, look: TallyLook, findings: Sequence[Finding], percent_of: Any = None, *, width: int, **_: Any
) -> str:
    """Return it for a terminal."""
    from vantric.reports.tallyview import crosstab_view, tally_view
    from vantric.reports.terminal import finding_lines

    show: Any = tally_view if isinstance(found, Tally) else crosstab_view
    said = finding_lines(findings, width)
    lines = [*show(found, percent_of, width=width, local=local_of(look)), *(["", *said] if said else [])]
    return "\n".join(lines) + "\n"


def chart(found: Any, look: TallyLook) -> Any:
    """Return its chart."""
    from vantric.api.chartsof import chart_of_tally

    return chart_of_tally(found, look)


def section(found: Any, look: TallyLook, findings: Any, percent_of: Any = None, *, chart: Any = None) -> Any:
    """Return what is handed over of it."""
    from vantric.api.handing.sections import tally_section

    return tally_section(found, look, findings, percent_of, chart=chart)


def origin(found: Any) -> Origin:
    """Return where it comes from."""
    return whole(found).origin


def exchanged(found: Any) -> Recipe | None:
    """Return the recipe of a two-way table with the two columns exchanged, where both are plain columns."""
    recipe: Recipe = found._recipe
    if recipe.parts["counting"].families is not None or recipe.parts["counting"].merge_spellings:
        return None
    plain = replace(recipe.parts["counting"], by=recipe.parts["crossing"].split)
    return recipe.with_parts(counting=plain, crossing=Crossing(split=found.origin.by))


def frame(found: Any, percent_of: Any) -> Any:
    """Return a two-way table as a frame."""
    from vantric.api.frames import frame_of

    cells = found.frequencies() if percent_of is None else found.percents(percent_of).tolist()
    rows, by = [(name, *row) for name, row in zip(found.categories, cells, strict=True)], found.origin.by or "category"
    return frame_of([by, *found.columns], rows, like=found._recipe and found._recipe.source, index=by)


def compare(found: Any, before: str, after: str, per: Any, per_units: float, per_name: str) -> Any:
    """Return two columns of a two-way table side by side."""
    from vantric.api.comparisons import Comparison

    exposures = None if per is None else (per[0], per[1])
    sides = counting.compare(found.column(before), found.column(after), names=(before, after), exposures=exposures,
                             units=per_units, of=per_name)  # fmt: skip
    recipe = found._recipe
    if recipe is not None:
        wanted = Sides(split=recipe.parts["crossing"].split, before=before, after=after, per=exposures,
                       per_units=per_units, per_name=None if exposures is None else per_name)  # fmt: skip
        recipe = Recipe("compare", recipe.source, recipe.opening,
                        {"counting": recipe.parts["counting"], "sides": wanted})  # fmt: skip
    return Comparison.of(sides, recipe)


for _result in (Tally, counting.Crosstab):  # their signatures say what can be given
    shows(TallyLook)(_result.chart)

KIND = Kind(
    name="tally", options={"counting": Counting, "crossing": Crossing, "chart": TallyLook}, titled="Tally",
    optional=("crossing",),
    make=make, origin=origin, review=review, sentence=tally_sentence, tables=tables, data=data, view=view, chart=chart,
    section=section, shown=shown, check=check, floats=("percent",),
    verbs={"exchanged": exchanged, "compare": compare, "frame": frame},
)  # fmt: skip
