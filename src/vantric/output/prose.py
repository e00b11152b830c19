"""Markdown that somebody wrote: nothing in it is live, and its links lead to web and mail addresses only."""

from __future__ import annotations

import re
from functools import cache
from typing import TYPE_CHECKING

from vantric.base.lazily import compiled
from vantric.base.safe_text import markup, visible

if TYPE_CHECKING:
    from markdown_it import MarkdownIt
    from markdown_it.token import Token

#: Where a link may lead: a path without a scheme would be a file, or a share of the network.
_ADDRESS = compiled(r"(?:https?://[^/?#]|mailto:[^/])", re.IGNORECASE)
#: What begins a tag, ends one, or stands for a sign by name or number, to readers of every dialect.
_LIVE = compiled(r"[<>]|&(?=#?\w+;)")
_NAMES = {"<": "&lt;", ">": "&gt;", "&": "&amp;"}
#: What would follow the text: what is not closed, such as code, would take it in.
_NEXT = "\ufdd0"
_MARKS = compiled(r"([\\`*_{}\[\]|#~$])")
#: Code, which holds no tags; where a link leads to; the definition of one.
_CODE = compiled(r"((?:^|\n)(?:```|~~~)[^\n]*\n.*?\n(?:```|~~~)|(?<!`)`[^`\n]+`(?!`))", re.DOTALL)
_LINK = compiled(r"\]\(([^()\n]*)")
_DEFINITION = compiled(r"(?<=^)\[(?=[^\]\n]+\]:)", re.MULTILINE)
#: Blank lines before a text, and spaces after it; those that begin a line of code are part of it.
_OUTER = compiled(r"\A(?:[^\S\n]*\n)+|\s+\Z")
#: What makes a line a list, a rule or a heading.
_LEADING = compiled(r"^\s*(?:([-+=])|(\d+)([.)]))")


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
    if not text.strip():
        return ""
    # A link to nothing leads to the page itself: it is shown as its text.
    html = _parser().render(markup(text)).replace('<a href=""', "<a")
    return f'<div class="prose">{html}</div>'


def prose_markdown(text: str) -> str:
    """Return Markdown that is live to no reader: as it is written, else with tags as signs, else all as text."""
    text = _OUTER.sub("", visible(markup(text)))
    for written in (text, _with_signs(text)):
        if _is_clean(written):
            return f"{written}\n"
    return "\n\n".join(map(plain_paragraph, text.split("\n\n"))) + "\n"


def _with_signs(text: str) -> str:
    """Return Markdown in which tags, images and links to no address are signs, outside of code."""
    parts = _CODE.split(text)
    for place in range(0, len(parts), 2):
        plain = _LIVE.sub(lambda sign: _NAMES[sign[0]], parts[place])
        plain = re.sub(r"^((?:&gt; ?|\s)+)", lambda quoted: quoted[1].replace("&gt;", ">"), plain, flags=re.MULTILINE)
        plain = _DEFINITION.sub(r"\\[", plain.replace("![", r"\!\["))
        parts[place] = _LINK.sub(lambda link: link[0] if _is_address(link[1].strip()) else rf"]\({link[1]}", plain)
    return "".join(parts)


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
    """Whether a reader that knows HTML, images and every link finds none but links to addresses, and an end."""
    from markdown_it import MarkdownIt

    parser = MarkdownIt("commonmark").enable("table")
    parser.validateLink = lambda url: True  # type: ignore[method-assign]
    tokens = parser.parse(f"{text}\n\n{_NEXT}")
    last = tokens[-2] if len(tokens) > 2 else tokens[0]
    return last.content == _NEXT and last.level == 1 and all(map(_is_harmless, tokens))


def _is_harmless(token: Token) -> bool:
    if token.type in ("html_block", "html_inline", "image"):
        return False
    link = token.attrGet("href")
    return (link is None or _is_address(str(link))) and all(map(_is_harmless, token.children or ()))
