"""Completion of names that a shell would run: each real shell is typed into, and hands over the name as it is."""

import json
import os
import shutil
import subprocess
import sys
import unittest

from openpyxl import Workbook

from tests.effort import ALL, some
from tests.folder import InFolder
from tests.pseudoterminal import typed
from vantric.cli.completers import quoted_for_bash, read_line

#: Each begins with letters of its own, by which it is completed; the first four hold what the others hold one by one.
NAMES = (
    "aa$(touch PWN)`touch PWN`",
    "bb\"; touch PWN; 'it\\",
    "cc!! &&x{a,b}*?[x]~ #|>PWN(%s) x!",
    'ñü ½=:$HOME!"',
    "dd\\$(touch PWN)\\",
    "ee'; touch PWN; '",
    "ff`touch PWN`",
    "gg!$ !! x!",
    "hh{a,b}*?[x]~",
    "ii: |tee PWN",
    "jj&touch PWN",
    "kk>PWN",
    "ll$[1+1]${IFS}^a^b^",
    "mm(touch PWN)",
    'nn"',
    "oo'",
)
#: Completes as the program does; run otherwise, it writes down what it was given.
STAND_IN = """#!{python}
import json, os, sys
if "_VANTRIC_COMPLETE" in os.environ:
    os.execv({python!r}, [{python!r}, "-m", "vantric"])
with open({given!r}, "w", encoding="utf-8") as file:
    json.dump(sys.argv[1:], file)
"""


class Typed(InFolder):
    """A shell in which a stand-in for the program completes, and says what it was given."""

    shell = ""

    def setUp(self) -> None:
        super().setUp()
        home = self.folder / "home"
        program = home / "bin" / "vantric"
        program.parent.mkdir(parents=True)
        self.given = home / "given.json"
        program.write_text(STAND_IN.format(python=sys.executable, given=str(self.given)), encoding="utf-8")
        program.chmod(0o755)
        self.environment = {
            "HOME": str(home),
            "PATH": f"{program.parent}{os.pathsep}{os.environ['PATH']}",
            **dict.fromkeys(("XDG_CONFIG_HOME", "XDG_DATA_HOME"), ""),
            **{"TERM": "dumb", "COLUMNS": "400", "PS1": "$ ", "PROMPT": "$ ", "LC_ALL": "C.UTF-8"},
        }
        install = [sys.executable, "-m", "vantric", "completion", self.shell, "--install"]
        subprocess.run(install, env={**os.environ, **self.environment}, check=True, capture_output=True)

    def given_for(self, line: str) -> list[str]:
        """Type a line, its Tabs among the rest, and return what the program was given."""
        keys = [line, "\r", "\x04", "\x15exit\r"]
        _, shown = typed([self.shell, "-i"], keys, self.folder, self.environment, patience=1.5)
        self.assertEqual([path.name for path in self.folder.rglob("PWN*")], [], shown)
        self.assertTrue(self.given.exists(), shown)
        given: list[str] = json.loads(self.given.read_text(encoding="utf-8"))
        return given

    def check_columns(self, quote: str, sign: str) -> None:
        """Complete a column name after a quote sign and ``=`` or a blank."""
        names = NAMES[:9] if ALL and self.shell == "bash" and quote == '"' else NAMES[:4]
        header = ",".join('"' + name.replace('"', '""') + '"' for name in names)
        self.file(f"{header}\n{','.join('1' * len(names))}\n", "s.csv")
        typed_words = "".join(f"--line{sign}{quote}{name[:2]}\t" for name in names)
        given = self.given_for(f"vantric combine s.csv {typed_words}")
        self.assertEqual(" ".join(given), " ".join(["combine", "s.csv", *(f"--line{sign}{name}" for name in names)]))


class Cases:
    """What is tried in each shell."""

    class Each(Typed):
        def test_columns(self) -> None:
            more = (("'", "="),) if self.shell == "bash" else ()
            for quote, sign in some((('"', " "), ("", "="), *more)):
                with self.subTest(quote=quote, sign=sign):
                    self.check_columns(quote, sign)

        def test_sheets_and_files(self) -> None:
            book = Workbook()
            for name in ("aa$(touch PWN)", 'bb"; `touch PWN`', "cc!! && ~ #(%s) !"):
                book.create_sheet(name)["A1"] = "x"
            book.save(self.folder / "qq$(touch PWN).xlsx")
            for name in ('xx`touch PWN`;"', "yy' $(touch PWN)!", "zz&touch PWN"):
                self.file("a\n", f"{name}.csv")
            sheets = "".join(f'--sheet "{start}\t' for start in ("aa", "bb", "cc"))
            given = self.given_for(f"vantric tally qq\t{sheets}")
            self.assertEqual(given[1:4:2], ["qq$(touch PWN).xlsx", "aa$(touch PWN)"])
            self.assertEqual(given[5::2], ['bb"; `touch PWN`', "cc!! && ~ #(%s) !"])
            given = self.given_for("vantric compare xx\t yy\t zz\t".replace("\t ", "\t"))
            self.assertEqual(given[1:], ['xx`touch PWN`;".csv', "yy' $(touch PWN)!.csv", "zz&touch PWN.csv"])


class InBash(Cases.Each):
    shell = "bash"


@unittest.skipUnless(shutil.which("zsh"), "SKIPPED: zsh is not installed")
class InZsh(Cases.Each):
    shell = "zsh"


@unittest.skipUnless(shutil.which("fish"), "SKIPPED: fish is not installed")
class InFish(Cases.Each):
    shell = "fish"


class Quoted(unittest.TestCase):
    def test_what_bash_gets_is_the_name_again(self) -> None:
        for name in NAMES:
            for quote in ("", '"', "'"):
                text = quoted_for_bash(name, quote)
                closed = f"{quote}{text}" if text.endswith(quote) else f"{quote}{text}{quote}"
                with self.subTest(text=closed):
                    found = subprocess.run(["bash", "-c", f"printf %s {closed}"], capture_output=True, text=True)
                    self.assertEqual(found.stdout, name)
                    self.assertEqual(read_line(f"v {closed} ", "bash").words, ("v", name))

    def test_lines_are_taken_apart_as_the_shells_do(self) -> None:
        breaks = " \t\n\"'@><=;|&(:"
        for shell, line, incomplete, stays, quote in (
            ("bash", 'v --by "z', "z", 0, '"'),
            ("bash", "v --by=z", "--by=z", 5, ""),
            ("bash", 'v --by="z $x', "--by=z $x", 5, '"'),
            ("bash", 'v a "b"c', "bc", 0, ""),
            ("bash", "v 'a'\\''x", "a'x", 2, "'"),
            ("bash", 'v "a\\$b\\c', "a$b\\c", 0, '"'),
            ("bash", "v --line percent:re\\ j", "percent:re j", 8, ""),
            ("bash", "v --by a@h", "a@h", 1, ""),
            ("bash", "v a ", "", 0, ""),
            ("bash", "v a\\", "a", 0, ""),
            ("fish", "v 'it\\'s", "it's", 0, "'"),
            ("zsh", "v '' x", "x", 0, ""),
        ):
            with self.subTest(line=line):
                read = read_line(line, shell, breaks if shell == "bash" else "")
                self.assertEqual((read.incomplete, read.stays, read.quote), (incomplete, stays, quote))
        self.assertFalse(read_line("v $'a", "bash").known)


if __name__ == "__main__":
    unittest.main()
