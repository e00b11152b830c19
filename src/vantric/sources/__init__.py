"""Sources: anything that holds records becomes a tally."""

from vantric.sources.gather import gather

__all__ = ["gather"]
