"""Labels that have an order of their own: numbers, times, sizes, answers on a scale."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from itertools import pairwise
from typing import Any, Literal, TypeAlias

from vantric.core.numbers.calendarorder import calendar_keys

#: Whether labels are in an order of their own, in none, or may be in one.
Ordered: TypeAlias = Literal["yes", "no", "perhaps"]
_NUMBER = r"[+−-]?\d+(?:[.,\u00a0 ']\d+)*"
_RANGE = re.compile(
    rf"(?:up to|under|below|over|above|from|less than|more than|at least|bis|unter|über|ab|[<>≤≥=~≈]+)?\s*{_NUMBER}\s*"
    rf"(?:(?:-|–|—|to|bis|\.\.|…|and|und|à|,)\s*[<>≤≥]?\s*{_NUMBER})?\s*(?:\+|%|and (?:more|over|above)|or more)?"
    r"\s*\D{0,12}",
    re.IGNORECASE,
)
_TIMES = frozenset("""
week|weeks|wk|w|kw|cw|woche|wochen|semaine|sem|semana|settimana|viikko|vecka|uke|uge|неделя|day|days|tag|jour|día|dia
giorno|день|month|months|m|monat|mois|mes|mese|mês|месяц|quarter|quarters|q|qtr|quartal|trimestre|trim|trimester
квартал|half|h|hj|halbjahr|semester|semestre|year|years|fy|jahr|an|année|ano|año|anno|год|hour|hours|hr|std|heure|hora
minute|minutes|min|period|periode|sprint|iteration|round|run|cycle|trial|pass|step|stage|phase|lot|batch|sample|charge
los|generation|age|level|grade|class|stufe|schritt|probe|durchlauf|decade|century|season
""".strip().replace("\n", "|").split("|"))  # fmt: skip
_PLACES = frozenset("""
kiln|line|machine|press|crew|team|station|plant|cell|site|operator|shift|supplier|oven|furnace|mold|mould|tool|robot
bay|door|room|store|shop|branch|region|area|zone|dept|department|product|model|type|customer|unit|cavity|head|lane
ofen|linie|maschine|anlage|werk|halle|schicht|lieferant|ligne|four|usine|équipe|horno|línea|forno|linea
""".strip().replace("\n", "|").split("|"))  # fmt: skip
#: Scales whose words, in their order, may each be left out.
_SCALES = tuple(tuple(line.split("|")) for line in """
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
""".strip().split("\n"))  # fmt: skip
_SIZES = frozenset("sml")
_NUMBERED = re.compile(r"(?P<before>[^\W\d_]*)[\s.:#№-]*(?P<number>\d+)(?P<behind>.*)", re.DOTALL)
_DATE = re.compile(
    r"\d{4}[-/]\d\d(?:\d\d)?|\d{1,2}[./-]\d{4}|\d{1,2}[./-]\d{1,2}(?:[./-]\d{2,4})?\.?|\d{4}-w\d\d|\d{4}[-/ ]?q\d"
)
_PARTS = re.compile(r"[\s/.'’_-]+")


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
        found = re.fullmatch(r"(\d*)([^\W\d_]*)(\d*)", part)
        if found is None or (found[2] and found[2] not in _TIMES and not _is_month(found[2])):
            return False
        numbers += bool(found[1]) + bool(found[3])
    return bool(numbers) and any(not part.isdigit() for part in parts)


def _is_date(text: str) -> bool:
    try:
        date.fromisoformat(text[:10])
    except ValueError:
        return bool(_DATE.fullmatch(text))
    return True


def _is_month(word: str) -> bool:
    from vantric.core.numbers.calendarorder import month_words

    return word in month_words()


def _first_number(text: str) -> tuple[float, int]:
    """Return the first number of a label; of equal ones an open range (``<5``) is first, or last (``20+``)."""
    found = re.search(r"\d+(?:[.,]\d+)?", text)
    number = float(found[0].replace(",", ".")) if found else 0.0
    sign = -1.0 if re.match(r"\s*[-−]\s*\d", text) else 1.0
    least, most = ("<", "≤", "up to", "under", "below", "less", "unter", "bis"), (">", "over", "above", "more", "über")
    return sign * number, -1 if text.startswith(least) else int(text.startswith(most) or text.endswith("+"))


def _on_a_scale(plain: Sequence[str]) -> bool:
    for scale in _SCALES:
        places = [scale.index(text) for text in plain if text in scale]
        if len(places) == len(plain) and _monotone(places):
            return True
    return False


def _monotone(places: Sequence[Any]) -> bool:
    return all(one < other for one, other in pairwise(places)) or all(one > other for one, other in pairwise(places))


def _numbered(plain: Sequence[str]) -> Ordered:
    """Return what numbers in labels tell: weeks and lots follow each other, kilns do not."""
    found = [_NUMBERED.fullmatch(text) for text in plain]
    if not all(found):
        return "no"
    heads = {one["before"] for one in found if one}
    if heads & _PLACES:
        return "no"
    if not _monotone([int(one["number"][:15]) for one in found if one]):
        return "no"
    return "yes" if heads <= _TIMES else "perhaps"
