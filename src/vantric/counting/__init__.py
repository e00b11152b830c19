"""Sources: anything that holds records becomes a tally, a two-way table or measures.

In comes data of any kind with what is counted and how it is opened (`options`); out go the results of
`vantric.core.counts`. `reading` says what cells mean, `engines` open files, sheets, databases and frames, `tallying`
makes the results. Start with `tallying.gather`.
"""

from vantric.counting.count_records import crossed, gather, look, measure
from vantric.reading.settings import Counting, Opening

__all__ = ["Counting", "Opening", "crossed", "gather", "look", "measure"]
