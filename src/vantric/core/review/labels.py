"""Findings over what the labels of a tally say: totals among them, measurements, several in one, a rest or nothing."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from fractions import Fraction

from vantric.base.lazily import compiled
from vantric.core.counts.relabeling import is_missing_code, is_rest
from vantric.core.counts.tally import MISSING_LABEL, Tally
from vantric.core.messages.message import Remark, Written
from vantric.core.numbers.amounts import Number
from vantric.core.numbers.number_format import one_line, percent_text, quoted
from vantric.core.review.error_patterns import slip_between
from vantric.core.review.finding import Finding, error, note, warning
from vantric.core.totals.derived_rows import derived_groups
from vantric.core.totals.label_kinds import is_loose, is_mean, is_strong, may_be_total
from vantric.core.totals.row_sums import CountedRow, exact_cell

_NUMBER = compiled(r"[+-]?\d+(?:[.,]\d+)?")
#: Labels of several decimals are measurements.
_PRECISE = compiled(r"[+-]?\d+[.,]\d{2,}")
#: Signs between several labels in a cell; the first ones hardly stand in a label.
_BETWEEN = (";", "|", "\n", ",", " / ", "/", " + ", "+", " & ", " and ")
#: Signs that are in a label only to divide it.
_ONLY_BETWEEN = (";", "|", "\n")
#: Labels that say "nothing wrong", which a ranking of faults would lead with.
_NONE = ("none", "nil", "(none)")
_LARGE = 0.25  # of all that a category without a cause has
_LONGEST_TOTAL = 8  # letters
_MOST_TOTAL_ROWS = 2  # records of a log that may be its total
#: Fewer numbers may be codes; more labels are not compared, or not even looked at.
_FEWEST_NUMBERS, _MOST_LABELS, _MANY_LABELS = 10, 3000, 50_000


def total_labels(tally: Tally) -> list[Finding]:
    """Find categories that are totals: by what they are called and by what they add up."""
    if len(tally.categories) < 2:
        return []
    named = [label for label in _looked_at(tally) if _named_total(label) and _may_stand_for_all(tally, label)]
    if not named:
        return [] if len(tally.categories) > _MOST_LABELS else _by_arithmetic(tally, tally.as_dict())
    amounts: Mapping[str, Number] = tally.as_dict()
    others = sum((Fraction(value) for label, value in amounts.items() if label not in named), Fraction())
    findings = []
    for label in named:
        value = Fraction(amounts[label])
        adds = (
            others > 0 and len(tally.categories) > len(named) + 1 and abs(value - others) <= others * Fraction(1, 10**9)
        )
        if adds:
            findings.append(_total(tally, label, "and it is the total of all others", sure=True))
        elif is_strong(label) or (
            is_loose(label) and others and abs(value - others) <= others / 10 and len(amounts) > 3
        ):
            findings.append(_total(tally, label, _no_sum(value, others), sure=False))
    return findings


def _by_arithmetic(tally: Tally, amounts: Mapping[str, Number]) -> list[Finding]:
    """Find a category of any name that is the sum of all others."""
    rows = [CountedRow(label, (exact_cell(amount),)) for label, amount in amounts.items()]
    verdicts = derived_groups(rows)
    why = {"total": "and it is the sum of all others", "subtotal": "and it is the sum of those that are named after it"}
    return [
        _total(tally, str(rows[place].label), why[verdict.kind], sure=False)
        for place, verdict in verdicts.items()
        if verdict.outcome == "ask" and verdict.kind in why and _may_stand_for_all(tally, str(rows[place].label))
    ]


def _may_stand_for_all(tally: Tally, label: str) -> bool:
    """Whether a category can be a total, which is a record or two of a log; of counts that came ready it may be."""
    origin = tally.origin
    if origin.ready or is_strong(label):
        return True
    if tally.spread is not None:
        return tally.spread.of(label).records <= _MOST_TOTAL_ROWS
    return bool(origin.count or origin.weight or origin.per) or tally.as_dict()[label] <= _MOST_TOTAL_ROWS


def _named_total(label: str) -> bool:
    """Whether a label says that it is a total, or would without a slip: Totl."""
    if may_be_total(label):
        return not is_mean(label)
    first = label.split()[0] if label.strip() else ""
    return len(first) < _LONGEST_TOTAL and slip_between(first.casefold(), "total", 0.0) == "sure"


def _looked_at(tally: Tally) -> Sequence[str]:
    """Return the labels; of very many the most frequent, among which a total is."""
    if len(tally.categories) <= _MANY_LABELS:
        return tally.categories
    import numpy as np

    places = np.argpartition(-tally.frequency.floats(), _MOST_LABELS)[:_MOST_LABELS]
    return [tally.categories[place] for place in places.tolist()]


def total_asked(question: str) -> Finding:
    """Return the question whether a row is a total as a finding: it was counted as a category meanwhile."""
    what = question.partition(" say keep_totals")[0].rstrip(";:")
    return warning(
        "total-as-category",
        message=what,
        fix="leave that row out of the source (keep_totals=False), or count it (keep_totals=True)",
        where="labels",
    )


def _no_sum(value: Fraction, others: Fraction) -> str:
    return Remark("and reads as a total: it has {}, all others {}", float(value), float(others))


def _total(tally: Tally, label: str, why: str, *, sure: bool) -> Finding:
    make = error if sure or is_strong(label) else warning
    return make(
        "total-as-category",
        message=f"'{one_line(label, longest=40)}' is counted as a category, {why}",
        fix="leave that row out of the source (keep_totals=False): it is in the sum that every percent is divided by",
        where=tally.origin.by or "labels",
    )


def numbers_as_labels(tally: Tally) -> list[Finding]:
    """Find a column of measurements that is counted as if its values were categories.

    Measurements hardly ever repeat and have decimals; numbers that repeat are codes, clauses, classes.
    """
    labels = tally.categories
    if len(labels) < _FEWEST_NUMBERS or not all(_NUMBER.fullmatch(label.strip()) for label in labels):
        return []
    alone = 2 * len(labels) > float(tally.records)
    precise = 2 * sum(bool(_PRECISE.fullmatch(label.strip())) for label in labels) > len(labels)
    if not alone and not precise:
        return []
    make = warning if alone and precise else note
    return [
        make(
            "numbers-as-labels",
            message=f"all {len(labels)} categories are numbers, such as {quoted(labels[:3])}: measurements?",
            fix="count a column of labels, or put the numbers into classes first",
            where=tally.origin.by or "labels",
        )
    ]


def several_labels(tally: Tally) -> list[Finding]:
    """Find cells that seem to hold several labels, where no sign between them was named: "Leak; Jam"."""
    if len(tally.categories) > _MOST_LABELS:
        return []
    names = {label.strip().casefold() for label in tally.categories}
    for sign in _BETWEEN:
        pieces = {label: [piece.strip() for piece in label.split(sign)] for label in tally.categories if sign in label}
        several = {label: parts for label, parts in pieces.items() if len(parts) > 1 and all(parts)}
        if not several:
            continue
        parts = [part.casefold() for texts in several.values() for part in texts]
        first = {texts[0].casefold() for texts in several.values()}
        later = {part.casefold() for texts in several.values() for part in texts[1:]}
        loose = sign in _ONLY_BETWEEN  # "Crack, cooling" and "Crack, drying" are names of one family
        labels = names | {
            part for part in parts if parts.count(part) > 1 and (loose or (part in first and part in later))
        }
        texts = [[part.casefold() for part in texts] for texts in several.values()]
        # Of a family whose general name is a label, too, the other parts are none.
        again = sum(part in labels for text in texts if loose or labels.issuperset(text) for part in text)
        only = sign in _ONLY_BETWEEN and (again or len(several) > 1)
        if again * 2 >= len(parts) or only:
            return [
                warning(
                    "several-labels",
                    message=f"cells seem to hold several labels, such as {quoted(list(several)[:2])}, and each is "
                    "counted as one",
                    fix=f"name the delimiter between them: separator='{sign}'",
                    where=tally.origin.by or "labels",
                )
            ]
    return []


def nothing_first(tally: Tally) -> list[Finding]:
    """Find a most frequent category that names no cause: what is not known, or a rest of many."""
    if len(tally.categories) < 2 or len(tally.categories) > _MANY_LABELS or not tally.total:
        return []
    amounts = tally.as_dict()
    label = max(amounts, key=lambda item: amounts[item])
    large = [item for item, value in amounts.items() if float(value) >= _LARGE * float(tally.total) and _unknown(item)]
    first = "the most frequent category" if label in large or not large else "a frequent category"
    label = label if label in large or not large else large[0]
    share = Remark("{} of all", Written(percent_text(100 * float(amounts[label]) / float(tally.total), decimals=0)))
    where = tally.origin.by or "labels"
    text = one_line(label, longest=40)
    if _unknown(label):
        return [
            warning(
                "unknown-first",
                message=Remark("{}, '{}' ({}), says that nothing is known: it is no cause", first, text, share),
                fix=f'count it as missing (na="{text}"), and find out what these records are',
                where=where,
            )
        ]
    if is_rest(label) and first.startswith("the"):
        return [
            warning(
                "rest-first",
                message=Remark("the largest category, '{}' ({}), is a catch-all; not actionable", text, share),
                fix=f'count it by what it is made of, or put it last (last="{text}") and say how large it is',
                where=where,
            )
        ]
    return []


#: Labels that say that nothing is wrong, by themselves; and those that do under a heading of what may be wrong.
_GOOD = frozenset(
    """
ok|o.k.|okay|good|pass|passed|conforming|none found|i.o.|io|in ordnung|gut|conforme|bueno|goed|良品|合格|nff|ndf|npf|ntf
nothing found|nothing wrong|nothing abnormal|not defective|o.b.|sin novedad|rien à signaler
""".replace("\n", "|")
    .strip("|")
    .split("|")
)
_NOTHING = frozenset(
    """
none|nil|(none)|nothing|keine|keiner|nichts|aucun|aucune|rien|ninguno|ninguna|nada|nessuno|nessuna|niente|geen|brak|ingen
inga|なし|无|無
""".replace("\n", "|")
    .strip("|")
    .split("|")
)
#: "No visible defect found": a word that denies, one of faults, and perhaps that none was found.
_DENIAL = (
    r"no|not|without|w/o|free of|kein|keine|keinen|keinerlei|ohne|sans|pas de|aucun|aucune|sin|ningún|ninguna"
    r"|nessun|nessuna|senza|geen|zonder|bez|brak|inga|ingen|utan|uden|uten|ei|sem|nenhum|nenhuma|нет|без|無|没有|无"
)
_FAULT = (
    r"defects?|faults?|errors?|failures?|findings?|remarks?|issues?|problems?|complaints?|abnormalit(?:y|ies)|deviations?"
    r"|objections?|fehler|befunde?|bemerkung(?:en)?|mangel|mängel|beanstandung(?:en)?|auffälligkeit(?:en)?|abweichung(?:en)?|défauts?|erreurs?"
    r"|anomalies?|défaillances?|defectos?|fallos?|errores|difett[oi]|errori|anomali[ae]|defecten|gebrek|gebreken|fouten"
    r"|klachten|opmerkingen|uwag|wad|wady|błędów|závad|vad|fel|anmärkning(?:ar)?|fejl|feil|vikoja|defeitos?|дефект(?:а|ов)?|замечаний"
    r"|ошибок|不良|欠陥|異常|問題|缺陷|问题"
)
_FOUND = (
    r"found|detected|observed|seen|noted|visible|present|recorded|reported|festgestellt|gefunden|erkennbar|constatée?"
    r"|trouvée?|encontrados?|detectados?|rilevat[oi]|gevonden"
)
_NO_FAULT = compiled(
    rf"(?:{_DENIAL}) ?(?:\w+ )?(?:{_FAULT})(?: (?:{_FOUND}))?|(?:{_FAULT})(?:なし|無し)", re.IGNORECASE
)
_DENIED = compiled(rf"(?:{_DENIAL}) (\w+)", re.IGNORECASE)
#: Headings of results, and labels that only results have: there OK is an answer like the others.
_OF_RESULTS = compiled(
    r"result|verdict|status|outcome|dispos|grade|condition|rating|answer|judg|decision|inspect|ergebnis|zustand|bewertung"
    r"|resultat|état|estado|esito|uitslag|wynik",
    re.IGNORECASE,
)
_OF_DEFECTS = compiled(
    r"defect|fault|error|failure|cause|reason|problem|complaint|issue|incident|damage|finding|injur|deviation|clause|reject"
    r"|fehler|mangel|ursache|beschwerde|schaden|befund|défaut|panne|causa|difetto|motivo|fallo|defecto|anomal",
    re.IGNORECASE,
)
_VERDICTS = frozenset(
    """
bad|fair|poor|average|fail|failed|nok|not ok|n.i.o.|nio|ng|not good|reject|rejected|rework|reworked|scrap|scrapped|hold
schlecht|mittel|ausschuss|nacharbeit|mauvais|moyen|malo|regular|cattivo|slecht|minor|major|critical|不合格|repair|excellent
""".replace("\n", "|")
    .strip("|")
    .split("|")
)
#: What is typed to try a form, without digits and signs; runs of neighboring keys are found by the rows of keys.
_TRIED = frozenset(
    """
test|testing|testtest|testentry|testeintrag|testdata|foobar|foo|dummy|loremipsum|xxx|xyz|aaa|abc|prueba|essai|prova|teste
тест|テスト|测试|測試
""".replace("\n", "|")
    .strip("|")
    .split("|")
)
_KEYS = ("qwertyuiop", "qwertzuiop", "azertyuiop", "asdfghjkl", "qsdfghjklm", "zxcvbnm", "yxcvbnm", "wxcvbn")
_NO_LETTERS = compiled(r"[\W\d_]+")
_FEWEST_KEYS = 4  # of a run: three may be a word
_FEW_TRIED, _SHARE_TRIED = 3, 0.05  # records
_OF_PLACES = compiled(
    r"station|stage|step|process|phase|area|depart|machine|operation|workplace|team|room|site|abteilung|schritt|prozess"
    r"|bereich|poste|étape|proceso|reparto",
    re.IGNORECASE,
)


def good_as_defect(tally: Tally) -> list[Finding]:
    """Find records without a defect among the defects: they are the most frequent, and no cause."""
    if not 2 < len(tally.categories) <= _MANY_LABELS:
        return []
    amounts = tally.as_dict()
    heading = tally.origin.by or ""
    first = max(amounts, key=lambda label: amounts[label])
    if not _says_nothing_wrong(first, heading):
        return []
    if first.strip().casefold() in _GOOD and _OF_RESULTS.search(heading) and not _OF_DEFECTS.search(heading):
        return []
    if any(label.strip().casefold() in _VERDICTS for label in amounts):  # answers and results may well be good
        return []
    text = one_line(first, longest=40)
    share = Remark("{} of all", Written(percent_text(100 * float(amounts[first]) / float(tally.total), decimals=0)))
    return [
        warning(
            "good-as-defect",
            message=Remark(
                "the most frequent category, '{}' ({}), says that nothing was wrong: it is no cause", text, share
            ),
            fix=f'count it as missing (na="{text}"), or rank the others alone',
            where=tally.origin.by or "labels",
        )
    ]


def _says_nothing_wrong(label: str, heading: str) -> bool:
    """Whether a label says that there is no fault, or none of what the heading names: "no incident"."""
    text = " ".join(label.partition("(")[0].split() or label.split()).casefold()
    if text in _GOOD or _NO_FAULT.fullmatch(text) or (text in _NOTHING and _OF_DEFECTS.search(heading)):
        return True
    denied = _DENIED.fullmatch(text)
    return denied is not None and _singular(denied[1]) in {_singular(word) for word in heading.casefold().split()}


def _singular(word: str) -> str:
    return word.removesuffix("s")


def test_entries(tally: Tally) -> list[Finding]:
    """Find labels that somebody typed to try the form: they are few."""
    is_place = _OF_PLACES.search(tally.origin.by or "")  # a station may be called Test
    tried = sorted((label for label in _looked_at(tally) if _is_tried(label) and not is_place), key=str.casefold)
    if not tried or len(tally.categories) - len(tried) < 2:
        return []
    amounts = tally.as_dict()
    if sum(float(amounts[label]) for label in tried) > max(_FEW_TRIED, _SHARE_TRIED * float(tally.total)):
        return []
    where = tally.origin.by or "labels"
    return [
        warning(
            "test-entries",
            message=Remark(
                "somebody seems to have tried the form: {} of '{}' are no categories", quoted(tried[:4]), where
            ),
            fix=f'leave them out of the source, or say leave_out="{one_line(tried[0])}"',
            where=where,
        )
    ]


def _is_tried(label: str) -> bool:
    letters = _NO_LETTERS.sub("", label).casefold()
    return letters in _TRIED or (len(letters) >= _FEWEST_KEYS and any(letters in keys for keys in _KEYS))


def _unknown(label: str) -> bool:
    """Whether a label says that nothing is known; "none" says that nothing was there."""
    return is_missing_code(label) and label != MISSING_LABEL and label.strip().casefold() not in _NONE
