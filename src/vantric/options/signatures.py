"""How a function that takes ``**options`` shows them: in its signature, its annotations and its docstring."""

from __future__ import annotations

import inspect
import re
import textwrap
from collections.abc import Callable
from typing import Any, TypeVar

from vantric.base.lazily import compiled
from vantric.options.declaration import Option
from vantric.options.option_classes import Options, known_options, parameter_of
from vantric.options.option_types import spelled

F = TypeVar("F", bound=Callable[..., Any])
#: Sections of a docstring, before which the parameters go.
_SECTIONS = compiled(r"\n *(?:Attributes|Returns|Raises|Yields|Notes|Examples|See Also)\n *-{3,}\n")


def shows(*kinds: type, leave_out: tuple[str, ...] = ()) -> Callable[[F], F]:
    """Have a function or class that takes ``**options`` show them by name, so that help and completion do.

    Parameters
    ----------
    *kinds
        The classes whose options it takes.
    leave_out
        Options of these that it does not take.
    """

    def decorate(function: F) -> F:
        target: Any = function.__init__ if inspect.isclass(function) else function
        plain = inspect.signature(target)
        own = [parameter for parameter in plain.parameters.values() if parameter.kind is not parameter.VAR_KEYWORD]
        named = {parameter.name for parameter in own} | set(leave_out)
        more = [
            known_option
            for name, known_option in known_options(*kinds).items()
            if name not in named and known_option.in_place("python")
        ]
        target.__options__ = more
        target.__signature__ = plain.replace(parameters=[*own, *map(parameter_of, more)])
        if function.__doc__:
            function.__doc__ = _with_options(function.__doc__, more)
        return function

    return decorate


def document(kind: type[Options]) -> None:
    """Give the docstring of a public class of options its parameters."""
    doc = kind.__doc__ or ""
    if "Parameters\n" not in doc:
        kind.__doc__ = _with_options(f"{doc.rstrip()}\n    ", list(known_options(kind).values()))


def _with_options(doc: str, options: list[Option]) -> str:
    """Return a docstring with the options behind its own parameters, in place of ``**options``."""
    doc = re.sub(r"\n *\*\*options\b[^\n]*\n(?: {8,}[^\n]*\n)*", "\n", doc)
    indent = re.search(r"\n( *)Parameters\n", doc)
    lead = indent[1] if indent else "    "
    lines = []
    for option in options:
        lines.append(f"{lead}{option.name} : {spelled(option.kind)}, default {_shown(option.default)}")
        lines += textwrap.wrap(
            option.help, 116, initial_indent=f"{lead}    ", subsequent_indent=f"{lead}    ", break_on_hyphens=False
        )
    entry = "\n".join(lines)
    match = _SECTIONS.search(doc)
    index = match.start() if match else len(doc.rstrip())
    head = "" if indent else f"\n\n{lead}Parameters\n{lead}----------"
    return f"{doc[:index].rstrip()}{head}\n{entry}\n{doc[index:]}"


def _shown(default: Any) -> str:
    return repr(default)
