"""Units of measurement that headings name."""

from __future__ import annotations

import re

_WRITTEN = """
m mm cm dm km µm um nm in inch inches ft yd mi m2 m² mm2 mm² cm2 cm² km2 km² ha m3 m³ cm3 cm³ dm3 dm³ l L ml mL cl
hl gal g kg mg µg t to lb lbs oz s sec ms µs min mins minutes h hr hrs hours d days wk weeks months years Std
Stunden Min Tage °C °F K C F % ‰ ppm ppb pct percent Prozent € $ £ ¥ EUR USD GBP CHF JPY PLN CZK SEK NOK DKK RUB INR
k€ T€ Mio€ k$ M$ kEUR TEUR MEUR kUSD pcs pc pieces piece units unit Stk Stück St no nos count tiles parts W kW MW
kWh MWh Wh J kJ MJ V kV A mA Hz kHz MHz rpm N kN Nm bar mbar Pa hPa kPa MPa psi dB lx lm mol pH cal kcal px
"""
_UNITS = frozenset(_WRITTEN.split())
_BEHIND = re.compile(r"(?P<name>.*\S)\s*[(\[](?P<unit>[^()\[\]]{1,20})[)\]]")
_COMMA = re.compile(r"(?P<name>.*\S)\s*(?:,|\bin\b)\s+(?P<unit>[^\s,()\[\]]{1,12})")


def is_unit(text: str) -> bool:
    """Whether a text is a unit that we know, or one over another."""
    parts = [part.strip() for part in re.split(r"/| per ", text.strip())]
    return 1 <= len(parts) <= 2 and all(part in _UNITS for part in parts)


def unit_in(heading: str) -> tuple[str, str]:
    """Return a heading without the unit it names, and the unit; empty if it names none."""
    for form in (_BEHIND, _COMMA):
        found = form.fullmatch(heading)
        if found and is_unit(found["unit"].removeprefix("in ")):
            return found["name"].strip(), found["unit"].removeprefix("in ").strip()
    return heading, ""
