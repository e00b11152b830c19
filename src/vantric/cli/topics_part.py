"""What ``vantric help`` explains in prose: one Markdown file a topic, shown here and in the documentation.

In come names of topics; out go their texts. Start with `topic_names`.
"""

from __future__ import annotations

from functools import cache
from importlib.resources import files

#: Word -> the heading of the options that it stands for.
SECTIONS: dict[str, str] = {
    "counting": "What is counted",
    "source": "The source",
    "reading": "How cells are read",
    "ranking": "How it is ranked, cut off and folded",
    "rates": "Rates",
    "parts": "Parts",
    "certainty": "How sure the ranking is",
    "sides": "Before and after",
    "time": "Over time",
    "series": "What is drawn",
    "series-look": "How series look",
    "axes": "How the axes are scaled",
    "shows": "What the chart shows",
    "look": "How the chart looks",
    "words": "What the chart says",
    "numbers": "How the chart writes numbers",
    "checking": "A sheet made elsewhere",
    "output": "What is written",
    "findings": "What is said",
}
_ENDING = ".md"


@cache
def topic_names() -> dict[str, str]:
    """Return the topics that have prose, each with its first line, without the sign of a heading."""
    found = {}
    for one in sorted(files("vantric.cli").joinpath("topics").iterdir(), key=lambda one: one.name):
        if one.name.endswith(_ENDING):
            found[one.name.removesuffix(_ENDING)] = one.read_text(encoding="utf-8").partition("\n")[0].lstrip("# ")
    return found


def topic_text(name: str) -> str:
    """Return the prose of a topic, Markdown."""
    return files("vantric.cli").joinpath("topics", name + _ENDING).read_text(encoding="utf-8")
