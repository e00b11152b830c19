"""The flags of the command line, derived from the option classes; typed values, and messages that name flags."""

from __future__ import annotations

import os
import re
import stat
import sys
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar, get_args, get_origin

import click

from vantric.base.lazily import compiled
from vantric.errors import OptionError, VantricError
from vantric.options import NOTHING, Option, known_options, split_options
from vantric.options.option_types import Unset, is_list, literals, members

if TYPE_CHECKING:
    from vantric.core.counts.provenance import Note
    from vantric.core.review import Finding
    from vantric.counting.count_records import FirstLook

F = TypeVar("F", "Finding", "Note")

#: Options that messages name in Python's spelling and the command line in its own.
_READING = "read_numbers|read_dates|keep_totals|leave_out|fill_down|visible_only|percent_base|merge_spellings"
_OTHERS = (
    "na|cells|sheet|header|count|per|by|keep|fold_below|separator|last|split|before|after|weight|secondary_zero|secondary"
    "|bar_width|gap|planned|actual|ties|date|encoding|split_columns|rename"
)
#: How a message names the options of reading, as they are written in Python.
_SAID = compiled(rf"\b({_READING}|{_OTHERS})=(True|False|\"[^\"]*\"|'[^']*'|[0-9.]+)?|\b({_READING})\b(?!=)")


def in_flags(message: str) -> str:
    """Return a message with the options of reading as they are typed: --no-keep-totals for keep_totals=False."""
    return _SAID.sub(_as_flag, message)


def findings_in_flags(findings: Iterable[F]) -> list[F]:
    """Return findings, or remarks of a reading, in the words of the command line."""
    return [replace(finding, message=in_flags(finding.message), fix=in_flags(finding.fix)) for finding in findings]


def look_in_flags(look: FirstLook) -> FirstLook:
    """Return a first look whose remarks are in the words of the command line."""
    return replace(look, remarks=tuple(findings_in_flags(look.remarks)))


def error_in_flags(error: VantricError) -> str:
    """Return the message of an error, an option by its name on the command line."""
    from vantric.options.option_types import in_plain_words

    message = in_flags(in_plain_words(str(error)) if isinstance(error, OptionError) else str(error))
    name, flag = (error.option, error.flag) if isinstance(error, OptionError) else ("", "")
    if not name or not message.startswith(name):
        return message
    return (flag or f"--{name.replace('_', '-')}") + message[len(name) :]


def _as_flag(match: re.Match[str]) -> str:
    name, value = (match[1] or match[3]).replace("_", "-"), match[2]
    if value in ("True", "False"):
        return f"--{name}" if value == "True" else f"--no-{name}"
    return f"--{name} {value}" if value else f"--{name}"


#: Defaults that a help does not repeat.
_UNSHOWN: tuple[Any, ...] = (None, False, True, "", (), {})


class OptionValues(dict[str, Any]):
    """Option -> value, of those that were typed."""

    def split(self, *kinds: type) -> list[Any]:
        """Return one instance of each class of options."""
        options = known_options(*kinds)
        return split_options({name: value for name, value in self.items() if name in options}, *kinds, place="command")


def flags_of(kinds: Iterable[type], *, named: Iterable[str] = ()) -> list[click.Option]:
    """Return the flags of classes of options, each once, with their sections.

    Parameters
    ----------
    kinds
        The classes, in the order of the help.
    named
        Options that can be given for one series by its name: ``NAME=VALUE``.
    """
    values: dict[str, list[click.Option]] = {}
    for kind in kinds:
        for known_option in known_options(kind).values():
            if known_option.in_place("command") and known_option.name not in values:
                values[known_option.name] = _flags(known_option, named=known_option.name in set(named))
    return [flag for flags in values.values() for flag in flags]


def _flags(option: Option, *, named: bool) -> list[click.Option]:
    declaration = option.declared
    names = [*([declaration.short] if declaration.short else []), option.flag, option.name]
    default = (
        "" if any(option.default is plain or option.default == plain for plain in _UNSHOWN) else str(option.default)
    )
    text = {"(1280.0, 800.0)": "1280x800"}.get(default, default)
    about = f"{option.help.rstrip('.')}.{' Repeatable.' if named or _is_several(option) else ''}"
    if option.default is NOTHING:
        about += "  [required]"
    elif text and not isinstance(option.default, Unset):
        about += f"  [default: {text}]"
    more: dict[str, Any] = {"help": about, "default": None}
    kinds = [kind for kind in members(option.kind) if kind is not type(None)]
    if kinds == [bool] and not named:
        flag = _Flag(names, option.section, is_flag=True, **more)
        return [flag, _off(option, f"The opposite of {option.flag}.")] if type(None) in members(option.kind) else [flag]
    metavar = _metavar(option, named)
    words = [word for word in literals(option.kind) if isinstance(word, str)]
    flag = _Flag(
        names, option.section, words=words, multiple=True, metavar=metavar, **more
    )  # of single ones a second is refused
    return [flag] if declaration.off is NOTHING else [flag, _off(option, f"No {option.name}.")]


def _off(option: Option, about: str) -> click.Option:
    name = f"--no-{option.name.replace('_', '-')}"
    return _Flag([name, f"no_{option.name}"], option.section, is_flag=True, default=None, help=about)


class _Flag(click.Option):
    """A flag with its heading in the help."""

    def __init__(self, names: Sequence[str], section: str, *, words: Sequence[str] = (), **more: Any) -> None:
        super().__init__(list(names), **more)
        self.section = section
        self.words = tuple(words)

    def shell_complete(self, ctx: click.Context, incomplete: str) -> list[Any]:
        """Return what a shell may complete a value to."""
        from vantric.cli.completers import values_of

        return values_of(ctx, self.words, self.metavar or "", incomplete)


class FileArgument(click.Argument):
    """An argument that names a file, or another source."""

    def shell_complete(self, ctx: click.Context, incomplete: str) -> list[Any]:
        """Return that a shell may complete it to the name of a file."""
        from click.shell_completion import CompletionItem

        return [CompletionItem(incomplete, type="file")]


class SourceArgument(FileArgument):
    """A source: what is piped in, where none is named."""

    def get_default(self, ctx: click.Context, call: bool = True) -> Any:
        """Return standard input, where something is piped into it."""
        return "-" if _is_piped() else super().get_default(ctx, call)


def _is_piped() -> bool:
    """Whether a pipe or a file is given as standard input."""
    try:
        mode = os.fstat(sys.stdin.fileno()).st_mode
    except (AttributeError, OSError, ValueError):  # there is none, or it was closed
        return False
    return stat.S_ISFIFO(mode) or stat.S_ISREG(mode) or stat.S_ISSOCK(mode)


class WordArgument(click.Argument):
    """An argument that is one of certain words; they are asked for when a shell completes it."""

    def __init__(self, names: Sequence[str], words: Iterable[str] | Callable[[], Iterable[str]], **more: Any) -> None:
        super().__init__(list(names), **more)
        self.words = words

    def shell_complete(self, ctx: click.Context, incomplete: str) -> list[Any]:
        """Return the words that begin with what is typed."""
        from click.shell_completion import CompletionItem

        words = self.words() if callable(self.words) else self.words
        return [CompletionItem(word) for word in words if word.startswith(incomplete)]


def _metavar(option: Option, named: bool) -> str:
    words = "|".join(word.replace(" ", "-") for word in literals(option.kind))
    metavar = option.declared.metavar or (f"[{words}]" if words else "VALUE")
    if named and members(option.kind) == (bool,):
        return "NAME"
    return f"[NAME=]{metavar.removeprefix('[NAME=]')}" if named else metavar


def _is_several(option: Option) -> bool:
    """Whether an option is typed once for each of its values."""
    kinds = [kind for kind in members(option.kind) if kind is not type(None)]
    if all(get_origin(kind) is tuple and Ellipsis in get_args(kind) for kind in kinds):
        return True
    return is_mapping(option) and not any(kind in (str, Path, float) for kind in kinds)


def is_mapping(option: Option) -> bool:
    """Whether an option takes names and values."""
    return any(
        isinstance(get_origin(kind), type) and issubclass(get_origin(kind), Mapping) for kind in members(option.kind)
    )


def typed_values(values: Mapping[str, Any], kinds: Iterable[type], *, named: Iterable[str] = ()) -> OptionValues:
    """Return the values of the flags that were typed; those of `named` options stay texts."""
    options = OptionValues()
    options_by_name = {
        name: known_option
        for kind in kinds
        for name, known_option in known_options(kind).items()
        if known_option.in_place("command")
    }
    for name, option in options_by_name.items():
        value, off = values.get(name), values.get(f"no_{name}")
        if value not in (None, ()) and off:
            raise click.UsageError(
                f"{option.flag} and --no-{name.replace('_', '-')} contradict each other: give one of them"
            )
        if off:
            options[name] = False if option.declared.off is NOTHING else option.declared.off
        elif value not in (None, ()):
            options[name] = value if name in set(named) else from_flag(option, value)
    return options


def from_flag(option: Option, value: Any) -> Any:
    """Return what was typed for an option as a value of its type."""
    if not isinstance(value, tuple):
        return value
    if not _is_several(option):
        if len(set(value)) > 1:
            raise click.UsageError(f"{option.flag} is given twice, as {value[0]} and as {value[1]}: give it once")
        return from_text(option, value[0])
    if is_mapping(option):
        return _pairs(option, value)
    read = option.declared.read
    if read is None:
        return value
    values = [read(text) for text in value]
    return tuple(item for part in values for item in (part if is_list(part) else (part,)))


def from_text(option: Option, text: Any) -> Any:
    """Return a text as a number or a path where the type of the option is one; else as it is."""
    kinds = members(option.kind)
    if not isinstance(text, str):
        return text
    if str in kinds:
        return text if option.declared.read is None else option.declared.read(text)
    if Path in kinds:
        return Path(text) if option.declared.read is None else option.declared.read(text)
    for kind in (int, float):
        if kind in kinds or (kind is int and float in kinds):
            try:
                return kind(text)
            except ValueError:  # another type of the union may take it
                continue
    return text


def _pairs(option: Option, texts: Sequence[str]) -> Any:
    """Return what ``NAME=VALUE`` says, by name; a value alone is for all where the type has such."""
    words: dict[str, str] = {}
    for text in texts:
        name, sign, value = text.partition("=") if option.flag == "--word" else text.rpartition("=")
        if not sign and literals(option.kind):
            words[""] = value or text
        elif not sign or not name.strip():
            raise click.UsageError(
                f"{option.flag} takes a name and what it is, such as {option.declared.metavar}; "
                f"'{text}' is not of that form"
            )
        else:
            words[name.strip()] = value if option.flag == "--word" else value.strip()
    if option.declared.read is not None:
        words = {name: option.declared.read(value) for name, value in words.items()}
    return words[""] if list(words) == [""] else words
