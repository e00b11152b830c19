"""How a command is made: its arguments, the flags of its options, and a help with sections and examples."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from typing import Any

import click

from vantric.cli.flags import flags_of, typed
from vantric.errors import nearest

#: Where a context holds the names of the options in the order in which they were typed.
ORDER = "vantric.order"
Run = Callable[..., int | None]
SOURCE = click.Argument(["source"])
#: The sections at the end of a help, in their order.
_LAST = ("What the chart shows", "How the chart looks", "What the chart says", "How series look",
         "How the chart writes numbers", "What is written", "What is said", "Others")  # fmt: skip
_RANGE = re.compile(r"-[\d.]")


def made(
    name: str, run: Run, arguments: Sequence[click.Argument], kinds: Sequence[type], *, examples: Sequence[str],
    named: Iterable[str] = (), more: Sequence[click.Option] = (),
) -> click.Command:  # fmt: skip
    """Return a command.

    Parameters
    ----------
    name
        What it is called.
    run
        What it does: gets the arguments by name, and `given`, the options that were typed.
    arguments
        What is without a flag.
    kinds
        The classes of its options.
    examples
        Two, as they are typed in the folder of the demo data.
    named
        Options that can be given for one series by its name.
    more
        Flags that are no options of a result.
    """
    wanted = tuple(named)

    def callback(**values: Any) -> int | None:
        plain = {one.name: values[str(one.name)] for one in (*arguments, *more) if str(one.name) in values}
        return run(given=typed(values, kinds, named=wanted), **plain)

    flags = flags_of(kinds, named=wanted)
    return Command(name, callback=callback, params=[*arguments, *flags, *more], help=run.__doc__, examples=examples)


class Command(click.Command):
    """A command whose help lists its options by section and ends with examples."""

    def __init__(self, *given: Any, examples: Sequence[str] = (), **more: Any) -> None:
        super().__init__(*given, **more)
        self.examples = tuple(examples)

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        """Parse the arguments; an option that there is not is answered with the nearest right one."""
        try:
            plain = self._ranges_last(ctx, args)
            ctx.meta[ORDER] = tuple(one.name for one in self.make_parser(ctx).parse_args(list(plain))[2])
            return super().parse_args(ctx, plain)
        except click.NoSuchOption as error:
            raise click.UsageError(self._no_option(error.option_name)) from None

    def _no_option(self, word: str) -> str:
        flags = [
            flag for one in self.params if isinstance(one, click.Option) for flag in (*one.opts, *one.secondary_opts)
        ]
        known = {flag.lstrip("-").replace("-", "_") for flag in flags}
        from vantric.options.synonyms import synonym  # needed by errors only

        said = synonym(word, known, command=True)
        hint = f"; use {said}" if said else nearest(word, [flag for flag in flags if flag.startswith("--")])
        return f"there is no option {word}{hint or f'; vantric {self.name} --help lists them'}"

    def _ranges_last(self, ctx: click.Context, args: list[str]) -> list[str]:
        """Move ranges that begin with a minus behind all options, so that they are not taken for one."""
        takes = {
            flag
            for one in self.get_params(ctx)
            if isinstance(one, click.Option) and not one.is_flag
            for flag in one.opts
        }
        moved = [
            at for at, arg in enumerate(args) if _RANGE.match(arg) and ":" in arg and args[at - 1 : at] != ["--"]
            and not (at and args[at - 1] in takes)
        ]  # fmt: skip
        if not moved or "--" in args:
            return args
        plain = [arg for at, arg in enumerate(args) if not (at in moved or _is_argument(args, at, takes))]
        ranges = [arg for at, arg in enumerate(args) if at in moved or _is_argument(args, at, takes)]
        return [*plain, "--", *ranges]

    def format_options(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """Write the sections; what has none is under "Others"."""
        sections: dict[str, list[tuple[str, str]]] = {}
        for parameter in self.get_params(ctx):
            record = parameter.get_help_record(ctx) if isinstance(parameter, click.Option) else None
            if record is not None:
                sections.setdefault(getattr(parameter, "section", "Others"), []).append(record)
        for title, records in sorted(sections.items(), key=lambda one: _LAST.index(one[0]) if one[0] in _LAST else -1):
            with formatter.section(title):
                formatter.write_dl(records)

    def format_epilog(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """Write the examples, each on one line that can be copied."""
        if self.examples:
            formatter.write("\nExamples:\n")
            for example in self.examples:
                formatter.write(f"  vantric {example}\n")


def _is_argument(args: Sequence[str], at: int, takes: set[str]) -> bool:
    """Whether a word is an argument: neither a flag nor the value of one."""
    return not args[at].startswith("-") and not (at and args[at - 1] in takes)
