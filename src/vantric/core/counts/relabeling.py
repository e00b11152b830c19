"""Giving several labels one name; labels that have none: words for a rest, codes for what is missing."""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping

from vantric.base.lazily import compiled, dataclass
from vantric.core.counts.provenance import Note
from vantric.core.messages.message import Joined, Remark
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.label_order import natural_key
from vantric.core.numbers.number_format import distinct_lines, listed, one_line, quoted
from vantric.errors import SourceError, unknown

#: What people write where nothing is known, in many languages.
_WRITTEN = """
n/a|na|n.a.|n.a|n.d.|nd|#n/a|#na|nan|null|none|nil|missing|unknown|tbd|tba|tbc|?|??|-|--|–|—|−|.|..|*|k.a.|k. a.|k.a
keine angabe|unbekannt|n.v.|nvt|n.v.t.|onbekend|inconnu|non disponible|sconosciuto|desconocido|sin datos|s/d|н/д
нет данных|unspecified|not available|not applicable|not recorded|not known|no data|no answer|<na>|(blank)|(none)
ohne angabe|o.a.|o. a.|nicht angegeben|nicht bekannt|fehlt|leer|n.b.|n.c.|nc|non renseigné|non précisé|pas de données
s.o.|vide|n.r.|no consta|no disponible|sin información|no especificado|s.d.|vacío|non noto|non disponibile|n.p.|vuoto
geen gegevens|niet bekend|leeg|okänd|saknas|ukendt|ukjent|mangler|tuntematon|ei tietoa|puuttuu|brak|brak danych|nieznany
neznámé|neuvedeno|není známo|bez údajů|nincs adat|ismeretlen|necunoscut|fără date|nepoznato|άγνωστο|bilinmiyor
неизвестно|не указано|невідомо|немає даних|неизвестен|不明|未知|不详|不詳|无|無|無し|なし|未記入|無回答|미상|없음
غير معروف|לא ידוע|desconhecido|não informado|sem dados|n/i|teadmata|nav datu|nėra duomenų|nežinoma|không rõ|ไม่ทราบ
tidak diketahui|(missing)|(empty)
(null)|empty|blank|not specified|not stated|no entry|not given|#null!|#value!|#ref!|#div/0!|#name?
"""
MISSING_CODES = frozenset(code for line in _WRITTEN.strip().split("\n") for code in line.split("|"))


def is_missing_code(text: str) -> bool:
    """Whether a text looks like a code for what is missing."""
    return " ".join(text.split()).casefold() in MISSING_CODES


#: Names of a rest, in many languages.
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
#: Forms of a rest: "all other defects", "12 others", "others (12)".
_FORMS = compiled(
    r"(?:all |the )?(?:other|others|remaining|misc|miscellaneous|rest of) .*|\d+ (?:others?|more|smaller)(?: .*)?"
    r"|(?:rest|others?|sonstige[sr]?|autres?) ?[(\[].*|.* (?:and|&) others?"
    r"|(?:sonstige|übrige|andere|autres|otros|otras|altri|altre) .*"
)
#: Signs around a word that do not change what it says.
_ENDS = " \t\u00a0:.…*-–—_()[]"


def is_rest(label: str) -> bool:
    """Whether a whole label says that its category is a catch-all: ``Other``, ``All other (7)``, ``Sonstige``."""
    text = " ".join(label.casefold().split()).strip(_ENDS)
    return text in _WORDS or bool(_FORMS.fullmatch(text))


@dataclass(frozen=True)
class Relabeling:
    """New names for old ones, and what there is to say of them.

    Attributes
    ----------
    names
        Old label -> new label; a label that is not in it stays as it is.
    remarks
        Every merge, and every label without a family.
    """

    names: Mapping[str, str]
    remarks: tuple[Note, ...] = ()

    def __call__(self, label: str) -> str:
        """Return the new name of a label."""
        return self.names.get(label, label)


def relabeling(
    frequencies: Mapping[str, Number],
    *,
    merge_spellings: bool = False,
    families: Mapping[str, str] | None = None,
    rename: Mapping[str, str] | None = None,
) -> Relabeling:
    """Decide the names of labels.

    Parameters
    ----------
    frequencies
        Label -> how frequent it is.
    merge_spellings
        Whether labels that differ only in case, spaces or Unicode form become one: the commonest spelling wins, of
        equally common ones the first in natural order.
    families
        Label -> family; labels without one keep their names. With `merge_spellings`, how a label is spelled there does
        not matter either.
    rename
        Label -> what it is called in its place; each must be there.

    Raises
    ------
    SourceError
        If a label that is renamed is not there.
    """
    names = {label: label for label in frequencies}
    remarks: list[Note] = []
    if merge_spellings:
        merges = _merges(frequencies)
        names = {label: merges.get(same_spelling(label), label) for label in frequencies}
        remarks += _merge_remarks(names, frequencies)
    if rename:
        names = _renamed(names, rename, merge_spellings=merge_spellings)
        texts = [f"'{one_line(old)}' is '{one_line(new)}'" for old, new in rename.items()]
        remarks.append(Note("renamed", f"labels are renamed: {listed(texts)}"))
    if families is not None:
        family_of = dict(families)
        if merge_spellings:
            family_of = {same_spelling(label): family for label, family in families.items()} | family_of
        family_by_label = {label: _family(label, name, family_of) for label, name in names.items()}
        strays = sorted({names[label] for label, family in family_by_label.items() if family is None}, key=natural_key)
        names = {label: family if family is not None else names[label] for label, family in family_by_label.items()}
        if strays:
            remarks.append(Note("no-family", f"no family is given for {quoted(strays)}: they keep their names"))
    changed = {label: name for label, name in names.items() if name != label}
    return Relabeling(changed, tuple(remarks))


def _renamed(names: Mapping[str, str], rename: Mapping[str, str], *, merge_spellings: bool) -> dict[str, str]:
    """Return the names of labels with those that the user gives; a label is known by its own or its merged spelling."""
    there = {*names, *names.values()}
    spelled = {same_spelling(label) for label in there} if merge_spellings else there
    for old in rename:
        if (same_spelling(old) if merge_spellings else old) not in spelled:
            raise unknown(SourceError, f"there is no label '{one_line(old)}' to rename", old, sorted(there))
    new = {same_spelling(old) if merge_spellings else old: name for old, name in rename.items()}

    def name_of(label: str, name: str) -> str:
        keys = [same_spelling(text) for text in (label, name)] if merge_spellings else [label, name]
        return next((new[key] for key in keys if key in new), name)

    return {label: name_of(label, name) for label, name in names.items()}


#: Signs that nobody sees: soft hyphens, joiners, marks of direction, selectors of a form.
_UNSEEN_RANGES = (
    *((0xAD, 0xAD), (0x34F, 0x34F), (0x61C, 0x61C), (0x115F, 0x1160), (0x17B4, 0x17B5), (0x180B, 0x180F)),
    *((0x200B, 0x200F), (0x202A, 0x202E), (0x2060, 0x206F), (0x3164, 0x3164), (0xFE00, 0xFE0F), (0xFEFF, 0xFEFF)),
)
UNSEEN = dict.fromkeys(code for first, last in _UNSEEN_RANGES for code in range(first, last + 1))


def same_spelling(label: str) -> str:
    """Return what labels that differ only in case, spaces, Unicode form or signs that nobody sees have in common."""
    if label.isascii():
        return " ".join(label.casefold().split())
    return " ".join(unicodedata.normalize("NFKC", label.translate(UNSEEN)).casefold().split())


def _merges(frequencies: Mapping[str, Number]) -> dict[str, str]:
    """Return spelling -> the label that wins."""
    winners: dict[str, str] = {}
    for label in sorted(frequencies, key=lambda label: (-frequencies[label], natural_key(label))):
        winners.setdefault(same_spelling(label), label)
    return winners


def _merge_remarks(names: Mapping[str, str], frequencies: Mapping[str, Number]) -> list[Note]:
    values: dict[str, list[str]] = {}
    for label, name in names.items():
        if label != name:
            values.setdefault(name, []).append(label)
    remarks = []
    for name in sorted(values, key=natural_key):
        labels = sorted(values[name], key=natural_key)
        texts = distinct_lines([name, *labels])
        words = Joined(
            [Remark("'{}' ({})", line, frequencies[label]) for line, label in zip(texts[1:], labels, strict=True)],
            ", ",
        )
        remarks.append(
            Note(
                "merged-spellings",
                Remark("'{}' ({}) includes {}", texts[0], frequencies[name], words),
            )
        )
    return remarks


def _family(label: str, name: str, family_of: Mapping[str, str]) -> str | None:
    for spelling in (label, name, same_spelling(label)):
        if spelling in family_of:
            return family_of[spelling]
    return None
