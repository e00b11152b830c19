"""Spark on a standalone cluster and through Connect: exact, in one job, from the command line, and after a worker died."""

import json
import re
import shlex
import subprocess
import sys
import threading
import time
import unittest
from pathlib import Path
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq
from pyspark.sql import SparkSession

import vantric as vt
from tests.cli.test_cli import Result
from tests.clusters.running import connect_server, has_connect_server, kill, standalone
from tests.enginecorpus import RECORDS, TYPES, CountingInEngines, Rows, close, exact, random_rows
from vantric.demo import data_file
from vantric.errors import SourceError

SCHEMA = ", ".join(f"`{name}` {kind}" for name, kind in TYPES.items())


def classic() -> SparkSession:
    """Return the session of the standalone cluster."""
    made = SparkSession.builder.master(standalone().master).appName("tests").config("spark.ui.enabled", "false")
    settings = {
        "spark.sql.shuffle.partitions": "4",
        "spark.ui.showConsoleProgress": "false",
        "spark.executor.memory": "512m",
    }
    for name, value in settings.items():
        made = made.config(name, value)
    session = made.getOrCreate()
    session.sparkContext.setLogLevel("OFF")
    return session


def connected() -> Any:
    """Return a session of the Connect server."""
    from pyspark.sql.connect.session import SparkSession as Connected

    return Connected.builder.remote(connect_server()).create()


def sessions() -> dict[str, Any]:
    """Return the sessions that the installed Spark can have."""
    if has_connect_server():
        return {"standalone": classic(), "Connect": connected()}
    print("SKIPPED: Connect, whose server this Spark does not bring along", file=sys.stderr)
    return {"standalone": classic()}


def written(rows: Rows, name: str = "rows.parquet") -> str:
    """Return the path of records as a Parquet file."""
    path = standalone().folder / name
    pq.write_table(pa.table(rows), path)
    return str(path)


class Spark(CountingInEngines):
    def __init__(self, session: Any) -> None:
        self.session = session

    def frame(self, rows: Rows) -> Any:
        return self.session.createDataFrame(list(zip(*rows.values(), strict=True)), SCHEMA)


class Everywhere(unittest.TestCase):
    def test_counts_multiplies_and_adds_up_exactly(self) -> None:
        for name, session in sessions().items():
            with self.subTest(name):
                held = Spark(session)
                held.case = self
                held.hold()

    def test_with_and_without_errors_at_overflow(self) -> None:
        session = classic()
        try:
            for strict in ("true", "false"):
                session.conf.set("spark.sql.ansi.enabled", strict)
                with self.subTest(strict=strict):
                    held = Spark(session)
                    held.case = self
                    wide = {name: RECORDS[name] for name in ("de.fect", "pieces", "small", "wide")}
                    held.sums(held.frame(RECORDS), wide)
        finally:
            session.conf.unset("spark.sql.ansi.enabled")

    def test_numbers_of_any_size(self) -> None:
        *_, session = sessions().values()
        for seed in range(4):
            rows = random_rows(seed)
            schema = "label string, whole bigint, other bigint, money decimal(18,2), real double, signed double"
            frame = session.createDataFrame(list(zip(*rows.values(), strict=True)), schema)
            for count, weight in (("whole", "other"), ("whole", "real"), ("other", "money"), ("money", "real")):
                with self.subTest(seed=seed, count=count, weight=weight):
                    tally = vt.tally(frame, "label", count=count, weight=weight)
                    close(self, tally.as_dict(), exact(rows, "label", count, weight))

    def test_names_of_any_kind(self) -> None:
        for name in ("a b", "a.b.c", "`quoted`", 'with "marks"', "Übermaß", "select"):
            frame = classic().createDataFrame([("x", 1), ("y", 2)], ["l", "n"]).toDF(name, "n")
            with self.subTest(name):
                self.assertEqual(vt.tally(frame, name, count="n").as_dict(), {"x": 1, "y": 2})

    def test_a_time_is_what_the_session_shows(self) -> None:
        session = classic()
        session.conf.set("spark.sql.session.timeZone", "Asia/Tokyo")
        try:
            frame = session.sql("select timestamp '2026-01-31 23:30:00' as at, 1 as n")
            table = vt.aggregate(frame, "at", {"n": "sum"}, period="month")
            self.assertEqual(table.categories, ("2026-01",))
        finally:
            session.conf.unset("spark.sql.session.timeZone")

    def test_one_job_a_result(self) -> None:
        session = classic()
        context, frame = session.sparkContext, session.read.parquet(written(RECORDS))
        measures = {"pieces": "sum", "m": "mean:minutes", "top": "max:cost"}
        works = {
            "tally": lambda: vt.tally(frame, "de.fect"),
            "products": lambda: vt.tally(frame, "de.fect", count="pieces", weight="cost"),
            "crosstab": lambda: vt.crosstab(frame, "de.fect", "day"),
            "measures": lambda: vt.aggregate(frame, "de.fect", measures),
        }
        for name, work in works.items():
            context.setJobGroup(name, name)
            frame.groupBy("`de.fect`").count().collect()
            bare = len(context.statusTracker().getJobIdsForGroup(name))
            work()
            with self.subTest(name):
                self.assertLessEqual(len(context.statusTracker().getJobIdsForGroup(name)), 2 * bare)

    def test_what_fails_is_one_line(self) -> None:
        session = classic()
        frame = session.sql("select 'a' as l, raise_error('no room') as n")
        with self.assertRaisesRegex(SourceError, "^the DataFrame cannot be read: Spark says: .*no room") as caught:
            vt.tally(frame, "n")
        self.assertNotIn("at org.", str(caught.exception))


class WorkerDies(unittest.TestCase):
    def test_in_the_middle_of_a_job(self) -> None:
        cluster, session = standalone(), classic()
        many = session.range(0, 30_000_000, numPartitions=24).selectExpr(
            "concat('Defect ', pmod(hash(id), 7)) as defect", "id % 11 as pieces", "pmod(hash(id), 1000) / 8 as minutes"
        )
        expected = vt.tally(many, "defect", count="pieces", weight="minutes").as_dict()
        tracker, found = session.sparkContext.statusTracker(), []
        work = threading.Thread(
            target=lambda: found.append(vt.tally(many, "defect", count="pieces", weight="minutes").as_dict())
        )
        work.start()
        until = time.monotonic() + 60
        while not tracker.getActiveStageIds() and time.monotonic() < until:
            time.sleep(0.02)
        time.sleep(0.3)
        self.assertTrue(work.is_alive(), "the job was over before a worker could die")
        kill(cluster.workers[0])
        work.join(240)
        cluster.add_worker()
        self.assertEqual(found, [expected])


def command(*arguments: str) -> dict[str, Any]:
    """Run the command line as a process of its own, and return its JSON; it says nothing but warnings of the review."""
    found = subprocess.run(
        [sys.executable, "-m", "vantric", *arguments, "--format", "json"], capture_output=True, text=True
    )
    strange = [
        line
        for line in found.stderr.splitlines()
        if not line.startswith(("vantric: warning: ", "vantric: note: ", "wrote "))
    ]
    if found.returncode or strange:
        raise AssertionError(found.stderr)
    read: dict[str, Any] = json.loads(found.stdout)
    return read


def frequencies(read: dict[str, Any]) -> dict[str, float]:
    """Return category -> frequency of a result in JSON."""
    return {row["category"]: row["frequency"] for row in read["rows"]}


class CommandLine(unittest.TestCase):
    def test_files_and_tables(self) -> None:
        path = written(RECORDS)
        url = connect_server()
        read = command("tally", f"{url}/?path={path}", "--by", "de.fect", "--count", "pieces")
        self.assertEqual(frequencies(read), {"Pinhole": 11, "Warping": 8, "Übermaß": 0})
        where = "pieces > 1 and \"de.fect\" <> 'Warping'"
        read = command("tally", f"{url}/?path={path}", "--by", "de.fect", "--where", where)
        self.assertEqual((frequencies(read), read["missing"]["records"]), ({"Pinhole": 2}, 2))

    def test_text_files(self) -> None:
        folder = standalone().folder / "logs"
        folder.mkdir(exist_ok=True)
        for number in range(3):
            (folder / f"{number}.csv").write_text(
                'defect,cost\nPinhole,"1.234,50"\n007,"2,25"\n,"1,00"\n', encoding="utf-8"
            )
        source = f"{connect_server()}/?path={folder}/*.csv"
        tally = vt.tally(source, "defect", weight="cost", read_numbers="1.234,56")
        self.assertEqual(tally.as_dict(), {"Pinhole": 3703.5, "007": 6.75})
        self.assertEqual(tally.missing.records, 3)

    def test_a_condition_that_text_leaves_open(self) -> None:
        folder = standalone().folder / "marked"
        folder.mkdir(exist_ok=True)
        (folder / "log.csv").write_text('defect,cost\nPinhole,"1.234,50"\nWarping,2\n', encoding="utf-8")
        for strict in ("true", "false"):
            source = f"{connect_server()}/?path={folder}/*.csv"
            with self.subTest(strict), self.assertRaisesRegex(SourceError, "cannot be (decided|cast)"):
                vt.tally(source, "defect", where="try_cast(cost as double) > 1" if strict == "false" else "cost > 1")

    def test_a_standalone_cluster(self) -> None:
        # A process of its own: this one has a session, which would be taken.
        url = f"{standalone().master}/?path={written(RECORDS)}"
        classic().stop()
        read = command("pareto", url, "--by", "de.fect", "--count", "pieces", "--weight", "cost")
        self.assertAlmostEqual(frequencies(read)["Pinhole"], 300000000.35)

    def test_the_command_of_the_documentation(self) -> None:
        page = (Path(__file__).parents[2] / "docs/howto/from-a-cluster.md").read_text(encoding="utf-8")
        [line] = re.findall(r"```sh\n\$ vantric (.*)\n```", page)
        log = standalone().folder / "inspections.csv"
        log.write_bytes(data_file("inspections.csv"))
        picture = standalone().folder / "cluster.png"
        said = line.replace("spark://HOST:PORT", connect_server()).replace("/data/inspections.csv", str(log))
        read = command(*shlex.split(said.replace("cluster.png", str(picture))))
        self.assertEqual(frequencies(read)["Pinhole"], 902)
        self.assertTrue(picture.exists())

    def test_bad_input_is_one_line(self) -> None:
        url, path = connect_server(), written(RECORDS)
        connected().stop()  # its library warns of pandas when it is loaded, which the command itself hides
        broken = standalone().folder / "broken.parquet"
        broken.write_bytes(b"PAR1 nothing PAR1")
        for source, options, words in (
            ("spark://127.0.0.1:1/?path=/x.parquet", (), "no cluster answers at 'spark://127.0.0.1:1'"),
            ("sc://127.0.0.1:1", ("--table", "t"), "no cluster answers at 'sc://127.0.0.1:1'"),
            (f"{url}/?path=/nothing/*.parquet", (), "Path does not exist"),
            (f"{url}/?path={broken}", (), "Spark says"),
            (url, ("--table", "not.there"), "cannot be found"),
            (url, (), "say what to read from the cluster"),
            (f"{url}/?path={path}", ("--table", "t"), "say what to read from the cluster"),
            (f"{url}/?path={path}&formt=csv", (), "did you mean 'format'"),
            (f"{url}/?path={path}&format=xls", (), "format is one of parquet"),
            (url, ("--query", "select 1"), "a query is for databases"),
            (f"{url}/?path={path}", ("--where", "nothing > 1"), "cannot be resolved"),
            (f"{url}/?path={path}", ("--where", "reflect('java.lang.System', 'exit', 1) = 1"), "not for a condition"),
            (f"{url}/?path={path}", ("--where", "true; drop table t"), "one condition"),
            (f"{url}/?path={path}", ("--sheet", "x"), "no sheets"),
            (f"{url}{path}", (), "stands behind ?path="),
            ("sc://host:notaport/?path=/x", (), "names no host and port"),
        ):
            result = Result("tally", source, "--by", "de.fect", *options)
            with self.subTest(source=source, options=options):
                self.assertEqual(result.status, 2)
                self.assertIn(words, result.err)
                self.assertEqual(result.err.count("\n"), 1, result.err)


if __name__ == "__main__":
    unittest.main()
