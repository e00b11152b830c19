"""Sources: anything that holds records becomes a tally, a two-way table or measures."""

from vantric.sources.options import Counting, Opening
from vantric.sources.tallying.gather import cross, gather, look, measure

__all__ = ["Counting", "Opening", "cross", "gather", "look", "measure"]
