"""Questions with choices, and who answers them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

MOST = 5


@dataclass(frozen=True)
class Choice:
    """One answer: as it is shown, and what it stands for."""

    text: str
    value: Any


@dataclass(frozen=True)
class Question:
    """What is asked; the first choice is the default."""

    text: str
    choices: tuple[Choice, ...]


Answer = Callable[[Question], Any]


@dataclass
class Asker:
    """Asks at most so many questions; what is beyond them, or has one choice only, gets its default.

    Attributes
    ----------
    answer
        Returns the value of the choice that was made.
    left
        How many questions may still be asked.
    """

    answer: Answer
    left: int = field(default=MOST)

    def ask(self, text: str, choices: Sequence[Choice]) -> Any:
        """Return the value of an answer."""
        if len(choices) < 2 or not self.left:
            return choices[0].value
        self.left -= 1
        return self.answer(Question(text, tuple(choices)))


def default(question: Question) -> Any:
    """Answer as if there was nobody to ask."""
    return question.choices[0].value
