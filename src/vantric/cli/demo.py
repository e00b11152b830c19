"""``vantric demo``."""

from __future__ import annotations

import contextlib
import os
import shlex
from collections.abc import Iterator, Sequence
from pathlib import Path

from vantric.cli.flags import Given
from vantric.cli.making import made
from vantric.cli.terminal import say
from vantric.demo.example import DATA, STEPS, data_file
from vantric.errors import TargetError
from vantric.options import Options, option
from vantric.writing import write_whole


class Place(Options, section="What is written"):
    """Where the demo goes."""

    to: Path = option(Path("vantric-demo"), "The folder for the data and the results; created if it does not exist.",
                      metavar="DIR")  # fmt: skip


def run(given: Given) -> None:
    """Run the whole example with the demo data.

    Writes the data of a made-up tileworks into the folder, then runs each command there as you would type it.
    """
    from vantric.cli.main import vantric

    folder: Path = given.split(Place)[0].to
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise TargetError(f"cannot make the folder '{folder}': {error.strerror}; choose another with --to") from None
    for name in DATA:
        write_whole(folder / name, data_file(name))
    say(f"The data of Orrinvale Tileworks, a made-up pottery, are in '{folder}'.")
    with _inside(folder):
        for purpose, arguments in STEPS:
            say("\n" + (f"# {purpose}\n" if purpose else "") + f"$ vantric {_typed(arguments)}")
            vantric.main(args=list(arguments), prog_name="vantric", standalone_mode=False)
    say(f"\nEverything is in '{folder}'.")


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


command = made("demo", run, [], (Place,), examples=("demo", "demo --to tileworks"))
