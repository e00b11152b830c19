"""Messages in the words of the command line: options by their flags."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import replace
from typing import TYPE_CHECKING, TypeVar

from vantric.errors import OptionError, VantricError

if TYPE_CHECKING:
    from vantric.core.counts.provenance import Remark
    from vantric.core.review import Finding
    from vantric.counting.count_records import FirstLook

F = TypeVar("F", "Finding", "Remark")

_READING = "read_numbers|read_dates|keep_totals|fill_down|visible_only"
#: How a message names the options of reading, as they are written in Python.
_SAID = re.compile(
    rf"\b({_READING}|na|cells|sheet|header|count|per)=(True|False|\"[^\"]*\"|'[^']*')|\b({_READING})\b(?!=)"
)


def in_flags(message: str) -> str:
    """Return a message with the options of reading as they are typed: --no-keep-totals for keep_totals=False."""
    return _SAID.sub(_as_flag, message)


def findings_in_flags(findings: Iterable[F]) -> list[F]:
    """Return findings, or remarks of a reading, in the words of the command line."""
    return [replace(one, message=in_flags(one.message), fix=in_flags(one.fix)) for one in findings]


def look_in_flags(looked: FirstLook) -> FirstLook:
    """Return a first look whose remarks are in the words of the command line."""
    return replace(looked, remarks=tuple(findings_in_flags(looked.remarks)))


def error_in_flags(error: VantricError) -> str:
    """Return the message of an error, an option by its name on the command line."""
    from vantric.options.option_types import in_plain_words

    message = in_flags(in_plain_words(str(error)) if isinstance(error, OptionError) else str(error))
    name = error.option if isinstance(error, OptionError) else ""
    if not name or not message.startswith(name):
        return message
    return f"--{name.replace('_', '-')}{message[len(name) :]}"


def _as_flag(said: re.Match[str]) -> str:
    name, value = (said[1] or said[3]).replace("_", "-"), said[2]
    if value in ("True", "False"):
        return f"--{name}" if value == "True" else f"--no-{name}"
    return f"--{name} {value}" if value else f"--{name}"
