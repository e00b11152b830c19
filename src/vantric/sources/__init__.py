"""Sources: anything that holds records becomes a tally."""

from vantric.sources.gather import gather
from vantric.sources.options import Counting, Opening

__all__ = ["Counting", "Opening", "gather"]
