"""How a messy source is tried: it is read to what a person gets by hand, or one line asks."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import vantric as vt
from tests.folder import InFolder
from vantric.errors import VantricError


@dataclass(frozen=True)
class Case:
    """A source and what it holds.

    `counts` is what a person gets by hand; `asks` a pattern of the one line that asks. `says` are codes of notes that
    must be among those of the result, and `missing` what has no label.
    """

    name: str
    content: Any
    counts: dict[str, Any] | None = None
    asks: str = ""
    by: str = "Defect"
    count: Any = "Qty"
    says: tuple[str, ...] = ()
    missing: Any = 0
    options: dict[str, Any] = field(default_factory=dict)


class Corpus(InFolder):
    """Reads cases, each as a subtest."""

    def read_all(self, cases: Any, write: Any) -> None:
        for case in cases:
            with self.subTest(case.name):
                self.read(case, write(case))

    def read(self, case: Case, source: Any) -> None:
        def tally() -> vt.Tally:
            return vt.tally(source, case.by, count=case.count, **case.options)

        if case.counts is None:
            with self.assertRaisesRegex(VantricError, case.asks) as caught:
                tally()
            self.assertNotIn("\n", str(caught.exception))
            return
        found = tally()
        self.assertEqual(found.as_dict(), case.counts)
        self.assertEqual(found.missing.records, case.missing)
        codes = {finding.code for finding in found.review()}
        self.assertLessEqual(set(case.says), codes)
