"""Words that say that a row adds up others, in the languages we know."""

from __future__ import annotations

import re
from functools import lru_cache

#: Whole labels that say so and nothing else.
STRONG = frozenset("""
total|totals|grand total|grand totals|sub total|sub-total|subtotal|subtotals|sub totals|sum total|overall total
total sum|total amount|total count|running total|column total|gesamt|gesamtsumme|gesamtergebnis|zwischensumme
teilsumme|endsumme|summe|insgesamt|gesamtzahl|zwischenergebnis|total général|total general|total generale
sous-total|sous total|total partiel|totale|totale generale|totale complessivo|subtotale|total geral
total parcial|suma total|suma|totaal|eindtotaal|subtotaal|totaalsom|algemeen totaal|totalt|totalsumma|delsumma
summa|slutsumma|i alt|ialt|sum i alt|hovedsum|delsum|yhteensä|välisumma|loppusumma|razem|łącznie|ogółem
suma końcowa|suma częściowa|celkem|součet|mezisoučet|celkový součet|spolu|medzisúčet|összesen|végösszeg
részösszeg|total parțial|ukupno|skupaj|σύνολο|γενικό σύνολο|μερικό σύνολο|toplam|genel toplam|ara toplam|итого
всего|итог|общий итог|промежуточный итог|общая сумма|разом|усього|всього|підсумок|общо|всичко|σ|∑|合计|总计
小计|合計|総計
小計|합계|총계|소계|المجموع|الإجمالي|סה"כ|סך הכל|รวม|tổng|tổng cộng|jumlah
""".strip().replace("\n", "|").split("|"))  # fmt: skip
#: Labels that may say so, and may be the name of a category.
_WEAK = frozenset("""
all|sum|sums|overall|n|alle|alles|tous|toutes|todos|todas|tutti|tutte|everything|whole|entire|all together|altogether
combined|somme|net|aggregate|everyone|both
""".strip().replace("\n", "|").split("|"))  # fmt: skip
_BEHIND = (
    "total", "totals", "subtotal", "sub-total", "gesamt", "summe", "ergebnis", "zwischensumme", "totaal",
    "totale", "totalt", "итого", "razem", "celkem",
)  # fmt: skip
_IN_FRONT = (
    "total ", "totals ", "grand total ", "subtotal ", "sub-total ", "sum of ", "all ", "sum ", "gesamt ",
    "summe ", "totale ", "totaal ", "итого ", "всего ", "suma ", "overall ",
)  # fmt: skip
_SIZE = re.compile(r"[\s,:;–-]*[(\[]?\s*n\s*[=:]\s*[\d.,'  ]*\s*[)\]]?$|\s*[(\[]\s*(?:n|\d[\d.,' ]*)\s*[)\]]$")
_YEAR = re.compile(r"[\s,:;–-]*[(\[]?(?:19|20)\d\d(?:\s*[/–-]\s*(?:\d{4}|\d{2}))?[)\]]?$|^(?:19|20)\d\d[\s,:;–-]+")
_ENDS = " \t\u00a0:.=*-–—_|#"


def plain_label(label: str) -> str:
    """Return a label without case, without what stands around it, without a year and a size such as ``(n = 116)``."""
    text = " ".join(label.casefold().split()).strip(_ENDS)
    for form in (_SIZE, _YEAR, _SIZE):
        text = form.sub("", text).strip(_ENDS)
    return text


def is_strong(label: str) -> bool:
    """Whether a whole label says that its row is a total, with or without a year, a size or the name of a group."""
    text = plain_label(label)
    return text in STRONG or any(text.endswith(f" {word}") or text.endswith(f"-{word}") for word in _BEHIND)


_MEANS = frozenset({
    "average", "avg", "mean", "mittelwert", "durchschnitt", "mittel", "moyenne", "media", "promedio", "média",
    "gemiddelde", "среднее", "ø",
})  # fmt: skip


def is_mean(label: str) -> bool:
    """Whether a label says that its row is the mean of others."""
    return plain_label(label) in _MEANS


def is_loose(label: str) -> bool:
    """Whether a label may say that its row is a total: ``All``, ``Total defects``."""
    text = plain_label(label)
    return text in _WEAK or text.startswith(_IN_FRONT)


_FIRST = frozenset(word[:2] for word in (*STRONG, *_WEAK, *_MEANS, *(word.strip() for word in _IN_FRONT)))
_LONGEST = 80


@lru_cache(maxsize=4096)
def may_be_total(label: str) -> bool:
    """Whether a label may be that of a total; of millions of labels most are told by two letters."""
    if len(label) > _LONGEST:
        return False
    low = label.casefold().strip(_ENDS)
    if low[:2] in _FIRST or low[:2].isdigit() or low[-5:] in _TAILS:
        return is_strong(label) or is_loose(label) or is_mean(label)
    return False


_TAILS = frozenset(word[-5:] for word in _BEHIND)
