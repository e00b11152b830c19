"""The review over logs of eight scenes: nothing is said of right ones, and each of fifteen flaws is told for itself."""

from __future__ import annotations

from random import Random

from tests.corpus.making import by_command
from tests.corpus.scenelogs import Log, flawed_logs, good_logs, options
from tests.effort import ALL
from tests.folder import InFolder
from vantric.core.review import Finding
from vantric.counting.repeated_records import joined, partly_doubled
from vantric.engines.plain_records import PlainRecords
from vantric.reading.settings import ReadSettings

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

    def test_keys_that_repeat_by_chance_are_no_join(self) -> None:
        for seed in range(300):
            draw = Random(seed)
            size, weights = draw.randint(20, 200), [draw.uniform(0.3, 0.9) ** place for place in range(5)]
            span = size * draw.choice((1, 2, 5, 20, 100))
            columns = {
                "Time": [f"{draw.randrange(span):06}" for _ in range(size)],
                "Defect": draw.choices(("Scratch", "Dent", "Chip", "Leak", "Gap"), weights, k=size),
                "Line": draw.choices("ABC", k=size),
                "Shift": draw.choices("EN", k=size),
            }
            records = PlainRecords(columns, ReadSettings().rules())
            self.assertEqual([*joined(records, "Defect"), *partly_doubled(records)], [], seed)

    def test_one_flaw_is_one_finding_with_its_cause(self) -> None:
        for log in flawed_logs(SEEDS):
            with self.subTest(log.name):
                told = [(one.code, one.message) for one in self.told(log)]
                self.assertEqual(len(told), 1, told)
                self.assertIn(told[0][0], log.codes)
                self.assertIn(log.words, told[0][1])
