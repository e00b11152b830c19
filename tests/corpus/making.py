"""How inputs of the corpus are made and reviewed: by the public calls and the command line."""

import json
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, NamedTuple

import vantric as vt
from tests.cli.test_cli import Result
from vantric.core.review import Finding

#: Reviews an input in a folder of its own.
Review = Callable[[Path], list[Finding]]
Rows = Sequence[tuple[str, float]]

DEFECTS: Rows = (("Pinhole", 88), ("Warping", 61), ("Edge chip", 44), ("Scratch", 38))
LONG: Rows = (*DEFECTS, ("Glaze crawl", 21), ("Press crack", 12), ("Stain", 7), ("Drying crack", 5))


class Good(NamedTuple):
    """An input without an error or a warning."""

    name: str
    review: Review


class Flawed(NamedTuple):
    """An input with a flaw: the code of the finding, and words of its reason."""

    name: str
    code: str
    words: str
    review: Review


def of(make: Callable[[], Any]) -> Review:
    """Return the review of a result."""
    return lambda folder: list(vt.review(make()))


def file(content: str | bytes, *options: str, name: str = "sheet.csv") -> Review:
    """Return the review of a file by the command line."""

    def review(folder: Path) -> list[Finding]:
        path = folder / name
        path.write_bytes(content if isinstance(content, bytes) else content.encode())
        return by_command(path, *options)

    return review


def by_command(path: Path, *options: str) -> list[Finding]:
    """Return what the command says of a file."""
    result = Result("review", path, *options, "--format", "json")
    if result.status:
        raise AssertionError(result.err)
    fields = ("code", "severity", "message", "fix", "where")
    return [Finding(*(one[name] for name in fields)) for one in json.loads(result.out)["findings"]]


def sheet(
    rows: Rows = DEFECTS,
    *,
    total: str = "",
    base: float = 0,
    decimals: int = 1,
    percent: str = "{}",
    shares: bool = False,
    head: str = "defect,count,percent,cumulative",
    running: bool = True,
) -> str:
    """Return a right Pareto sheet as CSV."""
    whole = sum(count for _, count in rows)
    of_all = base or whole
    times = 1 if shares else 100

    def cell(value: float) -> str:
        return percent.format(f"{times * value:.{decimals + (2 if shares else 0)}f}")

    lines, so_far = [head], 0.0
    for label, count in rows:
        so_far += count
        lines.append(f"{label},{count},{cell(count / of_all)}" + (f",{cell(so_far / of_all)}" if running else ""))
    if total:
        lines.append(f"{total},{whole},{cell(whole / of_all)}" + ("," if running else ""))
    return "\n".join(lines) + "\n"


def german(text: str) -> str:
    """Return CSV with semicolons and decimal commas."""
    return text.replace(",", ";").replace(".", ",")


def log(records: Sequence[Sequence[Any]], head: str) -> str:
    """Return records as CSV."""
    return head + "\n" + "".join(",".join(map(str, record)) + "\n" for record in records)


def dealt(
    number: int, labels: Sequence[str] = ("Pinhole", "Warping", "Edge chip", "Scratch"), seed: int = 1
) -> list[str]:
    """Return labels as they might come, the first ones more often."""
    from random import Random

    weights = [2.0**-at for at in range(len(labels))]
    return Random(seed).choices(labels, weights, k=number)
