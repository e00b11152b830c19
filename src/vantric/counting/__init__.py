"""Counting: anything that holds records becomes a tally, a two-way table or measures.

In comes data of any kind with what is counted and how it is opened (`vantric.reading.settings`); out go the results of
`vantric.core.counts`. Start with `count_records.count_source`. Groups of records become `tallies`, `crosstabs` and
`aggregation`; `cells` splits labels, `total_rows` leaves out rows of totals before anything is counted, `exposures`
adds up what rates are per, `repeated_records` finds what stands twice; `ranking`, `trends` and `combining` make
results of several tallies.
"""

from vantric.counting.count_records import count_source, crossed, first_look, measure
from vantric.reading.settings import CountSettings, ReadSettings

__all__ = ["CountSettings", "ReadSettings", "count_source", "crossed", "first_look", "measure"]
