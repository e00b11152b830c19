"""No condition makes much of little, and no reading outlasts its time."""

import json
import os
import sqlite3
import subprocess
import sys
import unittest
from random import Random

import duckdb

import vantric as vt
from tests.cli.test_cli import Result
from tests.effort import examples
from tests.folder import InFolder
from vantric.engines.conditions import growth

OVERDUE = "vantric: error: the time given with timeout is over; filter the source, or give it more time\n"
#: A column of text, of numbers, of dates, and constants.
LEAVES = ("a", "a", "n", "x", "d", "'b'", "''", "';;;;'", "'é'")
TEXTS = (
    "concat({}, {}, {})",
    "concat_ws({}, {}, {}, {})",
    "replace(({})::varchar, 'b', 'bbbb')",
    "replace(({})::varchar, '', 'x')",
    "regexp_replace(({})::varchar, '(a*)', '\\1\\0', 'g')",
    "regexp_replace(({})::varchar, '', 'xy', 'g')",
    "row({}, {})::varchar",
    "row({})",
    "(({})::varchar || ({})::varchar)",
    "upper(({})::varchar)",
    "strip_accents(({})::varchar)",
    "nfc_normalize(({})::varchar)",
    "strftime(d, '%A %B %c')",
    "coalesce(({})::varchar, ({})::varchar)",
    "case when n = 5 then ({})::varchar else ({})::varchar end",
    "left(({})::varchar, 100)",
    "({})::varchar",
    "translate(({})::varchar, 'ab', 'xyz')",
    "greatest(({})::varchar, ({})::varchar)",
    "if(n = 5, ({})::varchar, ({})::varchar)",
)


def expression(rng: Random, depth: int) -> str:
    """Return SQL that makes a text."""
    if depth <= 0:
        return rng.choice(LEAVES)
    template = rng.choice(TEXTS)
    return template.format(*(expression(rng, depth - rng.choice((1, 2))) for _ in range(template.count("{}"))))


class Growth(InFolder):
    def test_no_result_is_longer_than_its_bound(self) -> None:
        connection, rng, tried = duckdb.connect(), Random(11), 0
        rows = [("é'\"\\ ,ßIiŉ" * 40, 5, 1.5, "2026-01-02"), ("aAbB ''\\" * 50, 6, -2.5, "2026-11-30")]
        connection.execute("CREATE TABLE t (a VARCHAR, n BIGINT, x DOUBLE, d DATE)")
        connection.executemany("INSERT INTO t VALUES (?, ?, ?, ?)", rows)
        longest = max(len(row[0]) for row in rows)
        for _ in range(examples(2000)):
            made = expression(rng, rng.randrange(1, 5))
            tree = connection.execute("SELECT json_serialize_sql('SELECT ' || ?)", [made]).fetchall()[0][0]
            bound = growth(json.loads(tree)["statements"][0]["node"]["select_list"][0])
            if bound > 300:
                continue
            try:
                [(signs,)] = connection.execute(f"SELECT max(length(({made})::VARCHAR)) FROM t").fetchall()
            except duckdb.Error:  # of types that do not fit
                continue
            tried += 1
            self.assertLessEqual(signs or 0, bound * longest + 40, made)
        self.assertGreater(tried, examples(1000))

    def test_what_makes_much_of_little_is_refused(self) -> None:
        log = self.file("a,b\n" + "x" * 3000 + ",1\ny,2\n")
        many = ", ".join(["a"] * 80)
        for where in (
            f"concat_ws(a, {many}) = ''",
            f"concat_ws(repeat, {many}) = ''",
            f"concat_ws(concat_ws(a, a, a, a, a, a), {', '.join(['1'] * 40)}) = ''",
            f"row({many})::varchar = ''",
            "row(row(row(row(row(row(row(a, a), a), a), a), a), a), a)::varchar = ''",
            f"concat({many}) = ''",
            "replace(replace(a, 'x', 'xxxxxxxxxx'), 'x', 'xxxxxxxxxx') = ''",
            "replace(a, 'x', a) = ''",
            "regexp_replace(a, '(.*)', '\\1\\1\\1\\1\\1\\1\\1\\1' || a, 'g') = ''",
            f"regexp_replace(a, '', '{'x' * 100}', 'g') = ''",
            "strftime(date '2026-01-01', a) = ''",
            " OR ".join(f"concat(a, a, a, a, a, a, a, a, '{n}') = ''" for n in range(40)),
            "||".join(["a"] * 100) + " = ''",
            "nfc_normalize(nfc_normalize(nfc_normalize(nfc_normalize(a)))) = ''",
            "repeat(a, 9) = ''",
            "lpad(a, 999999999, 'x') = ''",
            "a || (SELECT string_agg(a) FROM t) = ''",
            "list_value(a, a)::varchar = ''",
        ):
            with self.subTest(where=where[:60]):
                result = Result("tally", log, "--by", "b", "--where", where)
                self.assertEqual((result.status, result.out, result.err.count("\n")), (2, "", 1), result.err)

    def test_what_people_write_is_not_refused(self) -> None:
        log = self.file("a,b,d\nx y,1,2026-01-02\nz,2,2026-02-03\n")
        for where in (
            "upper(trim(a)) = 'X Y' OR lower(a) IN ('p', 'q', 'z')",
            " OR ".join(f"lower(a) = 'value {n}'" for n in range(100)) + " OR b > 0",
            "a || ' / ' || b || ' / ' || a <> ''",
            "concat_ws(' / ', a, b, a, b) <> ''",
            "(a, b) IN (('x y', 1), ('z', 2)) OR b > 0",
            "regexp_replace(a, '[^a-z]', '') <> ''",
            "replace(replace(replace(a, 'x', 'ks'), 'y', 'ipsilon'), ' ', '') <> ''",
            "strftime(d, '%Y-%m') >= '2026-01'",
            "CASE WHEN b = 1 THEN 'one' ELSE 'two' END <> 'three'",
            "+".join(["b"] * 12) + " > 0",
        ):
            with self.subTest(where=where[:60]):
                self.assertEqual(vt.tally(log, "b", where=where).total, 2)


class Overdue(InFolder):
    """Whatever a source is, a command whose time is over ends with its line."""

    def check(self, *arguments: object) -> None:
        folder = self.folder / "temporary"
        folder.mkdir(exist_ok=True)
        command = [sys.executable, "-m", "vantric", *map(str, arguments), "--timeout", "1"]
        environment = {**os.environ, "TMPDIR": str(folder)}
        found = subprocess.run(command, cwd=self.folder, capture_output=True, text=True, timeout=60, env=environment)
        self.assertEqual((found.returncode, found.stdout, found.stderr), (2, "", OVERDUE))
        self.assertEqual(list(folder.iterdir()), [])

    def test_a_sparse_file_of_gigabytes(self) -> None:
        path = self.file("a,b\nx,1\n", "sparse.csv")
        os.truncate(path, 6_000_000_000)
        for command in (("tally", path, "--by", "a"), ("columns", path)):
            self.check(*command)

    def test_a_function_of_sqlite_that_nothing_interrupts(self) -> None:
        with sqlite3.connect(self.folder / "log.db") as database:
            database.execute("CREATE TABLE t (a TEXT)")
            database.executemany("INSERT INTO t VALUES (?)", [("x",)] * 1000)
        database.close()
        where = "printf('%.*c', 900000000, 'a') = 'x'"
        self.check("tally", "sqlite:///log.db", "--table", "t", "--by", "a", "--where", where)
        query = "WITH RECURSIVE c(a) AS (SELECT 1 UNION ALL SELECT a + 1 FROM c) SELECT a FROM c"
        self.check("tally", "sqlite:///log.db", "--query", query, "--by", "a")

    def test_an_engine_that_may_call_anything(self) -> None:
        log = self.file("a\n" + "x\n" * 5000)
        where = "(SELECT count(*) FROM range(1000000000000)) > 0"
        self.check("tally", log, "--by", "a", "--allow-functions", "--where", where)

    def test_the_caller_in_python_gets_the_error_and_goes_on(self) -> None:
        with sqlite3.connect(self.folder / "log.db") as database:
            database.execute("CREATE TABLE t (a TEXT)")
            database.executemany("INSERT INTO t VALUES (?)", [("x",)] * 30)
        database.close()
        url, where = f"sqlite:///{self.folder}/log.db", "printf('%.*c', 90000000, 'a') = 'x'"
        with self.assertRaisesRegex(vt.VantricError, "time given with timeout is over"):
            vt.tally(url, "a", table="t", where=where, timeout=0.3)
        self.assertEqual(vt.tally(url, "a", table="t", timeout=60).total, 30)


if __name__ == "__main__":
    unittest.main()
