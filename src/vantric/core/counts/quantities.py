"""Numbers that are no counts: percents, means, sums of minutes or money. Nothing is said of their chance."""

from __future__ import annotations

import re
from collections.abc import Iterable

from vantric.core.numbers.amounts import Number

#: Units in which things are counted.
_COUNTED = frozenset(
    (
        *(
            "pcs",
            "pc",
            "pcs.",
            "piece",
            "pieces",
            "stk",
            "stk.",
            "stück",
            "st",
            "st.",
            "ea",
            "each",
            "nos",
            "unit",
            "units",
        ),
        *(
            "item",
            "items",
            "pz",
            "pza",
            "pzas",
            "pièces",
            "adet",
            "szt",
            "szt.",
            "ks",
            "db",
            "шт",
            "шт.",
            "個",
            "件",
            "个",
        ),
        *("records", "cases", "defects"),
    )
)
#: Headings of sums of time and money, of means, percents and rates.
_QUANTITY = re.compile(
    r"hour|\bhrs?\b|minute|\bmins?\b|\bsec(?:ond)?s?\b|downtime|duration|stoppage|cost|price|revenue|sales|spend|turnover"
    r"|stunde|dauer|kosten|umsatz|durée|coût|costo|coste|tiempo|percent|prozent|\bpct\b|%|\bshare\b|anteil|proportion"
    r"|average|\bavg\b|\bmean\b|median|mittel|schnitt|moyenne|promedio|\brate\b|\bratio\b|\bppm\b|weight\b|gewicht",
    re.IGNORECASE,
)


def quantity_unit(heading: str | None, unit: str, values: Iterable[Number], *, ready: bool) -> str | None:
    """Return the unit of numbers that are no counts, empty if it is not known; None for counts.

    Parameters
    ----------
    heading
        Of the column; None if there is none.
    unit
        Of its cells or its heading.
    values
    ready
        Whether they came added up: a fraction among these is no count.
    """
    if unit and unit.casefold() not in _COUNTED:
        return unit
    if heading is not None and _QUANTITY.search(heading.replace("_", " ")) and not unit:
        return ""
    return "" if ready and any(value != int(value) for value in values) else None
