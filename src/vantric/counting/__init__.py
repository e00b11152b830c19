"""Sources: anything that holds records becomes a tally, a two-way table or measures.

In comes data of any kind with what is counted and how it is opened (`options`); out go the results of
`vantric.core.counts`. `reading` says what cells mean, `engines` open files, sheets, databases and frames, `tallying`
makes the results. Start with `tallying.count_source`.
"""

from vantric.counting.count_records import count_source, crossed, first_look, measure
from vantric.reading.settings import CountSettings, ReadSettings

__all__ = ["CountSettings", "ReadSettings", "count_source", "crossed", "first_look", "measure"]
