"""Sections in the language of their chart."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

from vantric.core.charting.languages import language
from vantric.core.charting.options import Look
from vantric.core.counting.tally import Tally
from vantric.core.numbers.style import NumberStyle
from vantric.reports.local import PLAIN, Local
from vantric.reports.sections import Section


def local_of(look: Look) -> Local:
    """Return the language of a look."""
    return Local.of(look.wording)


def local_named(code: str, style: NumberStyle) -> Local:
    """Return a language by its code; numbers as a style writes them."""
    return PLAIN if code == "en" else Local(language(code), style.bare())


def base_of(tally: Tally, look: Look) -> str:
    """Return what percents are of, in the language of a look."""
    return tally.base() if look.language == "en" else look.wording.base(tally)


def localized(section: Section, local: Local) -> Section:
    """Return a section whose fixed words and numbers are in a language."""
    if local.tongue.plain:
        return section
    grids = section.grids
    return replace(section, local=local, grids=cache(lambda: tuple(replace(one, local=local) for one in grids())))
