"""Text that users write in Markdown, as HTML: markup in it is shown as it is typed."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING

from vantric.cleaning import markup

if TYPE_CHECKING:
    from markdown_it import MarkdownIt


def prose(text: str) -> str:
    """Return Markdown (CommonMark, with tables) as HTML; images are not shown, since a page loads nothing."""
    return f'<div class="prose">{_parser().render(markup(text))}</div>' if text.strip() else ""


@cache
def _parser() -> MarkdownIt:
    from markdown_it import MarkdownIt

    return MarkdownIt("commonmark", {"html": False}).enable("table").disable(["image", "html_block", "html_inline"])
