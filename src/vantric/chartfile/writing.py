"""Writing a chart file: only what differs from the defaults, and never a password."""

from __future__ import annotations

import os
import re
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from vantric.chartfile.model import FORMAT
from vantric.chartfile.reading import ENDINGS, chart_file_of
from vantric.cleaning import json_text
from vantric.errors import TargetError
from vantric.masking import without_secrets
from vantric.sources.naming import check_no_input

_URL = re.compile(r"[a-z][a-z0-9+]*://", re.IGNORECASE)


def chart_file_bytes(kind: str, parts: Mapping[str, Mapping[str, Any]], target: Path) -> bytes:
    """Return the content of a chart file as TOML or JSON, by the ending of its path.

    Parameters
    ----------
    kind
        ``"pareto"``, ``"compare"``, ``"tally"``, ``"combine"``, ``"series"`` or ``"scales"``.
    parts
        Section -> option -> value; what is None or empty is left out.
    target
        Where it will be written: sources are named as seen from its folder.

    Raises
    ------
    TargetError
        If the ending is another one.
    ChartFileError
        If an option cannot be kept.
    """
    ending = target.suffix.casefold()
    if ending not in ENDINGS:
        raise TargetError(f"cannot keep the chart as '{target}': its ending is none of {', '.join(ENDINGS)}")
    filled = {name: cleaned for name, part in parts.items() if (cleaned := _cleaned(part))}
    families = filled.get("counting", {}).get("families")
    source = filled.get("data", {}).get("source", [])
    named = [*([source] if isinstance(source, str) else source), families]
    check_no_input(target, [str(one) for one in named if isinstance(one, (str, Path))])
    if "data" in filled:
        filled["data"] = {**filled["data"], "source": _sources(filled["data"]["source"], target.parent)}
    if isinstance(families, (str, Path)):
        filled["counting"] = {**filled["counting"], "families": _seen_from(str(families), target.parent)}
    found = {"format": FORMAT, "version": 1, "kind": kind, **filled}
    chart_file_of(found, str(target))  # what is written can be read
    if ending == ".json":
        return json_text(found).encode()
    import tomli_w

    try:
        return tomli_w.dumps(found).encode()
    except UnicodeEncodeError:
        raise TargetError(f"cannot keep the chart as '{target}': TOML has no lone surrogates; use .json") from None


def _cleaned(part: Mapping[str, Any]) -> dict[str, Any]:
    found = {}
    for name, value in part.items():
        if isinstance(value, tuple):
            value = list(value)
        if isinstance(value, Mapping):
            value = dict(value)
        if isinstance(value, list) and value and all(isinstance(one, Mapping) for one in value):
            value = [_cleaned(one) for one in value]
        if value is None or value in ([], {}):
            continue
        found[name] = value
    return found


def _sources(source: str | list[str], folder: Path) -> str | list[str]:
    return [_seen_from(one, folder) for one in source] if isinstance(source, list) else _seen_from(source, folder)


def _seen_from(source: str, folder: Path) -> str:
    """Return a relative path as seen from a folder, a URL without its secrets, and all else as it is."""
    if _URL.match(source):
        return without_secrets(source)
    if source == "-" or Path(source).is_absolute():
        return source
    return Path(os.path.relpath(source, folder)).as_posix()
