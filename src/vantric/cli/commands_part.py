"""The commands: what each is called and does, and where its file is."""

from __future__ import annotations

import importlib
from collections.abc import Iterator
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from vantric.cli.command import Command

#: Every command and what it does, in the order of the help; a command's file is imported when it is called.
COMMANDS = {
    "start": "Look at a source, ask at most five questions, and make the chart.",
    "demo": "Run the whole example with the demo data.",
    "columns": "Take a first look at a source: columns, kinds, missing, most common labels.",
    "tally": "Count records by category, or by two columns.",
    "pareto": "Rank, cumulate and cut off the categories of a log.",
    "compare": "Set before and after side by side.",
    "trend": "Say which categories rise or fall over calendar periods.",
    "combine": "Set columns side by side as bars, lines and other series on two axes.",
    "draw": "Draw a chart that was written as a file.",
    "review": "Say what is wrong or risky in a source, a sheet made elsewhere, or a chart file.",
    "report": "Make several results one page, workbook or set of slides, the same again every month.",
    "scales": "Scale two value axes together.",
    "help": "Explain a topic, a command, an option, or the code of a finding.",
    "completion": "Have the shell complete commands, options, values, files and columns.",
}


#: Commands that share a file: their name -> the file.
_FILES = {
    "tally": "counting",
    "pareto": "pareto_part",
    "compare": "compare_part",
    "trend": "trend_part",
    "scales": "scales_part",
    "columns": "columns_part",
}


def command_named(name: str) -> Command:
    """Return a command by its name; its file is imported."""
    module = importlib.import_module(f"vantric.cli.{_FILES.get(name, name)}")
    command: Command = getattr(module, f"{name}_command")
    return command


def every_command() -> Iterator[tuple[str, Command]]:
    """Yield every command with its name."""
    for name in COMMANDS:
        yield name, command_named(name)
