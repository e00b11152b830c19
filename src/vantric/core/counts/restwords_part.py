"""Labels without a name of their own: words for a rest, and codes for what is missing."""

from __future__ import annotations

import re

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


_WORDS = frozenset(
    """
other|others|rest|the rest|misc|miscellaneous|various|sundry|remainder|remaining|everything else|all other|all others
all the rest|all else|other causes|other defects|other reasons|other categories|balance|etc|and others|sonstige
sonstiges|sonstige fehler|andere|anderes|übrige|übriges|rest der fehler|restliche|diverse|diverses|verschiedenes
weitere|autre|autres|divers|le reste|tous les autres|otro|otros|otra|otras|los demás|el resto|varios|resto|altro|altri
altre|varie|vari|outros|outras|outro|diversos|demais|overig|overige|anders|andere oorzaken|övrigt|övriga|annat
andra|annet|øvrig|øvrige|andet|muut|muu|inne|pozostałe|pozostali|ostatní|jiné|ostatné|iné|egyéb|altele|ostalo
drugo|λοιπά|άλλα|diğer|diğerleri|прочее|прочие|другое|другие|остальное|остальные|інше|інші|друго|други|其他|其它|その他
기타|أخرى|אחר|อื่นๆ|khác|lainnya
""".strip()
    .replace("\n", "|")
    .split("|")
)
_FORMS = re.compile(
    r"(?:all |the )?(?:other|others|remaining|misc|miscellaneous|rest of) .*|\d+ (?:others?|more|smaller)(?: .*)?"
    r"|(?:rest|others?|sonstige[sr]?|autres?) ?[(\[].*|.* (?:and|&) others?"
    r"|(?:sonstige|übrige|andere|autres|otros|otras|altri|altre) .*"
)
_ENDS = " \t\u00a0:.…*-–—_()[]"


def is_rest(label: str) -> bool:
    """Whether a whole label says that its category is a rest: ``Other``, ``All other (7)``, ``Sonstige``."""
    text = " ".join(label.casefold().split()).strip(_ENDS)
    return text in _WORDS or bool(_FORMS.fullmatch(text))
