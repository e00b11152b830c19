"""What Spark complains of, as one line without its plan and its traces."""

from __future__ import annotations

import re

_LONGEST = 300
_HOMES = ("pyspark", "py4j", "grpc")
_CLASS = re.compile(r"^:?\s*(?:[\w$]+\.)+[\w$]+(?:Exception|Error):\s*")
_TAIL = re.compile(r"\s*SQLSTATE:? .*|\s*If necessary set .*|\s*Driver stacktrace:.*", re.DOTALL)
_CODE = re.compile(r"^\[[A-Z_.]+\] ")


def in_one_line(error: BaseException) -> str | None:
    """Return what Spark says; None if it is not Spark that says it."""
    if type(error).__module__.partition(".")[0] not in _HOMES:
        return None
    lines = [line.strip() for line in str(error).splitlines() if line.strip()]
    if lines and lines[0].startswith("An error occurred while calling"):
        lines = lines[1:]  # the name of an object in memory
    text = _CLASS.sub("", lines[0]) if lines else ""
    text = _CODE.sub("", _TAIL.sub("", text)).strip().rstrip(";.")
    if not text or text == "Job aborted due to stage failure:":
        text = type(error).__name__
    shown = text if len(text) <= _LONGEST else f"{text[:_LONGEST]}..."
    return f"Spark says: {shown}"
