"""Text as a format or a terminal can hold it: one place for every writer."""

from __future__ import annotations

import json
import re
from typing import Any, TypeAlias

#: A JSON object.
Plain: TypeAlias = dict[str, Any]
_SURROGATES = (0xD800, 0xE000)
#: Signs that steer a terminal or a line's direction -> signs that show them: control pictures where there are such.
_VISIBLE = {
    **{code: 0x2400 + code for code in range(0x20) if chr(code) != "\n"},
    0x7F: 0x2421,
    **dict.fromkeys((*range(0x80, 0xA0), *range(0x202A, 0x202F), *range(0x2066, 0x206A)), 0xFFFD),
    **dict.fromkeys((0x2028, 0x2029, *range(*_SURROGATES)), 0xFFFD),
}
#: What XML 1.0 cannot hold, and the controls that HTML forbids.
_NO_MARKUP = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef\ufffe\uffff]")
#: What JSON may hold and a terminal obeys, and what UTF-8 cannot hold.
_ESCAPED = re.compile("[\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff]")


def visible(text: str) -> str:
    """Return a text whose controls are signs to be seen, one for one; line ends stay, and so do joiners."""
    return text if text.isprintable() else text.translate(_VISIBLE)


def markup(text: str) -> str:
    """Return a text that XML and HTML can hold: what they cannot becomes the replacement sign, one for one."""
    return text if text.isascii() and text.isprintable() else _NO_MARKUP.sub("\ufffd", text)


def escaped(text: str) -> str:
    """Return a text in which nothing is markup, for a page or a vector picture."""
    from html import escape  # loaded for these only

    return escape(markup(text))


def json_text(value: Any, *, exact: bool = True) -> str:
    """Return a value as JSON (RFC 8259) in lines, escaped so that no terminal obeys it.

    Parameters
    ----------
    value
        Mappings, lists, texts, numbers.
    exact
        Whether a number that JSON has none for is an error, a `ValueError`.
    """
    text = json.dumps(value, ensure_ascii=False, indent=2, allow_nan=not exact)
    return _ESCAPED.sub(lambda sign: f"\\u{ord(sign[0]):04x}", text) + "\n"
