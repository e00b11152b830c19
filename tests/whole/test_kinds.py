"""One path, one table, one class: what keeps the house light."""

import ast
import json
import re
import subprocess
import sys
import tempfile
import unittest
from collections import Counter
from dataclasses import dataclass
from pathlib import Path
from types import ModuleType
from unittest import mock

import vantric as vt
from tests.whole.test_house import ROOT, modules
from vantric import kinds
from vantric.base.safe_files import TABLES
from vantric.core.counts.provenance import Provenance
from vantric.core.results import TableResult
from vantric.demo import data_file
from vantric.files.models import SHAPES
from vantric.kinds.kind import Kind, _nothing
from vantric.output.writers import WRITERS
from vantric.tables.table import Column, Table

_MOST_ENTERED = 127
_MOST_TYPED = 45  # imports of types from rooms further down


class Kinds(unittest.TestCase):
    def test_every_kind_of_a_chart_file_fills_every_field(self) -> None:
        for name in SHAPES:
            kind = kinds.kind_named(name)
            fields = ["make", "chart", "section"]
            fields += [] if name == "series" else ["tables", "data", "view"]
            fields += [] if kind.drawn else ["review"]
            with self.subTest(kind=name):
                self.assertEqual(kind.name, name)
                self.assertEqual([field for field in fields if getattr(kind, field) is _nothing], [])

    def test_a_row_a_kind(self) -> None:
        for name in kinds.NAMES:
            self.assertEqual(kinds.kind_named(name).name, name)

    def test_one_writer_an_ending(self) -> None:
        self.assertEqual(sorted(WRITERS), sorted(TABLES))

    def test_a_new_format_is_one_line(self) -> None:
        def lines(content: object) -> bytes:
            [table] = content.tables(content.local)  # type: ignore[attr-defined]
            return "\n".join(table.shown(0)).encode()

        with mock.patch.dict(WRITERS, {"txt": lines}), tempfile.TemporaryDirectory() as folder:
            path = vt.pareto(["a", "a", "b"]).save(Path(folder) / "a.txt")
            self.assertEqual(path.read_text().splitlines()[:3], ["1", "a", "2"])
        with self.assertRaisesRegex(vt.VantricError, "its ending is not one of"):
            vt.pareto(["a", "a", "b"]).save("a.txt")

    def test_a_new_kind_is_a_row_and_a_file(self) -> None:
        @dataclass(frozen=True)
        class Lengths(TableResult):
            labels: tuple[str, ...]
            _kind = "lengths"

        def tables(result: Lengths, look: object, local: object) -> list[Table]:
            longs = list(map(len, result.labels))
            return [Table((Column("Label", result.labels, kind="text", key="label"), Column("Length", longs, key="n")))]

        module = ModuleType("vantric.kinds.lengths")
        module.KIND = Kind(  # type: ignore[attr-defined]
            name="lengths",
            origin=lambda result: Provenance(),
            sentence=lambda result: f"{len(result.labels)} labels.",
            tables=tables,
            data=lambda result, look, findings: {"labels": list(result.labels)},
        )
        rows = {**kinds.NAMES, "lengths": ("lengths", "KIND")}
        with (
            mock.patch.dict(sys.modules, {module.__name__: module}),
            mock.patch.object(kinds, "NAMES", rows),
            tempfile.TemporaryDirectory() as folder,
        ):
            result = Lengths(("Pinhole", "Chip"))
            self.assertEqual(result.sentence(), "2 labels.")
            self.assertEqual(
                result.save(Path(folder) / "a.csv").read_text().splitlines(), ["label,n", "Pinhole,7", "Chip,4"]
            )
            self.assertIn(
                "| Pinhole | 7 |", result._of_kind().content(result, None, ()).tables(None) and self.markdown(result)
            )
            self.assertEqual(
                json.loads(result.save(Path(folder) / "a.json").read_text()), {"labels": ["Pinhole", "Chip"]}
            )

    def markdown(self, result: TableResult) -> str:
        from vantric.core.messages.formatter import PLAIN
        from vantric.output.markup import tables_markdown

        return tables_markdown(result._of_kind().tables(result, None, PLAIN))


class Classes(unittest.TestCase):
    def test_a_public_class_exists_once(self) -> None:
        names = Counter(
            node.name
            for _, path in modules()
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8")))
            if isinstance(node, ast.ClassDef)
        )
        public = [name for name in vt.__all__ if isinstance(getattr(vt, name), type)]
        self.assertEqual({name: names[name] for name in public if names[name] > 1}, {})

    def test_the_core_knows_the_registry_by_one_string(self) -> None:
        known, typed = [], 0
        for module, path in modules():
            if not module.startswith("vantric.core"):
                continue
            text = path.read_text(encoding="utf-8")
            known += [module] * len(re.findall(r'"vantric\.(?!core)[a-z]+\b', text))
            typed += len(re.findall(r"^ +from vantric\.(?!core|base|errors|options)[a-z]+\b", text, re.MULTILINE))
        self.assertEqual(known, ["vantric.core.results"])
        self.assertLessEqual(typed, _MOST_TYPED)


class Entered(unittest.TestCase):
    def test_a_picture_passes_through_few_modules(self) -> None:
        code = (
            "import sys, io, contextlib\nseen = set()\n"
            "def enter(frame, event, arg):\n"
            "    name = frame.f_code.co_filename\n"
            f"    if event == 'call' and name.startswith({str(ROOT)!r}) and frame.f_code.co_name != '<module>': seen.add(name)\n"
            "from vantric.cli.main import run\nsys.setprofile(enter)\n"
            "with contextlib.redirect_stdout(io.StringIO()), contextlib.redirect_stderr(io.StringIO()):\n"
            "    status = run(['pareto', 'i.csv', '--by', 'defect', '--out', 'a.png'])\n"
            "sys.setprofile(None)\nprint(status, len(seen))"
        )
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "i.csv").write_bytes(data_file("inspections.csv"))
            done = subprocess.run([sys.executable, "-c", code], cwd=folder, capture_output=True, text=True, check=True)
        status, entered = map(int, done.stdout.split())
        self.assertEqual(status, 0)
        self.assertLessEqual(entered, _MOST_ENTERED)
