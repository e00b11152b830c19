"""What a start does without: classes, patterns, NumPy, the engine; and that it ends as a program should."""

from __future__ import annotations

import copy
import dataclasses
import importlib
import pickle
import subprocess
import sys
import threading
import unittest
from dataclasses import field, fields, replace
from typing import Any
from unittest import mock

from tests.folder import InFolder
from vantric.base.lazily import compiled, frozen_class
from vantric.demo import data_file
from vantric.engines.duckdb_engine import duckdb


@frozen_class()
class Place:
    """A place."""

    name: str
    own: tuple[int, ...] = ()
    notes: list[str] = field(default_factory=list, compare=False)
    hidden: int = field(default=0, repr=False)

    def __post_init__(self) -> None:
        if not self.name:
            raise ValueError("no name")


@dataclasses.dataclass(frozen=True)
class StandardPlace:
    """The same, made by the standard library."""

    name: str
    own: tuple[int, ...] = ()
    notes: list[str] = field(default_factory=list, compare=False)
    hidden: int = field(default=0, repr=False)


@frozen_class(kw_only=True)
class Farther(Place):
    """One with more."""

    miles: float = 1.5


class Classes(unittest.TestCase):
    def test_they_are_as_those_of_the_standard_library(self) -> None:
        for values, named in ((("a",), {}), (("a", (1, 2)), {"notes": ["x"]}), (("b",), {"hidden": 3})):
            one, other = Place(*values, **named), StandardPlace(*values, **named)
            self.assertEqual(repr(one).removeprefix("Place"), repr(other).removeprefix("StandardPlace"))
            self.assertEqual([item.name for item in fields(one)], [item.name for item in fields(other)])
            self.assertEqual(dataclasses.asdict(one), dataclasses.asdict(other))
            self.assertEqual(hash(one), hash(Place(*values, **named)))
            self.assertEqual(one, pickle.loads(pickle.dumps(one)))
            self.assertEqual(one, copy.deepcopy(one))
            self.assertEqual(replace(one, name="c").name, "c")
        self.assertNotEqual(Place("a"), Place("b"))
        self.assertEqual(Place("a", notes=["x"]), Place("a", notes=["y"]), "it is not compared")
        self.assertIsNot(Place("a").notes, Place("a").notes)
        self.assertNotEqual(Place("a"), StandardPlace("a"))

    def test_errors(self) -> None:
        with self.assertRaisesRegex(TypeError, r"Place.__init__\(\) missing 1 required positional argument: 'name'"):
            Place()  # type: ignore[call-arg]
        with self.assertRaisesRegex(TypeError, "unexpected keyword argument 'size'"):
            Place("a", size=1)  # type: ignore[call-arg]
        with self.assertRaisesRegex(ValueError, "no name"):
            Place("")
        for change in (lambda: setattr(Place("a"), "name", "b"), lambda: delattr(Place("a"), "name")):
            self.assertRaises(dataclasses.FrozenInstanceError, change)
        with self.assertRaises(TypeError):
            replace(Place("a"), size=1)  # type: ignore[call-arg]

    def test_one_that_inherits(self) -> None:
        farther = Farther("a", miles=2)
        self.assertEqual(repr(farther), "Farther(name='a', own=(), notes=[], miles=2)")
        self.assertRaises(TypeError, Farther, "a", (), [], 0, 2)

        @dataclasses.dataclass(frozen=True)
        class Standard(Place):
            size: int = 1

        self.assertEqual(Standard("a", size=2).size, 2)

    def test_the_first_use_in_many_threads_at_once(self) -> None:
        for _ in range(20):

            @frozen_class()
            class Fresh:
                name: str = "a"
                size: int = 1

            made: list[Any] = []
            start = threading.Barrier(8)

            def make(made: list[Any] = made, start: threading.Barrier = start, fresh: Any = Fresh) -> None:
                start.wait()
                made.append(fresh(size=2))

            threads = [threading.Thread(target=make) for _ in range(8)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
            self.assertEqual({(one.name, one.size) for one in made}, {("a", 2)})
            self.assertEqual(len(made), 8)

    def test_patterns(self) -> None:
        pattern = compiled(r"(\d+)")
        self.assertEqual(pattern.findall("1 of 22"), ["1", "22"])
        self.assertEqual((pattern.sub("n", "a1"), pattern.pattern), ("an", r"(\d+)"))


def modules_of(*arguments: str) -> set[str]:
    """Return the names of what a command has loaded at its end."""
    code = (
        "import contextlib, io, sys\nfrom vantric.cli.main import run\n"
        "with contextlib.redirect_stdout(io.StringIO()), contextlib.redirect_stderr(io.StringIO()):\n"
        "    run(sys.argv[1:])\nprint(*sys.modules)"
    )
    done = subprocess.run([sys.executable, "-c", code, *arguments], capture_output=True, text=True, check=True)
    return set(done.stdout.split())


class Start(InFolder):
    def test_text_and_data_need_no_array_and_no_engine(self) -> None:
        log = self.file(data_file("inspections.csv").decode(), "log.csv")
        heavy = {"numpy", "scipy", "pandas", "matplotlib", "duckdb", "_duckdb", "rich.console", "xml.etree.ElementTree"}
        for form in ("text", "json", "csv", "markdown"):
            loaded = modules_of("pareto", str(log), "--by", "defect", "--format", form)
            self.assertEqual(loaded & heavy, set(), form)
        for words in (["--help"], ["--version"], ["pareto", "--help"]):
            self.assertEqual(modules_of(*words) & heavy, set(), words)

    def test_the_engine_without_its_wrapper_or_with_it(self) -> None:
        log = self.file(data_file("inspections.csv").decode(), "log.csv")
        words = ("pareto", str(log), "--by", "defect", "--where", "pieces > 1", "--format", "json")
        self.assertNotIn("numpy", modules_of(*words))
        load = importlib.import_module

        def without_core(name: str) -> Any:
            if name == "_duckdb":
                raise ImportError(name)
            return load(name)

        def with_another_core(name: str) -> Any:
            return object() if name == "_duckdb" else load(name)

        for loading in (load, without_core, with_another_core):
            duckdb.cache_clear()
            with mock.patch.object(importlib, "import_module", loading):
                engine = duckdb()
            self.assertTrue(issubclass(engine.OutOfRangeException, engine.Error))
            self.assertEqual(engine.connect().execute("SELECT 42").fetchall(), [(42,)])
        self.assertEqual(engine.__name__, "duckdb")
        duckdb.cache_clear()

    def test_the_program_ends_when_all_is_written(self) -> None:
        log = self.file(data_file("inspections.csv").decode(), "log.csv")
        for words, status in ((["tally", str(log), "--by", "defect"], 0), (["tally", str(log), "--by", "no"], 2)):
            done = subprocess.run(
                [sys.executable, "-m", "vantric", *words], capture_output=True, text=True, check=False
            )
            self.assertEqual(done.returncode, status, done.stderr)
            self.assertTrue((done.stdout if status == 0 else done.stderr).endswith("\n"))
        code = (
            "import atexit, sys\nfrom vantric import __main__\natexit.register(print, 'the last')\n"
            "sys.argv = ['vantric', '--version']\n__main__.main()"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertRegex(done.stdout, r"^vantric [\d.]+\nthe last\n$")

    def test_a_thread_that_goes_on_is_waited_for(self) -> None:
        code = (
            "import sys, threading, time\nfrom vantric import __main__\n"
            "threading.Thread(target=lambda: (time.sleep(1.0), print('done'))).start()\n"
            "sys.argv = ['vantric', '--version']\n__main__.main()"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertIn("done\n", done.stdout)

    def test_a_full_disk_is_told(self) -> None:
        command = f"{sys.executable} -m vantric --version > /dev/full"
        done = subprocess.run(["bash", "-c", command], capture_output=True, text=True, check=False)
        self.assertNotEqual(done.returncode, 0)
