"""Writing a chart file: only what differs from the defaults, and never a password."""

from __future__ import annotations

import os
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from vantric.base.safe_text import is_url, json_text, without_secrets
from vantric.engines.source_paths import check_no_input
from vantric.errors import TargetError
from vantric.files.chart_files import chart_file_of
from vantric.files.models import ENDINGS, FORMAT, SCHEMA_ID, SCHEMA_KEY, SCHEMA_LINE, SHAPES, VERSION, plain


def chart_file_bytes(kind: str, parts: Mapping[str, Any], target: Path) -> bytes:
    """Return the content of a chart file as TOML or JSON, by the ending of its path.

    Parameters
    ----------
    kind
        ``"pareto"``, ``"compare"``, ``"tally"``, ``"combine"``, ``"trend"``, ``"series"`` or ``"scales"``.
    parts
        Section -> its options, or a mapping of names and values.
    target
        Where it will be written: sources are named as seen from its folder.

    Raises
    ------
    TargetError
        If the ending is another one.
    ChartFileError
        If an option cannot be written.
    """
    ending = target.suffix.casefold()
    if ending not in ENDINGS:
        raise TargetError(f"cannot write the chart file '{target}': its ending is not one of {', '.join(ENDINGS)}")
    order = list(SHAPES[kind].sections)
    names = sorted(parts, key=lambda name: order.index(name) if name in order else len(order))
    filled = {name: value for name in names if (value := plain(parts[name]))}
    families = filled.get("counting", {}).get("families")
    source = filled.get("data", {}).get("source", [])
    named = [*([source] if isinstance(source, str) else source), families]
    check_no_input(target, [text for text in named if isinstance(text, str)])
    if "data" in filled:
        filled["data"] = {**filled["data"], "source": _sources(source, target.parent)}
    if isinstance(families, str):
        filled["counting"] = {**filled["counting"], "families": seen_from(families, target.parent)}
    content = {"format": FORMAT, "version": VERSION, "kind": kind, **filled}
    chart_file_of(content, str(target))  # what is written can be read
    if ending == ".json":
        return json_text({SCHEMA_KEY: SCHEMA_ID, **content}).encode()
    import tomli_w

    try:
        return f"{SCHEMA_LINE}{SCHEMA_ID}\n{tomli_w.dumps(content)}".encode()
    except UnicodeEncodeError:  # half a sign, from a label that was no text
        message = f"cannot write the chart file '{target}': TOML cannot hold lone surrogates; use .json"
        raise TargetError(message) from None


def _sources(source: str | list[str], folder: Path) -> str | list[str]:
    return [seen_from(text, folder) for text in source] if isinstance(source, list) else seen_from(source, folder)


def seen_from(source: str, folder: Path) -> str:
    """Return a relative path as seen from a folder, a URL without its secrets, and all else as it is."""
    if is_url(source):
        return without_secrets(source)
    if source == "-" or Path(source).is_absolute():
        return source
    return Path(os.path.relpath(source, folder)).as_posix()
