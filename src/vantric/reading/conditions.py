"""Conditions that all must hold: each is checked by itself, so that none can close the bracket of another."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from vantric.errors import SourceError


class JoinedConditions(str):
    """Conditions joined by AND, and each by itself.

    Attributes
    ----------
    parts
        (where it is said, text) of each.
    """

    parts: tuple[tuple[str, str], ...]

    def __new__(cls, parts: Sequence[tuple[str, str]]) -> JoinedConditions:
        """Join (where it is said, text) of each; a comment at the end of one ends with its line."""
        bracketed = [f"({text}\n)" if "--" in text else f"({text})" for _, text in parts]
        joined = super().__new__(cls, parts[0][1] if len(parts) == 1 else " AND ".join(bracketed))
        joined.parts = tuple(parts)
        return joined

    def __reduce__(self) -> tuple[type[JoinedConditions], tuple[tuple[tuple[str, str], ...]]]:
        return JoinedConditions, (self.parts,)


def join_conditions(*parts: tuple[str, object]) -> str | None:
    """Return conditions as one that holds where all do; None if there is none.

    Parameters
    ----------
    parts
        (where it is said, text) of each; a text may itself be joined of several.
    """
    single = [
        part
        for place, text in parts
        if text is not None
        for part in (text.parts if isinstance(text, JoinedConditions) else ((place, str(text)),))
    ]
    return JoinedConditions(single) if single else None


def check_each(where: str, check: Callable[[str], object]) -> None:
    """Check each of the conditions that are joined; an error says where the condition is.

    Parameters
    ----------
    where
        One condition, or several.
    check
        Raises `SourceError` for what is no condition.
    """
    if not isinstance(where, JoinedConditions):
        check(where)
        return
    for place, text in where.parts:
        try:
            check(text)
        except SourceError as error:
            raise SourceError(f"{place}: {error}", value=error.value, known=error.known, hint=error.hint) from None
