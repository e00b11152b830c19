"""Series of a file under the names of their kinds, as Python takes them: ``bars = ["fired"]`` beside ``series``."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from vantric.core.charting.series import KINDS
from vantric.errors import ChartFileError, unknown

#: Keys that say what is drawn, besides ``series``: a kind of series, and what is said of series by name.
SPELLED = (*KINDS, "secondary", "units", "labels")


def named_series(part: Mapping[str, Any], place: str) -> list[dict[str, Any]]:
    """Return the series that a table names by kind, as entries of ``series``.

    Raises
    ------
    ChartFileError
        For something that is not a name, and for what is said of a series that is not named.
    """
    found: list[dict[str, Any]] = []
    for kind in KINDS:
        found += [{"kind": kind, "what": text} for text in _texts(part.get(kind, ()), f"{place}.{kind}")]
    if not found:
        strange = next((name for name in SPELLED if name in part), None)
        if strange is not None:
            raise ChartFileError(f"{place}.{strange} is of series that {place}.bars, {place}.line and the like name")
        return []
    called = {name: one for one in found for name in (one["what"], one["what"].rpartition("=")[2])}
    for name in _texts(part.get("secondary", ()), f"{place}.secondary"):
        _named(called, name, f"{place}.secondary")["axis"] = "secondary"
    for option, key in (("unit", "units"), ("labels", "labels")):
        said = part.get(key, {})
        if isinstance(said, str) and key == "labels":
            said = {one["what"]: said for one in found}
        if not isinstance(said, Mapping):
            raise ChartFileError(f"{place}.{key} is a table of series and texts, not {str(said)[:40]!r}")
        for name, text in said.items():
            _named(called, name, f"{place}.{key}")[option] = text
    return found


def _texts(value: Any, place: str) -> tuple[str, ...]:
    texts = (value,) if isinstance(value, str) else value
    if not isinstance(texts, (list, tuple)) or not all(isinstance(one, str) for one in texts):
        raise ChartFileError(f"{place} is a text or a list of texts, not {str(value)[:40]!r}")
    return tuple(texts)


def _named(called: Mapping[str, dict[str, Any]], name: str, place: str) -> dict[str, Any]:
    if name not in called:
        raise unknown(ChartFileError, f"{place}: there is no series '{name}'", name, called)
    return called[name]
