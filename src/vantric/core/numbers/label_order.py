"""The order of labels: natural, with numbers in them, and of labels with one of their own: months, classes, scales."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Sequence
from datetime import date
from functools import cache
from itertools import pairwise
from typing import Any, Literal, TypeAlias

from vantric.base.lazily import compiled
from vantric.core.numbers.calendar_words import WORDS

#: Only these digits: others have an order, but no value that all agree on.
_DIGITS = compiled(r"([0-9]+)")
#: The last code of Unicode, which is after every sign.
_LARGEST = 0x10FFFF
#: How many labels are folded together, and a sign that no text should hold (Unicode, noncharacters) between them.
_BLOCK, _BETWEEN = 10_000, "\U0010fffe"


def natural_key(label: str) -> tuple[str, str]:
    """Return a sort key under which runs of digits compare as numbers and letters without case.

    The label itself is last in the key, so that the order is total: labels that differ never tie.
    """
    return _folded(label), label


def natural_places(labels: Sequence[str], places: Sequence[int]) -> list[int]:
    """Return places of labels in the order of `natural_key`; of millions, in half the time."""
    keys: dict[int, str] = {}
    for start in range(0, len(places), _BLOCK):
        block = places[start : start + _BLOCK]
        folded = _folded(_BETWEEN.join([labels[place] for place in block])).split(_BETWEEN)
        own = folded if len(folded) == len(block) else [_folded(labels[place]) for place in block]
        keys.update(zip(block, own, strict=True))
    if len(set(keys.values())) < len(keys):
        return sorted(places, key=lambda place: (keys[place], labels[place]))
    return sorted(places, key=keys.__getitem__)


def _folded(text: str) -> str:
    plain, *parts = _DIGITS.split(text.casefold())
    # What orders a run of digits by value: before any letter, the longer number later.
    runs = [run.lstrip("0") for run in parts[::2]]
    parts[::2] = [f"\0{chr(min(len(run), _LARGEST))}{run}" for run in runs]
    return plain + "".join(parts)


#: Language -> the spellings of January ... December, and of Monday ... Sunday.


_MOST = 1000  # labels; more are no months
#: A name with a year: "Jan 26", "2026 January".
_YEAR = compiled(
    r"(?P<name>.*?\D)[\s./'’-]*(?P<year>(?:19|20)\d\d|\d\d)|(?P<first>(?:19|20)\d\d)[\s./-]*(?P<later>\D.*)"
)


def plain_word(text: str) -> str:
    """Return a text as the names of months and weekdays are looked up."""
    return " ".join(text.casefold().replace(".", "").split())


@cache
def _names(language: str, *, days: bool) -> dict[str, int]:
    parts = WORDS[language][int(days)].split(";")
    return {word: place for place, words in enumerate(parts, 1) for word in words.split("|")}


@cache
def month_words() -> dict[str, int]:
    """Return the spelling of a month -> its number, 1 to 12; one that two languages use for two months is left out."""
    counts: dict[str, int] = {}
    twice: set[str] = set()
    for language in WORDS:
        for word, place in _names(language, days=False).items():
            if counts.setdefault(word, place) != place and language != "en":
                twice.add(word)
    english = _names("en", days=False)
    return {word: english.get(word, place) for word, place in counts.items() if word not in twice or word in english}


def calendar_keys(labels: Sequence[str]) -> list[tuple[int, int]] | None:
    """Return what orders labels by the calendar; None unless all are months, with or without a year, or weekdays.

    All labels are of one language; January and Monday come first.
    """
    if not 2 <= len(labels) <= _MOST:
        return None
    plain = [plain_word(label) for label in labels]
    numbers = _places(plain)
    if numbers is not None:
        return [(0, place) for place in numbers]
    parts = [_YEAR.fullmatch(text) for text in plain]
    if not all(parts):
        return None
    pairs = [(part["name"] or part["later"], int(part["year"] or part["first"])) for part in parts if part]
    months = _places([name.strip(" -/'’") for name, _ in pairs], days=False)
    if months is None:
        return None
    years = [year if year > 99 else year + (2000 if year < 69 else 1900) for _, year in pairs]
    return list(zip(years, months, strict=True))


def _places(words: Sequence[str], *, days: bool = True) -> list[int] | None:
    for kind in (False, True) if days else (False,):
        for language in WORDS:
            names = _names(language, days=kind)
            if words[0] in names and all(word in names for word in words):
                return [names[word] for word in words]
    return None


def is_turned(places: Iterable[tuple[int, int]]) -> bool:
    """Whether places follow the calendar from some month or day on: a business year, a week from Sunday."""
    order = list(places)
    falls = [(before, after) for before, after in itertools.pairwise(order) if after < before]
    last = max((place for _, place in order), default=0)
    turns = [((0, last), (0, 1))] if last in (7, 12) else []  # from Sunday to Monday, from December to January
    return not falls or (falls == turns and order[-1] < order[0])


def in_label_order(labels: Iterable[str]) -> list[str]:
    """Return labels in natural order; months and weekdays by the calendar."""
    listed = list(labels)
    keys = calendar_keys(listed)
    if keys is None:
        return sorted(listed, key=natural_key)
    return [label for _, label in sorted(zip(keys, listed, strict=True))]


#: Whether labels are in an order of their own, in none, or may be in one.
Ordered: TypeAlias = Literal["yes", "no", "perhaps"]
#: A number as labels hold it, with any mark.
_NUMBER = r"[+−-]?\d+(?:[.,\u00a0 ']\d+)*"
#: A class of values: "10-20 mm", "over 50", "< 5".
_RANGE = compiled(
    rf"(?:up to|under|below|over|above|from|less than|more than|at least|bis|unter|über|ab|[<>≤≥=~≈]+)?\s*{_NUMBER}\s*"
    rf"(?:(?:-|–|—|to|bis|\.\.|…|and|und|à|,)\s*[<>≤≥]?\s*{_NUMBER})?\s*(?:\+|%|and (?:more|over|above)|or more)?"
    r"\s*\D{0,12}",
    re.IGNORECASE,
)
#: Names of times with a number behind: "Week 12".
_TIMES = frozenset(
    """
week|weeks|wk|w|kw|cw|woche|wochen|semaine|sem|semana|settimana|viikko|vecka|uke|uge|неделя|day|days|tag|jour|día|dia
giorno|день|month|months|m|monat|mois|mes|mese|mês|месяц|quarter|quarters|q|qtr|quartal|trimestre|trim|trimester
квартал|half|h|hj|halbjahr|semester|semestre|year|years|fy|jahr|an|année|ano|año|anno|год|hour|hours|hr|std|heure|hora
minute|minutes|min|period|periode|sprint|iteration|round|run|cycle|trial|pass|step|stage|phase|lot|batch|sample|charge
los|generation|age|level|grade|class|stufe|schritt|probe|durchlauf|decade|century|season
""".strip()
    .replace("\n", "|")
    .split("|")
)
#: Names of places with a number behind, which have no order of their own: "Kiln 3".
_PLACES = frozenset(
    """
kiln|line|machine|press|crew|team|station|plant|cell|site|operator|shift|supplier|oven|furnace|mold|mould|tool|robot
bay|door|room|store|shop|branch|region|area|zone|dept|department|product|model|type|customer|unit|cavity|head|lane
ofen|linie|maschine|anlage|werk|halle|schicht|lieferant|ligne|four|usine|équipe|horno|línea|forno|linea
""".strip()
    .replace("\n", "|")
    .split("|")
)
#: Scales whose words, in their order, may each be left out.
_SCALES = tuple(
    tuple(line.split("|"))
    for line in """
very low|low|rather low|medium|moderate|average|middle|rather high|high|very high|extreme|critical
none|negligible|minor|small|moderate|serious|major|severe|critical|catastrophic
never|rarely|seldom|sometimes|occasionally|often|frequently|usually|always
strongly disagree|disagree|rather disagree|neither|neutral|undecided|rather agree|agree|strongly agree
strongly agree|agree|rather agree|neutral|undecided|neither|rather disagree|disagree|strongly disagree
very dissatisfied|dissatisfied|rather dissatisfied|neither|neutral|rather satisfied|satisfied|very satisfied
very poor|poor|bad|fair|average|ok|okay|acceptable|good|very good|excellent|outstanding
very bad|bad|poor|rather bad|fair|so-so|neutral|average|ok|okay|rather good|good|very good|great|excellent|perfect
very unlikely|unlikely|possible|neutral|likely|very likely|certain
xxxs|xxs|xs|s|m|l|xl|xxl|2xl|xxxl|3xl|4xl
extra small|very small|small|medium|large|very large|extra large
tiny|small|medium|big|large|huge
first|second|third|fourth|fifth|sixth|seventh|eighth|ninth|tenth|eleventh|twelfth|last
one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve
before|during|after
before|after
past|present|future
old|new
early|middle|late|night
early|morning|noon|midday|afternoon|evening|late|night|midnight
spring|summer|autumn|fall|winter
winter|spring|summer|autumn|fall
beginner|intermediate|advanced|expert
primary|secondary|tertiary
bronze|silver|gold|platinum
sehr niedrig|niedrig|gering|mittel|hoch|sehr hoch
sehr gut|gut|befriedigend|ausreichend|mangelhaft|ungenügend
nie|selten|manchmal|oft|häufig|immer
stimme gar nicht zu|stimme nicht zu|teils teils|neutral|stimme zu|stimme voll zu
klein|mittel|groß
früh|spät|nacht
frühling|frühjahr|sommer|herbst|winter
très faible|faible|moyen|élevé|très élevé
jamais|rarement|parfois|souvent|toujours
petit|moyen|grand
matin|après-midi|soir|nuit
printemps|été|automne|hiver
bajo|medio|alto
basso|medio|alto
низкий|средний|высокий
i|ii|iii|iv|v|vi|vii|viii|ix|x|xi|xii
a|b|c|d|e|f|g|h|i|j|k|l|m|n|o|p|q|r|s|t|u|v|w|x|y|z
""".strip().split("\n")
)
#: Sizes of clothes: XS, S, M, L, XXL.
_SIZES = frozenset("sml")
_NUMBERED = compiled(r"(?P<before>[^\W\d_]*)[\s.:#№-]*(?P<number>\d+)(?P<behind>.*)", re.DOTALL)
#: Dates and periods as labels.
_DATE = compiled(
    r"\d{4}[-/]\d\d(?:\d\d)?|\d{1,2}[./-]\d{4}|\d{1,2}[./-]\d{1,2}(?:[./-]\d{2,4})?\.?|\d{4}-w\d\d|\d{4}[-/ ]?q\d"
)
#: What divides the words of a label.
_PARTS = compiled(r"[\s/.'’_-]+")


def own_order(labels: Sequence[str]) -> Ordered:
    """Return whether labels stand in an order of their own, so that a line over them, or their running sum, has sense.

    Only words, numbers and dates are looked at; ``"perhaps"`` for numbered names of nothing known: ``Alpha 1``.
    """
    plain = [" ".join(label.casefold().split()) for label in labels]
    if len(plain) < 2:
        return "yes"
    if calendar_keys(labels) is not None or all(_is_time(text) for text in plain):
        return "yes"
    if all(_RANGE.fullmatch(text) for text in plain):
        return "yes" if _monotone([_first_number(text) for text in plain]) else "perhaps"
    if _on_a_scale(plain):
        return "perhaps" if all(len(text) == 1 and text not in _SIZES for text in plain) else "yes"
    return _numbered(plain)


def _is_time(text: str) -> bool:
    """Whether a label is a date, a time of day, a week, a quarter, with or without a year."""
    parts = [part for part in _PARTS.split(text) if part]
    if not parts or len(parts) > 5:
        return False
    if re.fullmatch(r"\d{1,2}:\d\d(?::\d\d)?(?:\s*[ap]m)?", text) or _is_date(text):
        return True
    numbers = 0
    for part in parts:
        match = re.fullmatch(r"(\d*)([^\W\d_]*)(\d*)", part)
        if match is None or (match[2] and match[2] not in _TIMES and not _is_month(match[2])):
            return False
        numbers += bool(match[1]) + bool(match[3])
    return bool(numbers) and any(not part.isdigit() for part in parts)


def _is_date(text: str) -> bool:
    try:
        date.fromisoformat(text[:10])
    except ValueError:  # looks like a date, but is no day of the calendar
        return bool(_DATE.fullmatch(text))
    return True


def _is_month(word: str) -> bool:
    from vantric.core.numbers.label_order import month_words

    return word in month_words()


def _first_number(text: str) -> tuple[float, int]:
    """Return the first number of a label; of equal ones an open range (``<5``) is first, or last (``20+``)."""
    match = re.search(r"\d+(?:[.,]\d+)?", text)
    number = float(match[0].replace(",", ".")) if match else 0.0
    sign = -1.0 if re.match(r"\s*[-−]\s*\d", text) else 1.0
    least, most = ("<", "≤", "up to", "under", "below", "less", "unter", "bis"), (">", "over", "above", "more", "über")
    return sign * number, -1 if text.startswith(least) else int(text.startswith(most) or text.endswith("+"))


def _on_a_scale(plain: Sequence[str]) -> bool:
    for scale in _SCALES:
        places = [scale.index(text) for text in plain if text in scale]
        if len(places) == len(plain) and _monotone(places):
            return True
    return False


def scale_order(labels: Sequence[str]) -> list[str] | None:
    """Return labels in the order of the scale that holds all of them, the lowest first; None if there is none."""
    plain = {" ".join(label.casefold().split()): label for label in labels}
    for scale in _SCALES:
        if len(plain) == len(labels) > 2 and all(text in scale and len(text) > 1 for text in plain):
            return [plain[text] for text in scale if text in plain]
    return None


def _monotone(places: Sequence[Any]) -> bool:
    return all(item < other for item, other in pairwise(places)) or all(
        item > other for item, other in pairwise(places)
    )


def _numbered(plain: Sequence[str]) -> Ordered:
    """Return what numbers in labels tell: weeks and lots follow each other, kilns do not."""
    matches = [_NUMBERED.fullmatch(text) for text in plain]
    if not all(matches):
        return "no"
    heads = {match["before"] for match in matches if match}
    if heads & _PLACES:
        return "no"
    if not _monotone([int(match["number"][:15]) for match in matches if match]):
        return "no"
    return "yes" if heads <= _TIMES else "perhaps"
