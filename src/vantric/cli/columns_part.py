"""``vantric columns``."""

from __future__ import annotations

from typing import Literal

from vantric.base.masking_part import masked
from vantric.base.safe_text import json_text
from vantric.cli.command import SOURCE, made
from vantric.cli.flags import Given
from vantric.cli.results import lines, reading
from vantric.cli.terminal import hand_over, say, terminal
from vantric.cli.wording_part import look_in_flags
from vantric.counting import look
from vantric.options import Options, option
from vantric.reading.settings import Opening

_FIRST = 5


class TextOrJson(Options, section="What is written"):
    """What is printed."""

    format: Literal["text", "json"] = option("text", "What standard output gets.")


def run_columns(source: str, given: Given) -> None:
    """Take a first look: columns, kinds, what is missing, the most common labels, the first records.

    SOURCE is a file, a pattern of files, - for CSV on standard input, or the URL of a database.
    """
    from vantric.tables.profileview_part import profile_object, profile_view

    opening, wanted = given.split(Opening, TextOrJson)
    with reading(source):
        looked = look(source, opening, _FIRST)
    if wanted.format == "json":
        hand_over(json_text(profile_object(masked(source), looked)))
    else:
        say(lines(profile_view(masked(source), look_in_flags(looked), width=terminal()["width"]), []), end="")


columns_command = made(
    "columns",
    run_columns,
    [SOURCE],
    (Opening, TextOrJson),
    examples=("columns inspections.csv", "columns firings.csv --format json"),
)
