"""Queries and conditions that would write, run or wait: none of them does."""

import os
import sqlite3
import tempfile
import unittest
from pathlib import Path
from typing import ClassVar

import sqlalchemy as sa

import vantric as vt
from vantric.errors import VantricError

POSTGRES = os.environ.get("VANTRIC_TEST_POSTGRES")
QUERIES = (
    "select $$'$$ as a) as q; commit; create table pwn(a int); --'",
    "select 'x' as \"'\") as q; commit; create table pwn(a int); --",
    "select E'\\'' as a) as q; commit; create table pwn(a int); --",
    "copy (select 1) to program 'touch pwned'",
    "select lo_export(1, 'pwned') as defect",
    "select \"pg_read_file\"('postgresql.conf') as defect",
    "select pg_catalog . pg_sleep /* so */ (1) as defect",
    'select U&"pg\\005fsleep"(1) as defect',
    "select 1 as a) as q, (select pg_sleep(1)",
    "select query_to_xml('select nextval(''numbers'')', true, true, '') as defect",
    "select set_config('transaction_read_only', 'off', false) as defect",
    "select pg_create_physical_replication_slot('pwn') as defect",
    "select * into pwn from sentinel",
    "with x as (delete from sentinel returning *) select * from x",
    "select * from sentinel for update",
    "insert into sentinel values ('b')",
)
CONDITIONS = (
    "true) or (true",
    "true union select 1",
    "true group by defect",
    "pg_sleep(1) is null",
    "1 = 1) ; create table pwn(a int); --",
    "exists (select lo_import('postgresql.conf'))",
)


@unittest.skipUnless(POSTGRES, "SKIPPED: no PostgreSQL server; set VANTRIC_TEST_POSTGRES to the URL of one")
class Postgres(unittest.TestCase):
    """As a superuser: the server itself would allow all of it."""

    url: ClassVar[str] = str(POSTGRES)

    def setUp(self) -> None:
        self.engine = sa.create_engine(self.url, isolation_level="AUTOCOMMIT")
        self.addCleanup(self.engine.dispose)
        with self.engine.connect() as base:
            base.exec_driver_sql("DROP TABLE IF EXISTS sentinel; DROP TABLE IF EXISTS pwn")
            base.exec_driver_sql("CREATE TABLE sentinel (defect TEXT); INSERT INTO sentinel VALUES ('a')")
        self.before = self.state()

    def state(self) -> list[tuple[object, ...]]:
        """Return tables, large objects, replication slots, the server's files and the sentinel's rows."""
        asked = (
            "SELECT count(*) FROM pg_tables WHERE schemaname = 'public'",
            "SELECT count(*) FROM pg_largeobject_metadata",
            "SELECT count(*) FROM pg_replication_slots",
            "SELECT string_agg(f, ',' ORDER BY f) FROM pg_ls_dir('.') f",
            "SELECT string_agg(defect, ',') FROM sentinel",
        )
        with self.engine.connect() as base:
            return [tuple(base.exec_driver_sql(sql).one()) for sql in asked]

    def test_queries_that_do_more_than_read(self) -> None:
        for query in QUERIES:
            with self.subTest(query=query), self.assertRaises(VantricError) as caught:
                vt.tally(self.url, "defect", query=query)
            self.assertNotIn("\n", str(caught.exception))
        self.assertEqual(self.state(), self.before)

    def test_conditions_that_do_more_than_read(self) -> None:
        for where in CONDITIONS:
            with self.subTest(where=where), self.assertRaises(VantricError):
                vt.tally(self.url, "defect", table="sentinel", where=where)
        self.assertEqual(self.state(), self.before)

    def test_a_column_may_share_the_name_of_a_handler(self) -> None:
        self.assertEqual(vt.tally(self.url, "system", query="select defect as system from sentinel;\n ;").total, 1)

    def test_signs_that_no_query_holds(self) -> None:
        for query in ("select 'a\0' as defect", "select '\ud800' as defect"):
            with self.subTest(query=query), self.assertRaises(VantricError):
                vt.tally(self.url, "defect", query=query)

    def test_queries_that_read(self) -> None:
        for query in (
            "table sentinel",
            "/* so */ select * from sentinel;",
            "select 'a' as defect -- so",
            "select * from sentinel; -- it's so; and so",
            "select * from sentinel ; /* ; */ ; --",
            "values ('a')",
            "with x as (select 'a;' as defect, random()) select * from x",
        ):
            with self.subTest(query=query):
                by = "column1" if query.startswith("values") else "defect"
                self.assertEqual(vt.tally(self.url, by, query=query).total, 1)

    def test_every_kind_of_table(self) -> None:
        with self.engine.connect() as base:
            base.exec_driver_sql("DROP MATERIALIZED VIEW IF EXISTS sums")
            base.exec_driver_sql("CREATE MATERIALIZED VIEW sums AS SELECT 'b' AS defect, 2 AS n")
        self.assertEqual(vt.tally(self.url, "defect", count="n", table="sums").total, 2)

    def test_numbers_that_are_none(self) -> None:
        for number in (
            "'NaN'::numeric",
            "'Infinity'::numeric",
            "'-Infinity'::numeric",
            "'NaN'::float8",
            "'Infinity'::float8",
            "'Infinity'::float4",
            "1e305::float8",
        ):
            query = f"select 'a' as defect, {number} as n union all select 'b', 1"
            for options in ({"count": "n"}, {"weight": "n"}, {"count": "n", "weight": "n"}):
                with self.subTest(number=number, **options), self.assertRaisesRegex(VantricError, "column 'n'"):
                    vt.tally(self.url, "defect", query=query, **options)
            missing = number.startswith("'NaN")
            for measure in ("sum:n", "mean:n", "median:n", "min:n", "max:n"):
                with self.subTest(number=number, measure=measure):
                    if missing:
                        vt.aggregate(self.url, "defect", {"m": measure}, query=query)
                    else:
                        with self.assertRaises(VantricError):
                            vt.aggregate(self.url, "defect", {"m": measure}, query=query)
            self.assertEqual(vt.tally(self.url, "n", query=query).total, 1 if missing else 2)


class Sqlite(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "log.db"
        with sqlite3.connect(self.path) as base:
            base.execute("CREATE TABLE log (defect TEXT)")
            base.execute("INSERT INTO log VALUES ('a')")
        base.close()

    def test_a_url_cannot_make_a_file(self) -> None:
        made = self.path.with_name("made.db")
        for url in (f"sqlite:///file:{made}?mode=rwc&uri=true", f"sqlite:///{made}?mode=rwc"):
            with self.subTest(url=url), self.assertRaisesRegex(VantricError, "there is no database file"):
                vt.tally(url, "defect", table="log")
            self.assertFalse(made.exists())

    def test_a_file_url_is_read(self) -> None:
        self.assertEqual(vt.tally(f"sqlite:///file:{self.path}?uri=true", "defect", table="log").total, 1)

    def test_a_name_is_taken_as_it_stands(self) -> None:
        for name in ("a b.db", "50 %.db"):
            path = self.path.rename(self.path.with_name(name))
            self.path = path
            self.assertEqual(vt.tally(f"sqlite:///{path}", "defect", table="log").total, 1)

    def test_nothing_closes_the_wrapper(self) -> None:
        url = f"sqlite:///{self.path}"
        for where in ("1=1) union select * from (select 1", "1=1) or (1=1", "1=1 group by defect", "1=1 limit 1"):
            with self.subTest(where=where), self.assertRaises(VantricError):
                vt.tally(url, "defect", table="log", where=where)
        with self.assertRaises(VantricError):
            vt.tally(url, "defect", query="select 'x' as defect) as q, (select 1 as one")
        self.assertEqual(vt.tally(url, "defect", table="log", where="defect = 'a' -- so").total, 1)

    def test_only_the_opened_file_is_read(self) -> None:
        for query in ("select load_extension('x') as defect", "select * from pragma_database_list"):
            with self.subTest(query=query), self.assertRaises(VantricError):
                vt.tally(f"sqlite:///{self.path}", "defect", query=query)
