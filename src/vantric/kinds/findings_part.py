"""The findings of a review as users hold them."""

from __future__ import annotations

from vantric.base.safe_text import Plain
from vantric.core.review import Finding


class Findings(list[Finding]):
    """A list of findings that shows itself in notebooks."""

    def to_dict(self) -> Plain:
        """Return the findings as the command line prints them."""
        return {"format": "vantric/review", "version": 1, "findings": [one.to_dict() for one in self]}

    def sentence(self) -> str:
        """Return how many of each severity there are."""
        from vantric.output.findings import headline

        return headline(self)

    def _repr_html_(self) -> str:
        from vantric.output.findings import findings_html

        return findings_html(self)
