"""A pattern of many files: of mixed order, packed, and without a column in some."""

import gzip
import json
import sys
import unittest
from pathlib import Path
from unittest import mock

import pyarrow as pa
import pyarrow.parquet as pq
import zstandard

import vantric as vt
from tests.cli.test_cli import Result
from tests.folder import InFolder
from vantric.engines.duckdb_engine import DuckDBEngine
from vantric.errors import ColumnError, MissingExtraError, SourceError


class ManyFiles(InFolder):
    def files(self, number: int = 30) -> Path:
        """Write files of three orders of columns, plain, as gzip and as zstd; return their folder."""
        home = Path(self.folder) / "logs"
        home.mkdir()
        orders = (["defect", "pieces", "kiln"], ["kiln", "defect", "pieces"], ["pieces", "kiln", "defect"])
        for at in range(number):
            names = orders[at % 3]
            rows = [
                {"defect": f"Defect {row % 4}", "pieces": str(row + 1), "kiln": f"Kiln {at % 2}"} for row in range(8)
            ]
            text = "\n".join([",".join(names), *(",".join(row[name] for name in names) for row in rows)]) + "\n"
            plain, packing = home / f"{at:03d}.csv", at % 4
            if packing == 1:
                with gzip.open(f"{plain}.gz", "wt") as file:
                    file.write(text)
            elif packing == 2:
                with zstandard.open(f"{plain}.zst", "wt") as file:
                    file.write(text)
            else:
                plain.write_text(text)
        return home

    def test_any_order_of_columns_and_any_packing(self) -> None:
        home = self.files()
        tally = vt.tally(f"{home}/*.csv*", "defect", count="pieces")
        self.assertEqual(tally.as_dict(), {"Defect 0": 180, "Defect 1": 240, "Defect 2": 300, "Defect 3": 360})
        self.assertEqual(tally.origin.input_rows, 240)
        where = vt.tally(f"{home}/*.csv*", "defect", where="kiln = 'Kiln 1' and pieces > 4")
        self.assertEqual(where.as_dict(), {f"Defect {number}": 15 for number in range(4)})
        self.assertEqual(vt.crosstab(f"{home}/*", "defect", "kiln").tally().as_dict()["Defect 0"], 60)

    def test_the_engine_opens_files_alike_in_one_go(self) -> None:
        home = self.files()
        asked = []
        plain = DuckDBEngine.ask

        def ask(engine: DuckDBEngine, sql: str) -> list[tuple[object, ...]]:
            asked.append(sql)
            return plain(engine, sql)

        with mock.patch.object(DuckDBEngine, "ask", ask):
            vt.tally(f"{home}/*.csv*", "defect")
        grouping = [sql for sql in asked if "GROUP BY" in sql]
        self.assertTrue(grouping)
        self.assertEqual({sql.count("read_csv") for sql in grouping}, {3})

    def test_a_column_that_some_lack_is_reported(self) -> None:
        home = self.files(6)
        (home / "x.csv").write_text("cause,pieces\nPinhole,5\nWarping,6\n")
        (home / "y.csv").write_text("cause,pieces\nPinhole,5\n")
        tally = vt.tally(f"{home}/*.csv*", "defect")
        self.assertEqual(tally.missing.records, 3)
        said = next(remark for remark in tally.origin.remarks if remark.code == "missing-column")
        self.assertRegex(said.message, r"^2 of 8 files have no column 'defect' \('.*x\.csv' is the first\)")
        with self.assertRaisesRegex(ColumnError, r"x\.csv' has no column 'pieces'"):
            (home / "x.csv").write_text("defect,n\nPinhole,5\n")
            vt.tally(f"{home}/*.csv*", "defect", count="pieces")
        with self.assertRaisesRegex(ColumnError, "has no column 'nothing'"):
            vt.tally(f"{home}/*.csv*", "nothing")
        result = Result("tally", f"{home}/*.csv*", "--by", "cause", "--format", "json")
        self.assertIn("missing-column", [finding["code"] for finding in json.loads(result.out)["findings"]])

    def test_a_condition_on_a_column_that_some_lack(self) -> None:
        home = self.files(3)
        (home / "x.csv").write_text("defect,pieces\nPinhole,50\n")
        tally = vt.tally(f"{home}/*.csv*", "defect", where="kiln = 'Kiln 1'")
        self.assertNotIn("Pinhole", tally.as_dict())
        self.assertEqual(vt.tally(f"{home}/*.csv*", "defect", where="pieces > 40").as_dict(), {"Pinhole": 1})

    def test_files_that_are_no_plain_tables_are_among_them(self) -> None:
        home = self.files(4)
        (home / "titled.csv").write_text("Kiln report,,\n,,\ndefect,pieces,kiln\nPinhole,5,Kiln 1\nWarping,3,Kiln 1\n")
        (home / "units.csv").write_text("defect,pieces,kiln\n,(pcs),\nPinhole,5,Kiln 1\nWarping,3,Kiln 2\n")
        tally = vt.tally(f"{home}/*.csv*", "defect", where="defect in ('Pinhole', 'Warping')")
        self.assertEqual(tally.as_dict(), {"Pinhole": 2, "Warping": 2})

    def test_parquet_of_mixed_columns(self) -> None:
        home = Path(self.folder) / "parquet"
        home.mkdir()
        for at in range(5):
            table = pa.table({"defect": ["a", "b"], "n": pa.array([at, 1], pa.int32() if at % 2 else pa.int64())})
            pq.write_table(table.select(["n", "defect"] if at > 2 else ["defect", "n"]), home / f"{at}.parquet")
        self.assertEqual(vt.tally(f"{home}/*.parquet", "defect", count="n").as_dict(), {"a": 10, "b": 5})
        pq.write_table(pa.table({"defect": ["c"]}), home / "9.parquet")
        tally = vt.tally(f"{home}/*.parquet", "defect")
        self.assertEqual(tally.as_dict(), {"a": 5, "b": 5, "c": 1})
        with self.assertRaisesRegex(ColumnError, r"9\.parquet' has no column 'n'"):
            vt.tally(f"{home}/*.parquet", "defect", count="n")

    def test_an_empty_file_is_among_them(self) -> None:
        home = self.files(4)
        for empty in ("", "\n\n", ",,\n"):
            (home / "empty.csv").write_text(empty)
            with self.subTest(empty), self.assertRaisesRegex(SourceError, "empty"):
                vt.tally(f"{home}/*.csv*", "defect")

    def test_zstd_alone_and_broken(self) -> None:
        path = Path(self.folder) / "log.csv.zst"
        path.write_bytes(zstandard.compress("defect\nÜbermaß\nPinhole\nPinhole\n".encode()))
        self.assertEqual(vt.tally(path, "defect").as_dict(), {"Pinhole": 2, "Übermaß": 1})
        path.write_bytes(zstandard.compress("defect\nÜberma\u00df\n".encode("latin-1")))
        self.assertEqual(vt.tally(path, "defect").as_dict(), {"Übermaß": 1})
        path.write_bytes(b"no such packing")
        with self.assertRaisesRegex(SourceError, "its compression is broken"):
            vt.tally(path, "defect")
        records = Path(self.folder) / "log.ndjson.zst"
        records.write_bytes(zstandard.compress(b'{"defect": "a"}\n{"defect": "b"}\n'))
        self.assertEqual(vt.tally(records, "defect").as_dict(), {"a": 1, "b": 1})
        with (
            mock.patch.dict(sys.modules, {"zstandard": None}),
            self.assertRaisesRegex(MissingExtraError, r"pip install 'vantric\[zstd\]'"),
        ):
            vt.tally(path, "defect")


if __name__ == "__main__":
    unittest.main()
