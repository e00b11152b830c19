"""``vantric help``."""

from __future__ import annotations

import io
import re
import textwrap
from collections.abc import Callable, Iterator
from functools import cache
from typing import Literal

import click

from vantric.cli.command import ALL, SECTIONS, Command, make_command, topic_names, topic_text
from vantric.cli.flags import OptionValues, WordArgument
from vantric.cli.main import COMMANDS, every_command
from vantric.cli.terminal import say, terminal
from vantric.core.review.finding import Code, known_codes
from vantric.errors import OptionError, nearest
from vantric.options.migrations import SYNONYMS

#: Lines of prose longer than this are hard to read.
_WIDEST = 100
#: Shorter words occur everywhere; more places than this are no answer.
_SHORTEST, _MOST_FOUND = 3, 25


def run(topic: tuple[str, ...], options: OptionValues) -> None:
    """Explain a topic, a command, an option, or the code of a finding.

    Without TOPIC the topics are listed.
    """
    say(explained(" ".join(topic).strip()), end="", styled=True)


def explained(topic: str) -> str:
    """Return what is to be said of a topic; raise `OptionError` if there is none of that name."""
    word = _whole(topic.casefold().strip()).replace(" ", "-")
    name = word.lstrip("-").replace("_", "-")
    commands = dict(every_command())
    if not name:
        return _contents()
    if name in commands and not word.startswith("-"):
        return _command(commands[name])
    if (name in topic_names() or name in SECTIONS) and not word.startswith("-"):
        return _topic(name)
    text = _options(name) + (_code(known_codes()[name]) if name in known_codes() else "")
    if text:
        return text
    message = _search(name.replace("-", " "))
    if message:
        return message
    hint = nearest(name, [*_words(), *_flags()]) or "; vantric help lists the topics"
    raise OptionError(f"there is no help on '{topic}'{hint}", value=topic, hint=hint.removeprefix("; "))


def _search(words: str) -> str:
    """Return where a word occurs: topics, options and codes; nothing if it occurs nowhere, or is too short to tell."""
    if len(words) < _SHORTEST:
        return ""
    meant = _meant(words)
    flags = [(f"vantric help {flag}", str(option.help), _called(flag)) for flag, _, option in _every_flag()]
    # What people call an option comes first; the words of its help may be about another one.
    pairs = [(place, about) for place, about, called in flags if meant(called)]
    pairs += [(place, about) for place, about, called in flags if meant(f"{called} {about}")]
    pairs += [(f"vantric help {name}", about) for name, about in topic_names().items() if meant(topic_text(name))]
    for code in known_codes().values():
        if meant(f"{code.name.replace('-', ' ')} {code.example} {code.fires}"):
            pairs.append((f"vantric help {code.name}", code.example))
    if not pairs:
        return ""
    formatter = click.HelpFormatter(width=_width())
    formatter.write(f"Nothing is called '{words}'; it occurs in:\n")
    with formatter.indentation():
        places = dict(reversed(pairs))
        formatter.write_dl(
            [(place, places[place]) for place in dict.fromkeys(place for place, _ in pairs)][:_MOST_FOUND]
        )
    return formatter.getvalue()


def _meant(words: str) -> Callable[[str], bool]:
    """Return whether a text holds every word."""
    patterns = [re.compile(rf"(?<!\w){re.escape(word)}(?!\w)", re.IGNORECASE) for word in words.split()]
    return lambda text: all(pattern.search(text) for pattern in patterns)


@cache
def _names() -> dict[str, list[str]]:
    """Return option -> the words that people try for it."""
    names: dict[str, list[str]] = {}
    for word, options in SYNONYMS.items():
        for option in options:
            names.setdefault(option.partition("=")[0], []).append(word.replace("_", " "))
    return names


def _called(flag: str) -> str:
    """Return what an option is called, here and by people who try."""
    name = flag.lstrip("-").replace("-", "_")
    return " ".join([name.replace("_", " "), *_names().get(name, ())])


def _whole(word: str) -> str:
    """Return the long name of a short option."""
    longs = {short: flag for flag, _, option in _every_flag() for short in option.opts if not short.startswith("--")}
    return longs.get(word, word)


def _width() -> int:
    return min(terminal()["width"], _WIDEST)


def _contents() -> str:
    formatter = click.HelpFormatter(width=_width())
    formatter.write(
        "vantric help TOPIC explains one of these, a command, an option (--keep), or the code of a finding:\n"
    )
    with formatter.section("Topics"):
        formatter.write_dl(list(topic_names().items()))
    with formatter.section("Options by what they are for"):
        formatter.write_dl([(name, title) for name, title in SECTIONS.items() if name not in topic_names()])
    with formatter.section("Commands"):
        formatter.write_dl(list(COMMANDS.items()))
    return formatter.getvalue()


def _topic(name: str) -> str:
    """Return the prose of a topic, and the options of its section."""
    parts = [_prose(topic_text(name))] if name in topic_names() else []
    if name in SECTIONS:
        parts.append(_section(SECTIONS[name]))
    return "\n".join(parts)


def _prose(text: str) -> str:
    """Return Markdown as lines for the terminal."""
    from rich.console import Console
    from rich.markdown import Markdown

    out, color = io.StringIO(), terminal()["color"]
    scheme: Literal["standard"] | None = "standard" if color else None
    console = Console(file=out, width=_width(), force_terminal=color, color_system=scheme, legacy_windows=False)
    console.print(Markdown(text))
    return "\n".join(line.rstrip() for line in out.getvalue().splitlines()) + "\n"


def _section(title: str) -> str:
    """Return the options under a heading, each once, with the commands that have it where not all do."""
    values: dict[str, tuple[str, str]] = {}
    homes: dict[str, list[str]] = {}
    having: list[str] = []
    for name, command in every_command():
        context = click.Context(command)
        for option in command.sections(context).get(title, ()):
            record = option.get_help_record(context)
            if record is not None:
                values.setdefault(record[0], record)
                homes.setdefault(record[0], []).append(name)
                having.append(name)
    every = list(dict.fromkeys(having))
    formatter = click.HelpFormatter(width=_width())
    with formatter.section(f"{title} (options of {', '.join(every)})"):
        formatter.write_dl([(flag, about + _only(homes[flag], every)) for flag, about in values.values()])
    return formatter.getvalue()


def _only(homes: list[str], every: list[str]) -> str:
    return "" if homes == every else f"  [{', '.join(homes)}]"


def _command(command: Command) -> str:
    context = click.Context(command, info_name=f"vantric {command.name}", terminal_width=_width())
    context.meta[ALL] = True
    return command.get_help(context) + "\n"


def _code(code: Code) -> str:
    lines = [f"{code.name} ({code.severity})", ""]
    for head, text in (
        ("What it says", code.example),
        ("Fix", code.fix),
        ("It is said for", code.fires),
        ("And not for", code.silent),
        ("Why so severe", code.why),
    ):
        lines += textwrap.wrap(f"{head}: {text}", _width(), subsequent_indent="  ") if text else []
    return "\n".join(lines) + "\n"


def _words() -> list[str]:
    return [*COMMANDS, *topic_names(), *SECTIONS, *known_codes()]


def _flags() -> list[str]:
    return list(dict.fromkeys(flag.lstrip("-") for flag, _, _ in _every_flag()))


def _every_flag() -> Iterator[tuple[str, str, click.Option]]:
    for name, command in every_command():
        for parameter in command.params:
            if isinstance(parameter, click.Option):
                yield from ((flag, name, parameter) for flag in parameter.opts if flag.startswith("--"))


def _options(name: str) -> str:
    """Return what an option does, on each command that has it where that differs."""
    values: dict[tuple[str, str], list[str]] = {}
    for flag, home, option in _every_flag():
        record = option.get_help_record(click.Context(click.Command(home)))
        if flag == f"--{name}" and record is not None:
            values.setdefault(record, []).append(home)
    lines: list[str] = []
    for (flag, about), homes in values.items():
        lines.append(flag)
        for text in (about, f"On {', '.join(homes)}."):
            lines += textwrap.wrap(text, _width(), initial_indent="  ", subsequent_indent="  ")
    return "\n".join(lines) + "\n" if lines else ""


def help_command() -> Command:
    """Return the command, which takes options as its topics: ``vantric help --keep``."""
    command = make_command(
        "help",
        run,
        [WordArgument(["topic"], _words, nargs=-1, metavar="[TOPIC]")],
        (),
        examples=("help cutoff", "help --read-numbers"),
    )
    command.context_settings["ignore_unknown_options"] = True
    return command
