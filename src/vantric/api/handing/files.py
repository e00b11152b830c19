"""What is written for one target: the file, and a picture beside it where its format holds none."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from vantric.errors import TargetError
from vantric.reports.documents import Document
from vantric.reports.markdown import picture_line
from vantric.reports.sections import Section
from vantric.reports.written import handed, written
from vantric.sources.naming import check_no_input
from vantric.writing import PICTURES, check_target, ending_of

if TYPE_CHECKING:
    from vantric.reports.sections import View

Contents = list[tuple[Path, bytes]]
_OURS = b'aria-labelledby="chart-title chart-description"'


def contents_of(
    target: Path, kind: str, document: Document, *, pictures: Sequence[Path] = (), sources: Sequence[str] = ()
) -> Contents:  # fmt: skip
    """Return the files of a document.

    Parameters
    ----------
    target, kind
        The file that was asked for, and its ending.
    document
        What it holds; with its section where it has a chart.
    pictures
        Pictures of the same chart that are written too: a ``.md`` shows one of them.
    sources
        Files that nothing may replace.

    Raises
    ------
    TargetError
        If a picture would have to replace a file that is not one.
    """
    if kind != "md" or document.section is None:
        return [(target, written(document, kind))]
    section = document.section()
    views = section.views()
    text = written(document, kind).decode()
    if not views:
        return [(target, text.encode())]
    beside = beside_of(target, pictures)
    shown = picture_line(section, views[0].chart, beside, target) + text
    found = [(target, shown.encode("utf-8", "backslashreplace"))]
    return found if beside in pictures else [*found, (beside, picture_of(views[0], beside, sources))]


def contents_of_section(
    target: Path, kind: str, section: Section, sources: Sequence[str], *, slide_tables: bool = False,
    pictures: Sequence[Path] = (),
) -> Contents:  # fmt: skip
    """Return the files of a chart that hands over its table."""
    if kind != "md":
        return [(target, handed(section, kind, slide_tables=slide_tables))]
    from vantric.reports.markdown import section_markdown

    views = section.views()
    beside = beside_of(target, pictures)
    text = section_markdown(section, picture_line(section, views[0].chart, beside, target) if views else "")
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
    from vantric.drawing.save import picture

    check_target(path)
    check_no_input(path, list(sources))
    if path.exists() and (not path.is_file() or _OURS not in path.read_bytes()[:4096]):
        raise TargetError(
            f"'{path}' is there and is no picture of a chart: the picture of the text would replace it; move it, or "
            "name a picture of its own"
        )
    return picture(view.chart, "svg")
