"""Markdown that somebody wrote: nothing in it is live, and its links lead to web and mail addresses only."""

from __future__ import annotations

import re
from functools import cache
from typing import TYPE_CHECKING, Any, ClassVar

from vantric.base.safe_text import markup, visible

if TYPE_CHECKING:
    from markdown_it import MarkdownIt
    from markdown_it.token import Token
    from mdformat.renderer import RenderContext, RenderTreeNode

#: Where a link may lead: a path without a scheme would be a file, or a share of the network.
_ADDRESS = re.compile(r"(?:https?://[^/?#]|mailto:[^/])", re.IGNORECASE)
#: What begins a tag, ends one, or stands for a sign by name or number, to readers of every dialect.
_LIVE = re.compile(r"[<>]|&(?=#?\w+;)")
_NAMES = {"<": "&lt;", ">": "&gt;", "&": "&amp;"}
#: Stands for a sign of markup while Markdown is written; no text holds it, for it is no character.
_HELD = {"<": "\ufdd0", ">": "\ufdd1", "&": "\ufdd2"}
_MARKS = re.compile(r"([\\`*_{}\[\]|#~$])")
#: What makes a line a list, a rule or a heading.
_LEADING = re.compile(r"^\s*(?:([-+=])|(\d+)([.)]))")


def plain_markdown(text: str) -> str:
    """Return a text in which nothing is Markdown, in one line; for a cell of a table or within a line."""
    line = visible(text).replace("\n", " ")
    return _LIVE.sub(lambda sign: _NAMES[sign[0]], _MARKS.sub(r"\\\1", line))


def plain_paragraph(text: str) -> str:
    """Return a text in which nothing is Markdown, as a paragraph of its own."""
    return _LEADING.sub(
        lambda sign: f"\\{sign[1]}" if sign[1] else f"{sign[2]}\\{sign[3]}", plain_markdown(text).strip()
    )


def prose_html(text: str) -> str:
    """Return Markdown (CommonMark, with tables) as HTML; images are not shown, since a page loads nothing."""
    return f'<div class="prose">{_parser().render(markup(text))}</div>' if text.strip() else ""


def prose_markdown(text: str) -> str:
    """Return Markdown as Markdown that says the same to every reader of it, in which tags are signs."""
    from mdformat.renderer import MDRenderer

    parser = _parser()
    text = visible(markup(text))
    tokens = parser.parse(text)
    for link in (item for token in tokens for item in token.children or () if "title" in item.attrs):
        link.attrSet("title", _held(str(link.attrs["title"])))
    options = {**parser.options, "mdformat": {"number": True}, "parser_extension": [_Writing]}
    written = MDRenderer().render(tokens, options, {"used_refs": set()})
    for sign, held in _HELD.items():
        written = written.replace(held, _NAMES[sign])
    return written if _is_clean(written) else "\n\n".join(map(plain_paragraph, text.split("\n\n"))) + "\n"


def _is_address(url: str) -> bool:
    return _ADDRESS.match(url) is not None


@cache
def _parser() -> MarkdownIt:
    parser = _bare_parser().disable(["image", "html_block", "html_inline"])
    parser.options["html"] = False
    return parser


def _bare_parser() -> MarkdownIt:
    from markdown_it import MarkdownIt

    parser = MarkdownIt("commonmark").enable("table")
    parser.validateLink = _is_address  # type: ignore[method-assign]
    return parser


def _is_clean(text: str) -> bool:
    """Whether a reader that knows HTML, images and every link finds none but links to addresses."""
    from markdown_it import MarkdownIt

    parser = MarkdownIt("commonmark").enable("table")
    parser.validateLink = lambda url: True  # type: ignore[method-assign]
    return all(map(_is_harmless, parser.parse(text)))


def _is_harmless(token: Token) -> bool:
    if token.type in ("html_block", "html_inline", "image"):
        return False
    link = token.attrGet("href")
    return (link is None or _is_address(str(link))) and all(map(_is_harmless, token.children or ()))


def _held(text: str) -> str:
    return _LIVE.sub(lambda sign: _HELD[sign[0]], text)


def _text(node: RenderTreeNode, context: RenderContext) -> str:
    from mdformat.renderer import DEFAULT_RENDERERS

    node.token.content = _held(node.content)  # type: ignore[union-attr]
    return DEFAULT_RENDERERS["text"](node, context)


def _table(node: RenderTreeNode, context: RenderContext) -> str:
    rows = [row for part in node.children for row in part.children]
    cells = [[cell.render(context).replace("|", "\\|") for cell in row.children] for row in rows]
    lines = [f"| {' | '.join(row)} |" for row in cells]
    sides = [str(cell.attrs.get("style", "")).rpartition(":")[2] for cell in rows[0].children]
    rule = {"left": ":---", "right": "---:", "center": ":---:", "": "---"}
    return "\n".join([lines[0], f"| {' | '.join(rule[side] for side in sides)} |", *lines[1:]])


def _inner(node: RenderTreeNode, context: RenderContext) -> str:
    return "".join(child.render(context) for child in node.children)


class _Writing:
    """What the writer of Markdown is told beside what it knows."""

    RENDERERS: ClassVar = {"text": _text, "table": _table, "th": _inner, "td": _inner}
    POSTPROCESSORS: ClassVar[dict[str, Any]] = {}
    CHANGES_AST = False
