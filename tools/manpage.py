"""The man page: every command with its options, from the same source as the help."""

from __future__ import annotations

from pathlib import Path

import click

from vantric import __version__
from vantric.cli.command import Command, topic_names, topic_text
from vantric.cli.main import COMMANDS, every_command

PATH = Path(__file__).parent.parent / "docs/man/vantric.1"
_ABOUT = (
    "Counts records by category, ranks, accumulates and marks the cutoff, draws bars and lines on two axes that agree, "
    "and says what the numbers show and how sure that is."
)
_SHOWN = ("source", "status")


def text() -> str:
    """Return the page, in the macros of man(7)."""
    parts = [
        f'.TH VANTRIC 1 "" "Vantric {__version__}" "User Commands"',
        ".SH NAME",
        r"vantric \- Pareto tables and charts from category counts, on two axes that agree",
        ".SH SYNOPSIS",
        r"\fBvantric\fR \fICOMMAND\fR [\fIOPTIONS\fR] [\fISOURCE\fR]",
        ".SH DESCRIPTION",
        _plain(_ABOUT),
        ".SH COMMANDS",
    ]
    for name, about in COMMANDS.items():
        parts += [".TP", rf"\fB{name}\fR", _plain(about)]
    for name, command in every_command():
        parts += _command(name, command)
    for topic in _SHOWN:
        parts += [f".SH {topic_names()[topic].upper()}", *_markdown(topic_text(topic))]
    parts += [".SH SEE ALSO", _plain("vantric help TOPIC explains a topic, an option, or the code of a finding.")]
    return "\n".join(parts) + "\n"


def _command(name: str, command: Command) -> list[str]:
    context = click.Context(command, info_name=f"vantric {name}")
    usage = " ".join(command.collect_usage_pieces(context))
    parts = [f'.SH "VANTRIC {name.upper()}"', rf"\fBvantric {name}\fR {_plain(usage)}", ".PP"]
    parts.append(_plain(" ".join((command.help or "").split())))
    for title, options in command.sections(context).items():
        parts.append(f'.SS "{title}"')
        for one in options:
            record = one.get_help_record(context)
            if record is not None:
                parts += [".TP", rf"\fB{_plain(record[0])}\fR", _plain(record[1])]
    parts += ['.SS "Examples"', *(line for one in command.examples for line in (".PP", _plain(f"vantric {one}")))]
    return parts


def _markdown(text: str) -> list[str]:
    """Return the prose of a topic: paragraphs, and items with a bullet."""
    lines: list[str] = []
    for line in text.splitlines()[1:]:
        plain = _plain(line.replace("`", "").replace("**", ""))
        if line.startswith("- "):
            lines += [r".IP \(bu 2", plain.removeprefix(r"\- ")]
        elif not line.strip():
            lines.append(".PP")
        else:
            lines.append(plain.strip())
    return lines


def _plain(text: str) -> str:
    """Return a text in which nothing is a request of the formatter."""
    found = text.replace("\\", r"\e").replace("-", r"\-")
    return rf"\&{found}" if found.startswith((".", "'")) else found
