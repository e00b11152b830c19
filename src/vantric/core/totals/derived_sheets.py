"""Which of several sheets that are read together is the sum of the others."""

from __future__ import annotations

from collections.abc import Mapping

from vantric.core.totals.label_kinds import is_summary_sheet
from vantric.core.totals.row_sums import Amount, Verdict, digits_of, in_units

#: Evidence at which a sheet is asked about, and at which it is told.
_ASK, _WARN = 2.0, 1.0
_FEWEST = 3
_MOST_DIGITS = 2.0
#: A summary that differs from the sum of the others by no more is one all the same.
_NEAR = 20
#: A sheet of an ordinary name with the very total of all others is told from here.
_LARGE = 1000

_SUM = "is the sum of the other sheets, label by label"


def derived_sheets(sheets: Mapping[str, Mapping[str | None, Amount]]) -> dict[str, Verdict]:
    """Return the verdict on every sheet that holds what other sheets hold together, or may.

    Parameters
    ----------
    sheets
        Sheet -> label -> what is counted.
    """
    verdicts: dict[str, Verdict] = {}
    if len(sheets) < _FEWEST:
        return verdicts
    whole: dict[str | None, Amount] = {}
    for amounts in sheets.values():
        for label, amount in amounts.items():
            whole[label] = whole.get(label, 0) + amount
    labels = list(whole)
    columns, scale = in_units([[amounts.get(label, 0) for label in labels] for amounts in sheets.values()])
    for name, cells in zip(sheets, columns, strict=True):
        mine = {label: cell or 0 for label, cell in zip(labels, cells, strict=True)}
        others = {label: int(total * scale) - mine[label] for label, total in whole.items()}
        verdict = _verdict(name, mine, others, scale)
        if verdict is not None:
            verdicts[name] = verdict
        if verdict is not None and verdict.reason == _SUM:
            return {name: verdict}
    return verdicts


def _verdict(
    name: str, amounts: Mapping[str | None, int], others: Mapping[str | None, int], scale: int
) -> Verdict | None:
    is_named = is_summary_sheet(name)
    labels = [label for label in others if others[label] or amounts.get(label, 0)]
    if labels and all(amounts.get(label, 0) == others[label] for label in labels):
        weight = sum(min(_MOST_DIGITS, digits_of(others[label], scale)) for label in labels)
        if weight < _WARN:
            return None
        return Verdict("out" if is_named else "ask" if weight >= _ASK else "warn", "sheet", _SUM)
    mine, rest = sum(amounts.values()), sum(others.values())
    if not is_named:
        return Verdict("warn", "sheet", "has the total of all others") if mine == rest >= _LARGE * scale else None
    near = mine and abs(mine - rest) * _NEAR <= abs(mine)
    return Verdict("ask" if near else "warn", "sheet", "reads as a summary of the others")
