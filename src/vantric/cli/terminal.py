"""What is said to people, asked of them, and handed to programs: every line of a command goes through here."""

from __future__ import annotations

import contextlib
import importlib
import os
import sys
from collections.abc import Callable, Sequence
from typing import IO, Any, AnyStr, BinaryIO, Literal, TextIO, TypedDict

from vantric.base.lazily import dataclass
from vantric.base.safe_text import visible
from vantric.errors import TargetError

#: How a line on standard error begins -> its color.
_COLORS = {"error": "\x1b[31m", "warning": "\x1b[33m"}


class Terminal(TypedDict):
    """What standard output can show."""

    width: int
    plain: bool
    color: bool


def terminal() -> Terminal:
    """Return the width, signs and colors that standard output can show; 80 plain columns in a pipe."""
    import shutil

    tty = sys.stdout is not None and sys.stdout.isatty()
    forced = bool(os.environ.get("FORCE_COLOR"))
    color = (tty or forced) and not os.environ.get("NO_COLOR") and os.environ.get("TERM") != "dumb"
    encoding = (getattr(sys.stdout, "encoding", "") or "utf-8").casefold().replace("-", "")
    return {"width": shutil.get_terminal_size((80, 24)).columns, "plain": "utf" not in encoding, "color": color}


def prepare_console() -> None:
    """Have signs that a console cannot show written by their number, and older consoles of Windows show colors."""
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")
    if os.name == "nt":
        with contextlib.suppress(ImportError):
            importlib.import_module("colorama").just_fix_windows_console()  # comes with click on Windows


def opened(path: str) -> None:
    """Open a file with the program that this system has for it; raise `TargetError` if it has none."""
    import click

    if click.launch(path):
        raise TargetError(f"cannot open '{path}': this system has no program for it; it is written")


def say(text: str, *, end: str = "\n", styled: bool = False, paged: bool = False) -> None:
    """Write words for people on standard output; signs that steer a terminal are made visible.

    Parameters
    ----------
    text
        Lines.
    end
        What is behind them.
    styled
        Whether the text holds our own styles, and has been made visible before.
    paged
        Whether a terminal shows it screen by screen.
    """
    whole = (text if styled else visible(text)) + end
    if paged and sys.stdout is not None and sys.stdout.isatty():
        import click

        click.echo_via_pager(whole, color=terminal()["color"])
        return
    _write(sys.stdout, whole)


def hand_over(text: str) -> None:
    """Write data on standard output: to a program as they are, in UTF-8 on any system; to a terminal made visible."""
    stream = sys.stdout
    if stream is None or stream.isatty():
        _write(stream, visible(text))
        return
    raw = getattr(stream, "buffer", None)
    if raw is None:  # a stand-in that takes text only
        _write(stream, text)
        return
    _write(stream, "")
    _write_bytes(raw, text.encode("utf-8", "backslashreplace"))


def warn(text: str) -> None:
    """Write a line on standard error, errors red and warnings yellow; if that is closed, nobody listens."""
    with contextlib.suppress(OSError, ValueError):
        if sys.stderr is not None:
            sys.stderr.write(f"{_colored(visible(text))}\n")
            sys.stderr.flush()


def _colored(text: str) -> str:
    """Return a line with the word that says how bad it is in its color, where standard error shows colors."""
    forced, plain = os.environ.get("FORCE_COLOR"), os.environ.get("NO_COLOR") or os.environ.get("TERM") == "dumb"
    word = next((word for word in _COLORS if text.startswith(f"vantric: {word}:")), "")
    if not word or plain or not (sys.stderr.isatty() or forced):
        return text
    start = f"vantric: {word}:"
    return f"{_COLORS[word]}{start}\x1b[0m{text.removeprefix(start)}"


def flush() -> None:
    """Have standard output take what was written to it."""
    if sys.stdout is not None:
        _write(sys.stdout, "")


def drop_broken() -> None:
    """Drop what standard output does not take, so that ending does not fail on it."""
    with contextlib.suppress(TargetError):
        flush()


def _write(stream: TextIO | None, text: str) -> None:
    if stream is None:
        raise TargetError("standard output is closed; write the result to a file with --out")
    _handed(stream, text)


def _write_bytes(stream: BinaryIO, content: bytes) -> None:
    _handed(stream, content)


def _handed(stream: IO[AnyStr], content: AnyStr) -> None:
    """Write to a stream, and say in one line why that cannot be."""
    try:
        stream.write(content)
        stream.flush()
    except BrokenPipeError:  # the reader, such as `head`, has seen enough
        _to_nowhere(stream)
    except (OSError, ValueError) as error:
        # The reader has gone, or the disk is full: nothing may be written at exit either.
        _to_nowhere(stream)
        reason = getattr(error, "strerror", None) or error
        raise TargetError(f"cannot write to standard output: {reason}") from None


def _to_nowhere(stream: IO[AnyStr]) -> None:
    with contextlib.suppress(OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, stream.fileno())
        os.close(nowhere)


#: Nobody answers more questions than this before a meeting.
MOST = 5


@dataclass(frozen=True)
class Choice:
    """One answer: as it is shown, and what it stands for."""

    text: str
    value: Any


@dataclass(frozen=True)
class Question:
    """What is asked; the first choice is the default.

    Attributes
    ----------
    text, choices
    form
        ``"one"`` choice, ``"several"``, or a ``"text"`` that is typed, which begins as the first choice.
    """

    text: str
    choices: tuple[Choice, ...]
    form: Literal["one", "several", "text"] = "one"


Answer = Callable[[Question], Any]


class Asker:
    """Asks at most so many questions; what is beyond them, or has one choice only, gets its default.

    Parameters
    ----------
    answer
        Returns the value of the choice that was made.
    left
        How many questions may still be asked.
    """

    def __init__(self, answer: Answer, left: int = MOST) -> None:
        self.answer, self.left = answer, left

    def ask(self, text: str, choices: Sequence[Choice]) -> Any:
        """Return the value of an answer."""
        if len(choices) < 2 or not self.left:
            return choices[0].value
        self.left -= 1
        return self.answer(Question(text, tuple(choices)))

    def several(self, text: str, choices: Sequence[Choice]) -> list[Any]:
        """Return the values of one answer or more."""
        if len(choices) < 2 or not self.left:
            return [choices[0].value]
        self.left -= 1
        values = self.answer(Question(text, tuple(choices), "several"))
        return list(values) if isinstance(values, list) else [values]

    def typed(self, text: str, usual: str) -> str:
        """Return a text that is typed, or what it begins as."""
        if not self.left:
            return usual
        self.left -= 1
        return str(self.answer(Question(text, (Choice(usual, usual),), "text"))).strip()


def default(question: Question) -> Any:
    """Answer as if there was nobody to ask."""
    return question.choices[0].value


def can_ask() -> bool:
    """Whether there is somebody to ask: questions and answers go through a terminal."""
    return all(stream is not None and stream.isatty() for stream in (sys.stdin, sys.stdout))


_KEYS = {"one": "(arrow keys, then Enter)", "several": "(Space for each, then Enter)", "text": "(then Enter)"}


def ask(question: Question) -> Any:
    """Return the value of the choice that a person makes; raise `KeyboardInterrupt` if they stop.

    Lines break between words: a terminal would break them anywhere.
    """
    import questionary

    keys, several = _KEYS[question.form], question.form == "several"
    text = f"{_in_lines(question.text, '  ')}\n "  # what is answered has lines of its own
    choices = [
        questionary.Choice(_in_lines(choice.text, "     "), value=place, checked=several and not place)
        for place, choice in enumerate(question.choices)
    ]
    if question.form == "text":
        prompt = questionary.text(text, default=visible(question.choices[0].text), instruction=f"{keys}\n ")
    elif several:
        needed = "choose one at least, with Space"
        check: Any = lambda values: bool(values) or needed  # noqa: E731 - a lambda where the library takes one
        prompt = questionary.checkbox(text, choices=choices, instruction=keys, validate=check)
    else:
        prompt = questionary.select(text, choices=choices, instruction=keys)
    _stop_at(prompt, "c-d", "escape")
    # The safe one would answer Ctrl-C with None, as if nothing had been chosen.
    answer = prompt.unsafe_ask()
    if isinstance(answer, list):
        return [question.choices[place].value for place in answer]
    return answer if question.form == "text" else question.choices[answer].value


def _stop_at(prompt: Any, *keys: str) -> None:
    from prompt_toolkit.key_binding import KeyBindings, merge_key_bindings

    stopping: Any = KeyBindings()
    for key in keys:
        stopping.add(key, eager=True)(lambda event: event.app.exit(exception=KeyboardInterrupt))
    prompt.application.key_bindings = merge_key_bindings([prompt.application.key_bindings, stopping])


def _in_lines(text: str, indent: str) -> str:
    """Return a text in lines of the terminal's width, each of whole words."""
    try:
        columns = os.get_terminal_size().columns
    except OSError:
        columns = 0
    width = max((columns or 80) - 6, 20)
    import textwrap

    return "\n".join(textwrap.wrap(visible(text), width, subsequent_indent=indent, break_long_words=False))
