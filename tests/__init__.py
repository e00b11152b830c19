"""The suite: ``python -m tests.together``, or ``python -m unittest discover -s tests -t .`` in one process."""

from hypothesis import settings

from tests.effort import examples

settings.register_profile("suite", deadline=None, derandomize=True, max_examples=examples(150))
settings.load_profile("suite")
