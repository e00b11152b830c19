"""What commands share in writing: files whole, remarks on standard error, the terminal's ways."""

from __future__ import annotations

import os
import shutil
import sys
import warnings
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import TypedDict

import click

from vantric.core.reviewing import Finding
from vantric.errors import TargetError
from vantric.writing import check_target, write_whole


class Terminal(TypedDict):
    """What standard output can show."""

    width: int
    plain: bool
    colour: bool


def terminal() -> Terminal:
    """Return the width, signs and colours that standard output can show; 80 plain columns in a pipe."""
    tty = sys.stdout.isatty()
    forced = bool(os.environ.get("FORCE_COLOR"))
    colour = (tty or forced) and not os.environ.get("NO_COLOR") and os.environ.get("TERM") != "dumb"
    encoding = (sys.stdout.encoding or "utf-8").casefold().replace("-", "")
    return {"width": shutil.get_terminal_size((80, 24)).columns, "plain": "utf" not in encoding, "colour": colour}


def check_targets(targets: Sequence[Path], source: str) -> None:
    """Raise `TargetError` for the first target that cannot or must not be written, before any work is done."""
    for place, target in enumerate(targets):
        check_target(target)
        if target.exists() and Path(source).exists() and target.samefile(source):
            raise TargetError(f"'{target}' is the source itself; write to another file")
        if target in targets[:place]:
            raise TargetError(f"'{target}' is named twice; name each file once")


def write_all(contents: Iterable[tuple[Path, bytes]]) -> None:
    """Write files, each whole, and say so on standard error; nothing is written until all contents are made."""
    for path, content in list(contents):
        write_whole(path, content)
        click.echo(f"wrote {path}", err=True)


def tell_warnings(findings: Iterable[Finding]) -> None:
    """Say warnings and errors of the review on standard error."""
    for finding in findings:
        if finding.severity != "note":
            click.echo(f"vantric: {finding.severity}: {finding.message}; {finding.mend}", err=True)


def with_warnings_told(make: Callable[[], bytes]) -> bytes:
    """Run a drawing; what it warns of goes to standard error, one line each."""
    with warnings.catch_warnings(record=True) as caught:
        warnings.simplefilter("always", UserWarning)
        made = make()
    for message in dict.fromkeys(str(warning.message) for warning in caught if warning.category is UserWarning):
        click.echo(f"vantric: warning: {message}", err=True)
    return made
