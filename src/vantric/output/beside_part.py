"""What is written for one target: the file, and a picture beside it where its format holds none."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from vantric.base.safe_files import PICTURES, check_target, ending_of
from vantric.engines.source_paths import check_no_input
from vantric.errors import TargetError
from vantric.output.markup import picture_line, section_markdown
from vantric.output.writers import Content, written

if TYPE_CHECKING:
    from vantric.output.sections import View

Contents = list[tuple[Path, bytes]]
_OURS = b'aria-labelledby="chart-title chart-description"'


def contents_of(
    target: Path, kind: str, content: Content, *, pictures: Sequence[Path] = (), sources: Sequence[str] = ()
) -> Contents:
    """Return the files of a result.

    Parameters
    ----------
    target, kind
        The file that was asked for, and its ending.
    content
        What it is written from.
    pictures
        Pictures of the same chart that are written too: a ``.md`` shows one of them.
    sources
        Files that nothing may replace.

    Raises
    ------
    TargetError
        If a picture would have to replace a file that is not one.
    """
    if kind != "md":
        return [(target, written(content, kind))]
    section = content.sections()[0]
    views, beside = section.views(), beside_of(target, pictures)
    shown = picture_line(section, views[0].chart, beside, target) if views else ""
    text = section_markdown(section, shown) if content.tables is None else shown + written(content, kind).decode()
    found = [(target, text.encode("utf-8", "backslashreplace"))]
    if not views or beside in pictures:
        return found
    return [*found, (beside, picture_of(views[0], beside, sources))]


def beside_of(target: Path, pictures: Sequence[Path], number: int = 0) -> Path:
    """Return the picture that a text shows: one that is written anyway, or one beside it of the same name."""
    own = [one for one in pictures if ending_of(one) in PICTURES[:2]]
    if own:
        return own[0]
    return target.with_name(f"{target.stem}{f'-{number}' if number else ''}.svg")


def picture_of(view: View, path: Path, sources: Sequence[str] = ()) -> bytes:
    """Return the picture of a view, to be written at a path that nobody named: a file of another kind stays."""
    from vantric.rendering.pictures import picture

    check_target(path)
    check_no_input(path, list(sources))
    if path.exists() and (not path.is_file() or _OURS not in path.read_bytes()[:4096]):
        raise TargetError(
            f"'{path}' is there and is no picture of a chart: the picture of the text would replace it; move it, or "
            "name a picture of its own"
        )
    return picture(view.chart, "svg")
