"""Sources: anything that holds records becomes a tally, a two-way table or measures."""

from vantric.sources.gather import cross, gather, look, measure
from vantric.sources.options import Counting, Opening

__all__ = ["Counting", "Opening", "cross", "gather", "look", "measure"]
