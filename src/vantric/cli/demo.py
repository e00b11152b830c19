"""``vantric demo``."""

from __future__ import annotations

import contextlib
import io
import os
import shlex
import textwrap
from collections.abc import Iterator, Sequence
from functools import partial
from pathlib import Path

from vantric.base.safe_files import write_whole
from vantric.cli.command import make_command
from vantric.cli.flags import OptionValues
from vantric.cli.results import SENTENCE
from vantric.cli.terminal import say, terminal
from vantric.demo import DATA, OPENED, STEPS, data_file
from vantric.errors import TargetError
from vantric.options import Options, option

#: The folder in which the demo keeps what each command printed.
SHOWN = "shown"
#: How lines begin that say what was written, and what to take care of.
_TOLD = ("wrote ", "vantric: ")


class DemoSettings(Options, section="What is written"):
    """Where the demo goes."""

    to: Path = option(
        Path("vantric-demo"), "The folder for the data and the results; created if it does not exist.", metavar="DIR"
    )


def run(options: OptionValues) -> None:
    """Run the whole example with the demo data.

    Writes the data of a made-up tileworks into the folder, then runs each command there as you would type it: what each
    shows is said in a sentence, and its whole output is in a file of the folder "shown".
    """
    folder: Path = options.split(DemoSettings)[0].to
    try:
        (folder / SHOWN).mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise TargetError(f"cannot make the folder '{folder}': {error.strerror}; choose another with --to") from None
    for name in DATA:
        write_whole(folder / name, data_file(name))
    say(f"The data of Orrinvale Tileworks, a made-up pottery, are in '{folder}'. Each command runs there:")
    with _inside(folder):
        for number, (purpose, arguments) in enumerate(STEPS, 1):
            say("\n" + (f"# {purpose}\n" if purpose else "") + f"$ vantric {_typed(arguments)}")
            text = _ran(arguments, Path(SHOWN, f"{number:02d}-{arguments[0]}.txt"))
            say(textwrap.fill(text, terminal()["width"], initial_indent="  ", subsequent_indent="  "))
    say(f"\nEverything is in '{folder}', what each command shows in '{folder / SHOWN}'.")
    say(f"Open '{folder / OPENED}' in a browser: the report that a manager gets.")


def _ran(arguments: Sequence[str], path: Path) -> str:
    """Run a command, put what it shows into a file, and return what that is in a sentence."""
    from vantric.cli.main import vantric

    out = io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(out):
        context = vantric.make_context("vantric", list(arguments))
        with context:
            vantric.invoke(context)
            last_sentence = context.meta.get(SENTENCE)
    write_whole(path, f"$ vantric {_typed(arguments)}\n{out.getvalue()}".encode())
    sentence = last_sentence() if last_sentence is not None else ""
    lines = [line for line in out.getvalue().splitlines() if line.strip() and not line.startswith(_TOLD)]
    return str(sentence) or next(iter(lines), "")


def _typed(arguments: Sequence[str]) -> str:
    """Return arguments as a person types them."""
    return " ".join(f'"{word}"' if _in_quotes(word) else shlex.quote(word) for word in arguments)


def _in_quotes(word: str) -> bool:
    return '"' not in word and ("'" in word or " " in word)


@contextlib.contextmanager
def _inside(folder: Path) -> Iterator[None]:
    """Work inside a folder, and come back."""
    before = Path.cwd()
    os.chdir(folder)
    try:
        yield
    finally:
        os.chdir(before)


demo_command = partial(make_command, "demo", run, [], (DemoSettings,), examples=("demo", "demo --to tileworks"))
