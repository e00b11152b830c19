"""Sources named without their secrets: one function for every message, page, table and picture."""

from __future__ import annotations

import os
import re

_STARS = "***"
_URL = re.compile(r"[a-z][a-z0-9+]+://", re.IGNORECASE)  # one letter is a drive
_DRIVE = re.compile(r"[a-z]:[\\/]", re.IGNORECASE)
_SECRET = re.compile(r"pass|pwd|token|secret|key|credential|auth", re.IGNORECASE)
#: A text that holds a secret among other things: ``host=h password=p``, ``Server=s;PWD=p``, ``user:p@host``.
_WITHIN = re.compile(r"(pass\w*|pwd|secret|token)\s*=|:[^@]*@", re.IGNORECASE)
_USER = re.compile(r"^((?>(?:[a-z][a-z0-9+.-]*:?/{1,2})?)[^:/@]*):[^@]*@(?:[^/?]*@)?", re.IGNORECASE)
_PAIR = re.compile(r"((?:pass\w*|pwd|secret|token)\s*=\s*)('[^']*'?|\"[^\"]*\"?|\{[^}]*\}?|[^\s;&]+)", re.IGNORECASE)


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

        kept = [(name, value) for name, value in parse_qsl(query, keep_blank_values=True)]
        hidden = [(name, stars if is_secret(name, value) else value) for name, value in kept]
        if hidden != kept:
            shown = [(name, value) for name, value in hidden if stars or (name, value) in kept]
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
