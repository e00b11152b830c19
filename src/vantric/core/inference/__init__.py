"""Inference: how sure a ranking is, and how two series go together."""

from vantric.core.inference.certainty import Certainty, CertaintyRow, certainty_of
from vantric.core.inference.relation import Gap, GapRow, Relation, gap_of, relation_of

__all__ = ["Certainty", "CertaintyRow", "Gap", "GapRow", "Relation", "certainty_of", "gap_of", "relation_of"]
