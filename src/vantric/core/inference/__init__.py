"""Inference: how sure a ranking is, and how two series go together.

In comes a Pareto table of counts, or two series of numbers; out goes a `Certainty` (intervals, ranks, chances) or a
`Relation`, each with a sentence. Start with `certainty`; `intervals` and `resampling` hold the methods, with their
published sources.
"""

from vantric.core.inference.certainty import Certainty, CertaintyRow, certainty_of
from vantric.core.inference.relation import Relation, relation_of

__all__ = ["Certainty", "CertaintyRow", "Relation", "certainty_of", "relation_of"]
