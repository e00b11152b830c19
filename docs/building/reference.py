"""Reference pages that are made from the code: every command with all its options."""

from __future__ import annotations

import textwrap
from typing import Any

import click
from docs.building.running import DOCS

from vantric.cli.command import ALL
from vantric.cli.main import COMMANDS, every_command

MADE = DOCS / "reference" / "made"
_WIDE = 100
_HEAD = """# The command line

`vantric COMMAND [OPTIONS] SOURCE`. `vantric COMMAND --help` shows the options most used, `--help-all` all of
them, and `vantric help TOPIC`
explains a topic, an option or the code of a finding. The man page `vantric.1` comes with the package.

"""


def make(app: Any) -> None:
    """Write the pages."""
    MADE.mkdir(parents=True, exist_ok=True)
    (MADE / "commands.md").write_text(commands_page(), encoding="utf-8")


def commands_page() -> str:
    """Return the page of all commands, each with its whole help."""
    parts = [_HEAD]
    for name, command in every_command():
        context = click.Context(command, info_name=f"vantric {name}", terminal_width=_WIDE, max_content_width=_WIDE)
        context.meta[ALL] = True
        shown = textwrap.indent(command.get_help(context), "    ")
        parts.append(f"## vantric {name}\n\n{COMMANDS[name]}\n\n{shown}\n\n")
    return "".join(parts)
