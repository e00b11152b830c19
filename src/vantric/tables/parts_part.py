"""What there is to say of the parts of a two-way table: whether strata differ, or which categories have a trend."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from vantric.errors import RankError
from vantric.tables.statements import trend_object
from vantric.tables.table import six_digits

if TYPE_CHECKING:
    from vantric.core.counts import Crosstab, ParetoTable
    from vantric.core.statistics import Strata, Trend

_MOST = 12  # categories, where there is no cutoff


def vital_of(table: ParetoTable) -> tuple[str, ...]:
    """Return the categories whose trends are told: the vital few, or the first of a table without a cutoff."""
    found = table.cutoff.categories if table.cutoff else table.tally.categories
    return tuple(found[:_MOST])


def parts_of(table: Crosstab, vital: Sequence[str] = ()) -> Strata | Trend | None:
    """Return the test of the strata, or of calendar periods the trends; None where nothing can be said.

    Raises
    ------
    RankError
        Why nothing can be said.
    """
    from vantric.core.statistics import strata_of, trends_of

    if table.period:
        return trends_of(table, vital or table.categories[:_MOST])
    return strata_of(table)


def parts_words(table: Crosstab | None, vital: Sequence[str] = ()) -> str:
    """Return the same in words; nothing where there are no parts."""
    if table is None:
        return ""
    try:
        found = parts_of(table, vital)
    except RankError as reason:
        return f"Whether the parts differ is not known: {reason}."
    return "" if found is None else found.sentence()


def parts_object(table: Crosstab | None, vital: Sequence[str] = ()) -> dict[str, Any]:
    """Return what a JSON object says of the parts: under ``trends`` or ``strata_test``."""
    if table is None:
        return {}
    try:
        found = parts_of(table, vital)
    except RankError as reason:
        return {"trends" if table.period else "strata_test": {"reason": str(reason)}}
    if found is None:
        return {}
    from vantric.core.statistics import Trend

    if isinstance(found, Trend):
        said = trend_object(found, ())
        return {"trends": {name: said[name] for name in ("measure", "partial", "categories", "counted", "sentence")}}
    plain = {name: six_digits(value) for name, value in asdict(found).items() if name not in ("cells", "reversals")}
    return {
        "strata_test": {
            **plain,
            "differ": found.differ,
            "cells": [_object(one) for one in found.cells],
            "reversals": [_object(one) for one in found.reversals],
            "sentence": found.sentence(),
        }
    }


def _object(one: Any) -> dict[str, Any]:
    return {name: six_digits(value) for name, value in asdict(one).items()}
