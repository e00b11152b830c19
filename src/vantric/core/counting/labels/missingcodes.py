"""Codes that people write where nothing is known."""

from __future__ import annotations

_WRITTEN = """
n/a|na|n.a.|n.a|n.d.|nd|#n/a|#na|nan|null|none|nil|missing|unknown|tbd|tba|tbc|?|??|-|--|–|—|−|.|..|*|k.a.|k. a.|k.a
keine angabe|unbekannt|n.v.|nvt|n.v.t.|onbekend|inconnu|non disponible|sconosciuto|desconocido|sin datos|s/d|н/д
нет данных|unspecified|not available|not applicable|not recorded|not known|no data|no answer|<na>|(blank)|(none)
(missing)|(empty)|(null)|empty|blank|not specified|not stated|no entry|not given|#null!|#value!|#ref!|#div/0!|#name?
"""
MISSING_CODES = frozenset(code for line in _WRITTEN.strip().split("\n") for code in line.split("|"))


def is_missing_code(text: str) -> bool:
    """Whether a text looks like a code for what is missing."""
    return " ".join(text.split()).casefold() in MISSING_CODES
