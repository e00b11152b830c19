"""Sources: anything that holds records becomes a tally, a two-way table or measures.

In comes data of any kind with what is counted and how it is opened (`options`); out go the results of
`vantric.core.counting`. `reading` says what cells mean, `engines` open files, sheets, databases and frames, `tallying`
makes the results. Start with `tallying.gather`.
"""

from vantric.sources.options import Counting, Opening
from vantric.sources.tallying.gather import crossed, gather, look, measure

__all__ = ["Counting", "Opening", "crossed", "gather", "look", "measure"]
