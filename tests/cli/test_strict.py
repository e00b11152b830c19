"""``--strict`` and ``--ignore`` on every command that reviews what it makes."""

import json

from tests.cli.test_cli import Result
from tests.folder import InFolder


class Strict(InFolder):
    def test_an_error_ends_with_status_1_where_that_is_wanted(self) -> None:
        log = self.file("defect,n,m,shift\nPinhole,60,1,a\nCrack,40,2,b\nTotal,100,3,a\n")
        stacked = (
            "--x",
            "defect",
            "--bars",
            "n",
            "--bars",
            "m",
            "--unit",
            "n=t",
            "--unit",
            "m=h",
            "--together",
            "stacked",
        )
        for command in (
            ("pareto", log, "--by", "defect", "--count", "n", "--keep-totals"),
            ("tally", log, "--by", "defect", "--count", "n", "--keep-totals"),
            ("combine", log, *stacked),
        ):
            code = "unlike-stack" if command[0] == "combine" else "total-as-category"
            for options, status in (((), 0), (("--strict",), 1), (("--strict", "--ignore", code), 0)):
                for form in ("text", "json"):
                    result = Result(*command, *options, "--format", form)
                    self.assertEqual(result.status, status, (command[0], options, result.err))
                    shown = form == "json" and not options
                    self.assertEqual(code in result.out, shown, result.out)
                    if status:
                        self.assertEqual(result.out, "")
                        self.assertIn("vantric: error: ", result.err)
            out = self.folder / "written.csv"
            self.assertEqual(Result(*command, "--strict", "--out", out).status, 1)
            self.assertFalse(out.exists(), "nothing is written")
        plain = ("compare", log, "--by", "defect", "--count", "n", "--split", "shift", "--before", "a", "--after", "b")
        found = json.loads(Result(*plain, "--ignore", "uneven-totals", "--format", "json").out)
        self.assertNotIn("uneven-totals", [finding["code"] for finding in found["findings"]])
