"""Asking a person at a terminal."""

from __future__ import annotations

import sys
from typing import Any

from vantric.base.safe_text import visible
from vantric.cli.questions_part import Question


def can_ask() -> bool:
    """Whether there is somebody to ask: questions and answers go through a terminal."""
    return all(stream is not None and stream.isatty() for stream in (sys.stdin, sys.stdout))


def ask(question: Question) -> Any:
    """Return the value of the choice that a person makes; raise `KeyboardInterrupt` if they stop."""
    import questionary

    choices = [questionary.Choice(visible(one.text), value=place) for place, one in enumerate(question.choices)]
    chosen = questionary.select(visible(question.text), choices=choices, instruction="(arrow keys, then Enter)")
    return question.choices[chosen.unsafe_ask()].value
