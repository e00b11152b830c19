"""Inputs with a flaw each: what is found of each, and the words of its reason."""

from collections.abc import Iterator

from tests.corpus.flawedbooks import flawedbooks
from tests.corpus.flawedcharts import flawedcharts
from tests.corpus.flawedlogs import flawedlogs
from tests.corpus.flawedsheets import flawedsheets
from tests.corpus.making import Flawed


def flaws() -> Iterator[Flawed]:
    """Yield every flawed input."""
    yield from flawedsheets()
    yield from flawedlogs()
    yield from flawedcharts()
    yield from flawedbooks()
