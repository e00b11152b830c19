"""``vantric columns``."""

from __future__ import annotations

import click

from vantric.cleaning import json_text
from vantric.cli import output
from vantric.cli.sourceoptions import opening_options
from vantric.cli.terminal import hand_over, say, terminal
from vantric.masking import masked
from vantric.sources import Opening, look

_FIRST = 5


@click.command("columns")
@click.argument("source")
@opening_options
@click.option(
    "--format", "form", type=click.Choice(["text", "json"]), default="text", show_default=True, help="What is printed."
)
def command(source: str, opening: Opening, form: str) -> None:
    """Take a first look: columns, kinds, what is missing, the commonest labels, the first records."""
    from vantric.report.profileview import profile_object, profile_view

    with output.reading(source):
        columns, head = look(source, opening, _FIRST)
    if form == "json":
        found = profile_object(masked(source), columns, head)
        hand_over(json_text(found))
    else:
        say(output.lines(profile_view(masked(source), columns, head, width=terminal()["width"]), []), end="")
