"""No text of a stranger steers the terminal that shows it."""

import io
import os
import re
import threading
import unittest
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from unittest import mock

from rich.console import Console

from tests.effort import some
from tests.folder import InFolder
from tests.pseudoterminal import shown
from vantric.cli import results

try:
    import pty  # noqa: F401
except ImportError:
    TERMINAL = False
else:
    TERMINAL = True

EVIL = "\x1b]0;owned\x07\x1b[31m\x9b31m\u202e"
#: Our own styles (ECMA-48 SGR), and what the progress line needs to show and hide the cursor.
OURS = re.compile(rb"\x1b\[[0-9;]*m|\x1b\[\?25[hl]|\x1b\[[0-9]*[AK]|\r")


@unittest.skipUnless(TERMINAL, "SKIPPED: no pseudo-terminals here")
class Terminal(InFolder):
    def test_what_reaches_a_terminal(self) -> None:
        log, plain = f"l{EVIL}.csv", "plain.csv"
        rows = [f"defect{EVIL},kiln,n", f"Crack{EVIL},1,2", f"Glaze{EVIL},2,1", f"Crack{EVIL},2,1"]
        (self.folder / log).write_text("\n".join(rows), encoding="utf-8")
        (self.folder / plain).write_text("defect,kiln,n\nCrack,1,2\nGlaze,2,1\n")
        words = '{"format": "vantric/chart", "version": 1, "kind": "series", "given": {"categories": ["a%s"], '
        words += '"series": [{"kind": "bars", "name": "n%s", "values": [1]}]}, "chart": {"title": "%s"}}'
        escaped = EVIL.encode("unicode_escape").decode().replace("\\x", "\\u00")
        (self.folder / "c.json").write_text(words % ((escaped,) * 3))
        (self.folder / f"c{EVIL}.json").write_text("{")
        by = ("--by", f"defect{EVIL}")
        every = some(
            (
                ("columns", log),
                ("columns", log, "--format", "json"),
                ("tally", log, *by),
                ("tally", log, *by, "--split", "kiln"),
                *(("tally", log, *by, "--format", form) for form in ("json", "csv", "markdown")),
                ("tally", plain, "--by", EVIL),
                ("tally", plain, "--by", "defect", "--where", f"kiln = '{EVIL}' and"),
                ("tally", plain, "--by", "defect", "--families", log),
                ("pareto", log, *by, "--intervals"),
                *(("pareto", log, *by, "--format", form) for form in ("json", "csv", "markdown")),
                ("pareto", plain, "--by", "defect", "--order", EVIL),
                ("pareto", plain, "--by", "defect", "--per", "n", "--per-name", EVIL),
                ("pareto", plain, "--by", "defect", "--out", f"{EVIL}.png"),
                ("pareto", plain, "--by", "defect", "--out", f"{EVIL}.nothing"),
                ("pareto", plain, "--by", "defect", "--title", EVIL, "--out", "t.png", "--save-chart", f"{EVIL}.toml"),
                ("compare", log, *by, "--split", "kiln", "--before", "1", "--after", EVIL),
                ("compare", plain, plain, "--by", "defect", "--before", EVIL, "--after", "x"),
                ("compare", plain, plain, "--by", "defect", "--before", EVIL, "--after", "x", "--format", "csv"),
                ("combine", log, "--x", f"defect{EVIL}", "--bars", "n", "--unit", f"n={EVIL}"),
                ("combine", log, "--x", f"defect{EVIL}", "--bars", "n", "--format", "csv"),
                ("combine", plain, "--x", "defect", "--bars", EVIL),
                ("draw", "c.json", "--out", "c.png"),
                ("draw", f"c{EVIL}.json"),
                ("review", "c.json"),
                ("review", log, *by),
                ("review", log, *by, "--format", "json"),
                ("scales", EVIL, "0:1"),
                (EVIL,),
                ("tally", plain, f"--{EVIL}"),
                ("tally", f"sqlite:///{EVIL}.db", "--table", "x", "--by", "y"),
                ("tally", "postgresql://127.0.0.1:1/x", "--query", f"select {EVIL}", "--by", "y"),
            )
        )
        with ThreadPoolExecutor(2 * (os.cpu_count() or 1)) as pool:
            texts = list(pool.map(lambda arguments: shown(*arguments, folder=self.folder), every))
        for arguments, raw in zip(every, texts, strict=True):
            with self.subTest(arguments=arguments):
                found = OURS.sub(b"", raw)
                self.assertTrue(found.strip(), "nothing was shown")
                text = found.decode("utf-8")
                self.assertEqual([sign for sign in text if not sign.isprintable() and sign not in "\n\t\u202c"], [])
                self.assertNotIn("Traceback", text)

    def test_what_is_shown_while_it_works(self) -> None:
        screen = io.StringIO()
        ours = partial(Console, file=screen, force_terminal=True, width=200)
        done = threading.Event()
        with (
            mock.patch.object(results, "_PATIENCE", 0.0),
            mock.patch("rich.console.Console", side_effect=lambda **_: ours()),
        ):
            shower = threading.Thread(target=results._show_work, args=(f"making {EVIL}.png", done))
            shower.start()
            while "making" not in screen.getvalue():
                done.wait(0.05)
            done.set()
            shower.join()
        text = re.sub(r"\x1b\[\??[0-9;]*[A-Za-z]", "", screen.getvalue())  # its own styles, and the cursor
        self.assertIn("owned", text)
        self.assertEqual([sign for sign in text if not sign.isprintable() and sign not in "\r\n"], [])

    def test_a_program_gets_the_data_as_they_are(self) -> None:
        from tests.cli.test_cli import Result

        log = self.file("defect\na\x1b[31mb\n")
        self.assertIn("a\x1b[31mb,1,100\n", Result("tally", log, "--by", "defect", "--format", "csv").out)
