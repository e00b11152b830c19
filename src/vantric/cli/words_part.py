"""The options of charts that only the command line has."""

from __future__ import annotations

from pathlib import Path
from typing import Any, TypeVar

from vantric.cli.flags import Given
from vantric.cli.results import Outputs, refuse_without_picture
from vantric.core.charts.settings import Look
from vantric.counting.families_part import read_pairs
from vantric.options import Options, known_options, option
from vantric.tables.localize import PLAIN, Local

L = TypeVar("L", bound=Look)


class WordsFile(Options, section="What the chart says"):
    """Fixed words in a file."""

    words_file: Path | None = option(None, "Fixed words of the chart in a TOML or JSON file.", metavar="FILE")


def words_in(given: Given, said: dict[str, Any]) -> dict[str, Any]:
    """Return options with the words of the file that was named, under those that were typed."""
    [words] = given.split(WordsFile)
    if words.words_file is None:
        return said
    own = read_pairs(words.words_file, "words", "a name and a text in pairs")
    return {**said, "words": {**own, **said.get("words", {})}}


def local_of(look: Look) -> Local:
    """Return the language of what people read beside the chart."""
    return PLAIN if look.language == "en" else Local.of(look.wording)


def look_of(given: Given, kind: type[L], outputs: Outputs, *, leave_out: tuple[str, ...] = (), **follows: Any) -> L:
    """Return the look that was asked for; raise an error if there is one but no chart.

    `follows` are options that follow from others, where they are not typed.
    """
    names = [name for name in (*known_options(kind), "words_file") if name not in (*leave_out, "language")]
    refuse_without_picture(given, names, outputs)
    said: Any = {**follows, **{name: value for name, value in given.items() if name in known_options(kind)}}
    look = kind.from_keywords(words_in(given, said))
    if outputs.draws:
        from vantric.kinds.appearance import ready

        ready(look)  # a color or a font that there is not is refused before anything is read
    return look
