"""Options in sections, so that a long help can be read."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import click

Decorator = Callable[[Any], Any]


def in_section(title: str, *options: Decorator) -> tuple[Decorator, ...]:
    """Return options that the help lists under a title."""

    def placed(option: Decorator) -> Decorator:
        def decorate(command: Any) -> Any:
            decorated = option(command)
            decorated.__click_params__[-1].section = title
            return decorated

        return decorate

    return tuple(map(placed, options))


class SectionedCommand(click.Command):
    """A command whose help lists its options by section, in the order they were added."""

    def format_options(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """Write the sections; what has none stands under "Others"."""
        sections: dict[str, list[tuple[str, str]]] = {}
        for parameter in self.get_params(ctx):
            record = parameter.get_help_record(ctx) if isinstance(parameter, click.Option) else None
            if record is not None:
                sections.setdefault(getattr(parameter, "section", "Others"), []).append(record)
        for title, records in sections.items():
            with formatter.section(title):
                formatter.write_dl(records)
