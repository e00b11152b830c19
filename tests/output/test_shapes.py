"""The JSON of every command is what its schema says, and says nothing that the schema does not."""

import contextlib
import json
import shlex
import tempfile
import unittest
from pathlib import Path

from jsonschema import Draft202012Validator
from tools.shapes import schemas

import vantric as vt
from tests.cli.test_cli import Result
from vantric.demo import DATA, data_file

COMMANDS = (
    "pareto inspections.csv --by defect --keep 9 --intervals --concentration",
    "pareto inspections.csv --by defect --split kiln --keep 9",
    "pareto inspections.csv --by kiln --per pieces --weight rework_cost --date date",
    "pareto inspections.csv --drill kiln,shift",
    "pareto inspections.csv --by defect --no-cut --missing category",
    "pareto survey.csv --by answer --order given",
    "pareto inspections.csv --by defect --order label --last Stain --where \"kiln = 'Kiln 1'\"",
    "pareto crews.csv --by crew --weight planned_hours --cut 50,80",
    "pareto inspections.csv --by kiln --split shift --intervals",
    "pareto inspections.csv --by defect --rule within --ties include --merge-spellings",
    "tally inspections.csv --by defect --weight pieces",
    "tally inspections.csv --by product --split kiln",
    "tally survey.csv --by answer --split shift --percent-of row",
    "compare inspections.csv --by defect --split shift --before Early --after Night",
    "compare inspections.csv --by kiln --split shift --before Early --after Night --per pieces",
    "compare inspections.csv inspections.csv --by kiln",
    "trend inspections.csv --by defect --date date",
    "trend inspections.csv --by kiln --date date --per pieces --period quarter",
    "combine firings.csv --x month --bars first_firing --line percent:rejected/first_firing=R --relate first_firing,R",
    "combine crews.csv --x crew --planned planned_hours --actual achieved_hours",
    "combine inspections.csv --x date --period month --bars sum:pieces=P --line mean:rework_cost=M",
    "combine firings.csv --x month --bars first_firing --bars second_firing --together percent",
    "scales 0:650 0:100",
    "scales 1:1000 -5:9 --primary-log",
    "scales 0:650 0:100 --policy proportional --meet 650:100",
    "review flawed_sheet.csv",
    "review inspections.csv --by defect",
    "review flawed_book.xlsx",
    "review flawed_overlay.toml",
    "columns inspections.csv",
    "columns kiln_sheets.xlsx",
    "columns rework_costs.csv",
)


class Shapes(unittest.TestCase):
    def test_what_commands_print_is_what_the_schemas_say(self) -> None:
        strict = {
            path.name.partition(".")[0]: Draft202012Validator(found) for path, found in schemas(strict=True).items()
        }
        with tempfile.TemporaryDirectory() as folder, contextlib.chdir(folder):
            for name in DATA:
                Path(name).write_bytes(data_file(name))
            for command in COMMANDS:
                with self.subTest(command=command):
                    result = Result(*shlex.split(command), "--format", "json")
                    self.assertEqual(result.status, 0, result.err)
                    wrong = [
                        f"{error.json_path}: {error.message[:200]}"
                        for error in strict[command.split()[0]].iter_errors(json.loads(result.out))
                    ]
                    self.assertEqual(wrong, [])

    def test_python_gives_the_same(self) -> None:
        strict = {
            path.name.partition(".")[0]: Draft202012Validator(found) for path, found in schemas(strict=True).items()
        }
        table = vt.pareto({"a": 3, "b": 2, "c": 2}, keep=None)
        change = vt.compare({"a": 3, "b": 2}, {"a": 1, "c": 4})
        for kind, found in (
            ("pareto", table),
            ("tally", vt.tally({"a": 3, "b": 0})),
            ("compare", change),
            ("scales", vt.align((0, 5), (0, 9))),
        ):
            self.assertEqual(
                [error.message for error in strict[kind].iter_errors(json.loads(json.dumps(found.to_dict())))], [], kind
            )

    def test_the_schemas_are_schemas_and_say_what_they_are_of(self) -> None:
        for found in schemas().values():
            Draft202012Validator.check_schema(found)
            shape = found["$defs"]["Pareto"] if "$ref" in found else found
            self.assertRegex(shape["properties"]["format"]["const"], "^vantric/")

    def test_a_wrong_object_is_refused(self) -> None:
        [schema] = [found for path, found in schemas().items() if path.name.startswith("scales")]
        self.assertFalse(Draft202012Validator(schema).is_valid({"format": "vantric/scales"}))


if __name__ == "__main__":
    unittest.main()
