"""Text as a format or a terminal can hold it, and sources named without their secrets: one place for every writer."""

from __future__ import annotations

import os
import re
from typing import Any, TypeAlias

from vantric.base.lazily import compiled

#: What stands in place of a secret, whatever its length.
_STARS = "***"
_URL = compiled(r"[a-z][a-z0-9+]+://", re.IGNORECASE)  # one letter is a drive
#: A drive of Windows is no scheme of a URL.
_DRIVE = compiled(r"[a-z]:[\\/]", re.IGNORECASE)
#: Names of parameters whose value is hidden.
_SECRET = compiled(r"pass|pwd|token|secret|key|credential|auth", re.IGNORECASE)
#: A text that holds a secret among other things: ``host=h password=p``, ``Server=s;PWD=p``, ``user:p@host``.
_WITHIN = compiled(r"(pass\w*|pwd|secret|token)\s*=|:[^@]*@", re.IGNORECASE)
#: User and password before the host; the password may hold any sign but a slash.
_USER = compiled(r"^((?>(?:[a-z][a-z0-9+.-]*:?/{1,2})?)[^:/@]*):[^@]*@(?:[^/?]*@)?", re.IGNORECASE)
#: Secrets in a connection string: ``Pwd=...;``, quoted or in braces.
_PAIR = compiled(r"((?:pass\w*|pwd|secret|token)\s*=\s*)('[^']*'?|\"[^\"]*\"?|\{[^}]*\}?|[^\s;&]+)", re.IGNORECASE)


#: How URLs of clusters begin, and the port if none is given.
CLUSTERS = {"spark": 7077, "sc": 15002}


def is_cluster(source: str) -> bool:
    """Whether a source is the URL of a cluster."""
    return is_url(source) and source.partition("://")[0].casefold() in CLUSTERS


def is_url(source: str) -> bool:
    """Whether a source is a URL."""
    return bool(_URL.match(source))


def masked(source: object) -> str:
    """Return what a source is called where others may read it: with stars in place of passwords.

    A mistyped URL, ``user:password@host`` and a connection string are masked too.
    """
    return _without(str(source), _STARS)


def without_secrets(url: str) -> str:
    """Return the URL of a database without what is secret in it, so that it can be in a file."""
    return _without(url, "")


def _without(text: str, stars: str) -> str:
    head = f"\\1:{stars}@" if stars else r"\1@"
    drive = os.name == "nt" and _DRIVE.match(text)  # C:\\plant\\log@home.csv has no password
    plain = text if drive else _USER.sub(head, text, count=1)
    place, sign, query = plain.partition("?")
    if sign and "://" in place:
        from urllib.parse import parse_qsl, quote, urlencode  # slow to load, and needed by few sources

        pairs = [(name, value) for name, value in parse_qsl(query, keep_blank_values=True)]
        hidden = [(name, stars if is_secret(name, value) else value) for name, value in pairs]
        if hidden != pairs:
            shown = [(name, value) for name, value in hidden if stars or (name, value) in pairs]
            query = urlencode(shown, quote_via=quote, safe="*/:")
        plain = f"{place}{sign if query else ''}{query}"
    return _PAIR.sub(rf"\g<1>{_STARS}", plain)


def is_secret(name: str, value: str) -> bool:
    """Whether an option is a secret, or holds one however often it is encoded."""
    from urllib.parse import unquote

    for _ in range(3):
        if _SECRET.search(name) or _WITHIN.search(value):
            return True
        value = unquote(value)
    return False


#: A JSON object.
Plain: TypeAlias = dict[str, Any]
#: Halves of signs: UTF-8 cannot hold them.
_SURROGATES = (0xD800, 0xE000)
#: Signs that steer a terminal or a line's direction -> signs that show them: control pictures where there are such.
_VISIBLE = {
    **{code: 0x2400 + code for code in range(0x20) if chr(code) != "\n"},
    0x7F: 0x2421,
    **dict.fromkeys((*range(0x80, 0xA0), *range(0x202A, 0x202F), *range(0x2066, 0x206A)), 0xFFFD),
    **dict.fromkeys((0x2028, 0x2029, *range(*_SURROGATES)), 0xFFFD),
}
#: What XML 1.0 cannot hold, and the controls that HTML forbids.
_NO_MARKUP = compiled("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef\ufffe\uffff]")
#: What JSON may hold and a terminal obeys, and what UTF-8 cannot hold.
_ESCAPED = compiled("[\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff]")


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
    import json

    text = json.dumps(value, ensure_ascii=False, indent=2, allow_nan=not exact)
    return _ESCAPED.sub(lambda sign: f"\\u{ord(sign[0]):04x}", text) + "\n"
