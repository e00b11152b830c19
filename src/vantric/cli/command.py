"""How a command is made: its arguments, the flags of its options, a help with sections, and topics in prose."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from functools import cache
from typing import TYPE_CHECKING, Any

import click

from vantric.base.lazily import compiled
from vantric.cli.flags import SourceArgument, flags_of, typed_values
from vantric.cli.terminal import say
from vantric.errors import nearest

if TYPE_CHECKING:
    from importlib.resources.abc import Traversable

#: Word -> the heading of the options that it stands for.
SECTIONS: dict[str, str] = {
    "counting": "What is counted",
    "source": "The source",
    "reading": "How cells are read",
    "ranking": "How it is ranked, cut off and folded",
    "rates": "Rates",
    "parts": "Parts",
    "certainty": "How sure the ranking is",
    "sides": "Before and after",
    "time": "Over time",
    "series": "What is drawn",
    "series-look": "How series look",
    "axes": "How the axes are scaled",
    "shows": "What the chart shows",
    "look": "How the chart looks",
    "words": "What the chart says",
    "numbers": "How the chart writes numbers",
    "checking": "A sheet made elsewhere",
    "output": "What is written",
    "findings": "What is said",
}
_ENDING = ".md"


def _topics() -> Traversable:
    from importlib.resources import files

    return files("vantric.cli").joinpath("topics")


@cache
def topic_names() -> dict[str, str]:
    """Return the topics that have prose, each with its first line, without the sign of a heading."""
    topic_names = {}
    for path in sorted(_topics().iterdir(), key=lambda file: file.name):
        if path.name.endswith(_ENDING):
            topic_names[path.name.removesuffix(_ENDING)] = (
                path.read_text(encoding="utf-8").partition("\n")[0].lstrip("# ")
            )
    return topic_names


def topic_text(name: str) -> str:
    """Return the prose of a topic, Markdown."""
    return _topics().joinpath(name + _ENDING).read_text(encoding="utf-8")


#: Where a context holds the names of the options in the order in which they were typed.
ORDER = "vantric.order"
#: Where a context says that the help is to show every option.
ALL = "vantric.all"
Run = Callable[..., int | None]
SOURCE = SourceArgument(["source"])
#: The sections at the end of a help, in their order.
_LAST = (
    "What the chart shows",
    "How the chart looks",
    "What the chart says",
    "How series look",
    "How the chart writes numbers",
    "What is written",
    "What is said",
    "Others",
)
#: A range may begin with a minus: ``-5.8:9.4`` is no flag.
_RANGE = compiled(r"-[\d.]")


def make_command(
    name: str,
    run: Run,
    arguments: Sequence[click.Argument],
    kinds: Sequence[type],
    *,
    examples: Sequence[str],
    first: str = "",
    named: Iterable[str] = (),
    more: Sequence[click.Option] = (),
) -> Command:
    """Return a command; a file of commands keeps what makes each, and one start makes one.

    Parameters
    ----------
    name
        What it is called.
    run
        What it does: gets the arguments by name, and `options`, the options that were typed.
    arguments
        What is without a flag.
    kinds
        The classes of its options.
    examples
        Two, as they are typed in the folder of the demo data.
    first
        The options most used, ten at most, that the short help shows, with spaces between them; all if there are none.
    named
        Options that can be given for one series by its name.
    more
        Flags that are no options of a result.
    """
    names = tuple(named)

    def callback(**values: Any) -> int | None:
        plain = {
            parameter.name: values[str(parameter.name)]
            for parameter in (*arguments, *more)
            if str(parameter.name) in values
        }
        return run(options=typed_values(values, kinds, named=names), **plain)

    params = [*arguments, *flags_of(kinds, named=names), *more, *([_help_all()] if first else [])]
    return Command(name, callback=callback, params=params, help=run.__doc__, examples=examples, first=first)


def _help_all() -> click.Option:
    return click.Option(
        ["--help-all"],
        is_flag=True,
        is_eager=True,
        expose_value=False,
        callback=_show_all,
        help="Show every option, by section.",
    )


def _show_all(context: click.Context, parameter: click.Parameter, value: bool) -> None:
    if value and not context.resilient_parsing:
        context.meta[ALL] = True
        say(context.get_help())
        context.exit()


class Command(click.Command):
    """A command whose help shows the options most used, or all by section, and ends with examples."""

    def __init__(self, *values: Any, examples: Sequence[str] = (), first: str = "", **more: Any) -> None:
        super().__init__(*values, **more)
        self.examples = tuple(examples)
        self.first = tuple(f"--{word}" for word in first.split())

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        """Parse the arguments; an option that there is not is answered with the nearest right one."""
        try:
            if ctx.resilient_parsing and args[-1:] and args[-1] in self._takes(ctx):
                args = args[:-1]  # a shell completes its value: what stands before it is complete
            plain = self._ranges_last(ctx, args)
            ctx.meta[ORDER] = tuple(parameter.name for parameter in self.make_parser(ctx).parse_args(list(plain))[2])
            return super().parse_args(ctx, plain)
        except click.NoSuchOption as error:
            raise click.UsageError(self._no_option(error.option_name)) from None

    def _no_option(self, word: str) -> str:
        flags = [
            flag
            for parameter in self.params
            if isinstance(parameter, click.Option)
            for flag in (*parameter.opts, *parameter.secondary_opts)
        ]
        names = {flag.lstrip("-").replace("-", "_") for flag in flags}
        from vantric.options.migrations import synonym  # needed by errors only

        text = synonym(word, names, command=True)
        hint = f"; use {text}" if text else nearest(word, [flag for flag in flags if flag.startswith("--")])
        return f"there is no option {word}{hint or f'; vantric {self.name} --help lists them'}"

    def _takes(self, ctx: click.Context) -> set[str]:
        """Return the flags that take a value."""
        options = (
            parameter
            for parameter in self.get_params(ctx)
            if isinstance(parameter, click.Option) and not parameter.is_flag
        )
        return {flag for option in options for flag in option.opts}

    def _ranges_last(self, ctx: click.Context, args: list[str]) -> list[str]:
        """Move ranges that begin with a minus behind all options, so that they are not taken for one."""
        takes = self._takes(ctx)
        moved = [
            index
            for index, arg in enumerate(args)
            if _RANGE.match(arg)
            and ":" in arg
            and args[index - 1 : index] != ["--"]
            and not (index and args[index - 1] in takes)
        ]
        if not moved or "--" in args:
            return args
        plain = [arg for index, arg in enumerate(args) if not (index in moved or _is_argument(args, index, takes))]
        ranges = [arg for index, arg in enumerate(args) if index in moved or _is_argument(args, index, takes)]
        return [*plain, "--", *ranges]

    def sections(self, ctx: click.Context) -> dict[str, list[click.Option]]:
        """Return the options by section, in the order of the help; what has none is under "Others"."""
        values: dict[str, list[click.Option]] = {}
        for parameter in self.get_params(ctx):
            if isinstance(parameter, click.Option):
                values.setdefault(getattr(parameter, "section", "Others"), []).append(parameter)
        return dict(sorted(values.items(), key=lambda pair: _LAST.index(pair[0]) if pair[0] in _LAST else -1))

    def format_options(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """Write the options most used and what the others are for, or all of them by section."""
        sections = self.sections(ctx)
        if not self.first or ctx.meta.get(ALL):
            for title, options in sections.items():
                _write(ctx, formatter, title, options)
            return
        by_flag = {flag: option for options in sections.values() for option in options for flag in option.opts}
        _write(ctx, formatter, "Most used", [by_flag[flag] for flag in self.first])
        _write(
            ctx, formatter, "Others", [option for option in sections.pop("Others") if option.opts[0] not in self.first]
        )
        formatter.write(f"\nAll options, by what they are for: vantric {self.name} --help-all, or one part of them:\n")
        with formatter.indentation():
            words = {title: word for word, title in SECTIONS.items()}
            formatter.write_dl(
                [(f"vantric help {words[title]}", _counted(title, options)) for title, options in sections.items()]
            )

    def format_epilog(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """Write the examples, each on one line that can be copied."""
        if self.examples:
            formatter.write("\nExamples:\n")
            for example in self.examples:
                formatter.write(f"  vantric {example}\n")


def _counted(title: str, options: Sequence[click.Option]) -> str:
    text = ", ".join(option.opts[-1] if option.opts[-1].startswith("--") else option.opts[0] for option in options[:3])
    return f"{title}: {text}{' ...' if len(options) > 3 else ''}"


def _write(ctx: click.Context, formatter: click.HelpFormatter, title: str, options: Sequence[click.Option]) -> None:
    records = [record for option in options if (record := option.get_help_record(ctx)) is not None]
    with formatter.section(title):
        formatter.write_dl(records)


def _is_argument(args: Sequence[str], index: int, takes: set[str]) -> bool:
    """Whether a word is an argument: neither a flag nor the value of one."""
    return not args[index].startswith("-") and not (index and args[index - 1] in takes)
