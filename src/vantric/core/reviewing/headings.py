"""What a heading, or the name of a series, says of its numbers: percents, running sums, measures, rates."""

from __future__ import annotations

import re

_RUNNING = re.compile(
    r"\bcum|cumul|\brunning|\bkum|kumul|aufsum|\bakk|acumul|accum|narast|накоп|кумул|\bcf\b|c%|Σ|\bsum %|累"
    r"|pareto line",
    re.IGNORECASE,
)
_RUNNING_RATE = re.compile(
    r"average|mean|median|\brate|yield|ratio|completion|progress|utili[sz]ation|index|mittel|moyen|media\b|promedio"
    r"|running (?:hours|time|cost|in\b)|средн",
    re.IGNORECASE,
)
_RATE = re.compile(r"rate\b|rates\b|ratio|quote|yield|taux|tasa|tasso|доля|per 1,?000|ppm|availability", re.IGNORECASE)
_PERCENT = re.compile(
    r"%|\bper ?cents?\b|\bpercent|\bpct\b|\bshares?\b|proportion|\banteil|prozent|pour ?cent|porcent|percentu"
    r"|дол[яи]|процент",
    re.IGNORECASE,
)
#: Columns that measure: hours add up to 100.1 and are below one with nothing wrong.
_MEASURED = re.compile(
    r"hour|\bh\b|\bhrs?\b|minute|\bmins?\b|second|\bsecs?\b|\btime\b|duration|downtime|stoppage|\bdays?\b|cost|price|amount"
    r"|value|weight|mass|length|width|area|volume|energy|power|litre|liter|gallon|\bkg\b|\bg\b|\bt\b|tons?\b|\bm[²³23]?\b"
    r"|\bmm\b|\bcm\b|\bkm\b|\bl\b|kwh|mwh|eur|usd|gbp|[$€£¥]|money|spend|sales|revenue|margin|stunde|dauer|zeit|kosten"
    r"|gewicht|menge|tage|heure|durée|coût|poids|hora|tiempo|costo|ore\b|tempo|час|врем|стоим",
    re.IGNORECASE,
)


def says_running(heading: str) -> bool:
    """Whether a heading says that its numbers are running sums; running means and rates are none."""
    return bool(_RUNNING.search(heading)) and not _RUNNING_RATE.search(heading.replace("_", " "))


def says_rate(heading: str) -> bool:
    """Whether a heading says that its numbers are rates, each of a base of its own."""
    return bool(_RATE.search(heading.replace("_", " ")))


def says_percent(heading: str) -> bool:
    """Whether a heading says that its column holds percents or shares."""
    return bool(_PERCENT.search(heading))


def is_measured(heading: str) -> bool:
    """Whether a heading says that its column measures: hours, cost, weight."""
    return bool(_MEASURED.search(heading.replace("_", " ")))
