"""The review over logs of eight scenes: nothing is said of right ones, and each of fifteen flaws is told for itself."""

from __future__ import annotations

from tests.corpus.making import by_command
from tests.corpus.scenelogs import Log, flawed_logs, good_logs, options
from tests.effort import ALL
from tests.folder import InFolder
from vantric.core.review import Finding

SEEDS = range(6 if ALL else 1)
#: What is true of the numbers, and no flaw of the log.
OF_NUMBERS = ("tie-at-cutoff",)


class Logs(InFolder):
    def told(self, log: Log) -> list[Finding]:
        found = by_command(self.file(log.text), *options(log))
        return [
            one for one in found if (one.severity != "note" or one.code in log.codes) and one.code not in OF_NUMBERS
        ]

    def test_what_is_right_is_not_alarmed(self) -> None:
        for log in good_logs(SEEDS):
            with self.subTest(log.name):
                self.assertEqual([(one.code, one.message) for one in self.told(log)], [])

    def test_one_flaw_is_one_finding_with_its_cause(self) -> None:
        for log in flawed_logs(SEEDS):
            with self.subTest(log.name):
                told = [(one.code, one.message) for one in self.told(log)]
                self.assertEqual(len(told), 1, told)
                self.assertIn(told[0][0], log.codes)
                self.assertIn(log.words, told[0][1])
