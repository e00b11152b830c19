"""Broken files, hostile chart and report files, odd options and completion over every command: ``make fuzz``.

Each input runs in a process of its own, forked from one that has everything loaded. A find is a traceback, a fault, a
Python warning, an exit status other than 0, 1 and 2, an error of more than one line, or a hang. The same seed gives the
same inputs; ``--only N`` runs one of them again and shows it.
"""

from __future__ import annotations

import argparse
import gzip
import json
import os
import shutil
import signal
import sqlite3
import sys
import tempfile
import time
import tomllib
import traceback
from collections import Counter
from pathlib import Path
from random import Random
from typing import Any

PATIENCE = 20  # seconds
ODD_TEXT = (
    "",
    " ",
    "\0",
    "\n",
    "\r",
    "\x1b[31m",
    "\ufeff",
    "\u202e",
    "''",
    '"',
    "%",
    "%s",
    "{}",
    "\\",
    "=1+1",
    "../x",
    "/",
    "x" * 5000,
    "ä",
    "日本",
    "\U0001f600",
    "\ud800",
    "NaN",
    "inf",
    "-inf",
    "1e999",
    "1e-999",
    "-0",
    "0x10",
    "1_000",
    "9" * 400,
    "1,234.5",
    "1.234,5",
    "12 %",
    "9999-12-31",
    "0001-01-01",
    "2026-02-30",
    "null",
    "None",
    "true",
    "(missing)",
    "Total",
    "none",
    "--",
    "-",
    "a=b=c",
    "0:",
    ":",
    "1:0",
    "1:1:1",
    "nan:inf",
    "@",
    "a@secondary",
)
ODD_VALUES: tuple[Any, ...] = (
    *ODD_TEXT,
    0,
    -1,
    1,
    1e308,
    5e-324,
    float("nan"),
    float("inf"),
    10**400,
    True,
    False,
    None,
    [],
    {},
    [[]],
    [None],
    {"a": 1},
    [1, 2],
    ["x", "x"],
    2**63,
    -(2**63),
)


def base_files(folder: Path) -> None:
    """Write the well-formed files that are broken later: the demo data, in every format."""
    import pandas as pd
    from openpyxl import Workbook, load_workbook

    from vantric.demo import DATA, STEPS, data_file

    for name in DATA:
        (folder / name).write_bytes(data_file(name))
    small = pd.read_csv(folder / "inspections.csv", dtype=str, nrows=40)
    small["pieces"] = pd.to_numeric(small["pieces"]).fillna(1).astype(int)
    small.to_csv(folder / "small.csv", index=False)
    small.to_csv(folder / "small.tsv", index=False, sep="\t")
    small.to_csv(folder / "semi.csv", index=False, sep=";", decimal=",", encoding="utf-16")
    small.to_json(folder / "small.json", orient="records")
    small.to_json(folder / "small.ndjson", orient="records", lines=True)
    small.to_parquet(folder / "small.parquet")
    book = Workbook()
    for row in (list(small.columns), *small.astype(object).where(small.notna(), None).values.tolist()):
        book.worksheets[0].append(row)
    book.save(folder / "small.xlsx")
    (folder / "small.csv.gz").write_bytes(gzip.compress((folder / "small.csv").read_bytes()))
    with sqlite3.connect(folder / "small.db") as base:
        small.to_sql("log", base, index=False)
    base.close()
    (folder / "small.ods").write_bytes(_document(small.astype(str).values.tolist(), list(small.columns)))
    (folder / "families.json").write_text(json.dumps({"Crack": "Body", "Pinhole": "Glaze"}))
    (folder / "words.toml").write_text('[words]\ntotal = "Summe"\n')
    (folder / "monthly.json").write_text(json.dumps(tomllib.loads((folder / "monthly.toml").read_text())))
    formulas = load_workbook(folder / "flawed_book.xlsx")
    for row in range(2, 60):
        formulas.worksheets[0].cell(row, 30, f"=SUM(A$2:A{row})/MAX(1,B{row})")
    formulas.save(folder / "formulas.xlsx")
    from vantric.cli.main import run

    for _, arguments in STEPS[1:]:
        if arguments[0] in ("pareto", "compare", "tally", "combine", "scales") and "--save-chart" not in arguments:
            plain = [one for at, one in enumerate(arguments) if "--out" not in (one, arguments[at - 1])]
            for ending in ("toml", "json"):
                name = f"kept{len(list(folder.glob('kept*')))}.{ending}"
                with Quietly():
                    run([*plain, "--save-chart", name])


def _document(rows: list[list[str]], head: list[str]) -> bytes:
    import io
    import zipfile

    cell = '<table:table-cell office:value-type="string"><text:p>{}</text:p></table:table-cell>'
    body = "".join(f"<table:table-row>{''.join(map(cell.format, row))}</table:table-row>" for row in [head, *rows])
    names = "".join(
        f' xmlns:{short}="urn:oasis:names:tc:opendocument:xmlns:{full}:1.0"'
        for short, full in (("office", "office"), ("table", "table"), ("text", "text"))
    )
    content = (
        f"<office:document-content{names}><office:body><office:spreadsheet>"
        f'<table:table table:name="Log">{body}</table:table>'
        "</office:spreadsheet></office:body></office:document-content>"
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", content)
        archive.writestr(
            "META-INF/manifest.xml",
            '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"/>',
        )
    return out.getvalue()


#: Stands for the variable by which a shell asks for completions.
COMPLETE = "complete"
_SHELLS = ("bash", "zsh", "fish")
_LINES = (
    'vantric pareto small.csv --by "d',
    "vantric tally 'small.csv' --by=",
    "vantric combine semi.csv --line percent:re",
    "vantric review small.xlsx --sheet ",
    "vantric draw kept1",
    "vantric par",
    "vantric pareto small.ods --cells A1:B9 --count p\\ i",
    "vantric help tot",
)


def commands() -> list[tuple[str, ...]]:
    """Return well-formed commands, whose sources and options are changed."""
    from vantric.demo import STEPS

    found = [arguments for _, arguments in STEPS]
    small = (
        "small.csv",
        "small.tsv",
        "semi.csv",
        "small.json",
        "small.ndjson",
        "small.parquet",
        "small.xlsx",
        "small.ods",
        "small.csv.gz",
    )
    for name in small:
        found += [
            ("columns", name),
            ("columns", name, "--format", "json"),
            ("tally", name, "--by", "defect", "--count", "pieces", "--format", "csv"),
            ("pareto", name, "--by", "defect", "--where", "pieces > 1", "--format", "json"),
            ("pareto", name, "--by", "defect", "--weight", "pieces", "--families", "families.json"),
            ("tally", name, "--by", "defect", "--split", "kiln", "--format", "markdown"),
            ("combine", name, "--x", "date", "--period", "month", "--bars", "sum:pieces"),
            ("review", name, "--by", "defect"),
            ("compare", name, "--by", "defect", "--split", "shift", "--before", "Early", "--after", "Night"),
        ]
    found += [
        ("tally", "sqlite:///small.db", "--table", "log", "--by", "defect"),
        ("pareto", "sqlite:///small.db", "--query", "select * from log; -- so", "--by", "defect", "--count", "pieces"),
        ("pareto", "small.csv", "--by", "defect", "--words-file", "words.toml", "--out", "w.png"),
        (
            "pareto",
            "small.csv",
            "--by",
            "defect",
            "--words-file",
            "words.toml",
            "--out",
            "w.svg",
            "--save-chart",
            "w.json",
        ),
        ("tally", "small*.csv", "--by", "defect", "--date", "date", "--unique", "date", "--out", "u.html"),
    ]
    for book in ("kiln_sheets.xlsx", "scrap_years.xlsx", "flawed_book.xlsx", "formulas.xlsx"):
        found += [("review", book), ("review", book, "--format", "json"), ("review", book, "--sheet", "*")] * 4
        found += [("tally", book, "--by", "defect", "--sheet", "*")] * 2
    for report in ("monthly.toml", "monthly.json"):
        found += [("report", report, "--format", form) for form in ("text", "json", "markdown", "markdown")] * 5
        found += [("report", report, "--out", f"r.{ending}", "--partial") for ending in ("html", "md", "xlsx")] * 3
    for shell in _SHELLS:
        found += [(COMPLETE, shell, line) for line in _LINES] * 2
    for ending in ("toml", "json"):
        found += [(verb, f"kept{n}.{ending}") for n in range(40) for verb in ("draw", "review")]
        found += [("draw", f"kept{n}.{ending}", "--out", "k.svg") for n in range(0, 40, 3)]
    return found


def broken(content: bytes, chance: Random) -> bytes:
    """Return a file with a few changes."""
    data = bytearray(content)
    for _ in range(chance.choice((1, 1, 2, 4, 9))):
        at = chance.randrange(len(data) + 1)
        what = chance.randrange(7)
        if what == 0 and data:
            data[at % len(data)] = chance.randrange(256)
        elif what == 1:
            data[at:at] = bytes(chance.randrange(256) for _ in range(chance.randrange(1, 9)))
        elif what == 2:
            del data[at : at + chance.choice((1, 2, 9, 200))]
        elif what == 3:
            data[at:at] = data[at : at + chance.choice((1, 9, 300))] * chance.choice((1, 2, 30))
        elif what == 4:
            data[at:at] = chance.choice(ODD_TEXT).encode("utf-8", "surrogatepass")
        elif what == 5:
            data[at : at + 4] = chance.choice((b",", b"\n", b'"', b";", b"[", b"}", b"=", b"\t", b"\0"))
        else:
            data = data[:at] if chance.random() < 0.3 else data
    return bytes(data)


def twisted(value: Any, chance: Random) -> Any:
    """Return parsed TOML or JSON with one value, or key, put in place of another."""
    if isinstance(value, dict) and value and chance.random() < 0.85:
        key = chance.choice(list(value))
        if chance.random() < 0.1:
            return {
                chance.choice(("x", "kind", "source", *value)) if one == key else one: v for one, v in value.items()
            }
        return {**value, key: twisted(value[key], chance)}
    if isinstance(value, list) and value and chance.random() < 0.8:
        at = chance.randrange(len(value))
        return [*value[:at], twisted(value[at], chance), *value[at + 1 :]]
    return chance.choice(ODD_VALUES)


def prepared(seed: int, place: int, base: Path, folder: Path) -> list[str]:
    """Write the files of one input and return its command."""
    chance = Random(f"{seed} {place}")
    known = commands()
    arguments = list(chance.choice(known))
    names = [one for one in arguments if (base / one).is_file()]
    for name in base.iterdir():
        (folder / name.name).symlink_to(name)
    if arguments[1].startswith("sqlite"):
        names.append("small.db")
    if chance.random() < 0.75:
        for name in chance.sample(names, min(len(names), 1)):
            content = (base / name).read_bytes()
            changed = _changed(name, content, chance)
            (folder / name).unlink()
            (folder / name).write_bytes(changed)
    for _ in range(chance.choice((0, 0, 1, 2))):
        at = chance.randrange(1, len(arguments))
        if chance.random() < 0.75:
            arguments[at] = chance.choice(ODD_TEXT) if not arguments[at].startswith("--") else arguments[at]
        else:
            arguments[at:at] = ["--" + chance.choice(_options(arguments[0])), chance.choice(ODD_TEXT)]
    # No process can be given a NUL sign, nor half a surrogate pair but as a byte that is no UTF-8.
    return [one.replace("\0", "").replace("\ud800", "\udcff") for one in arguments]


def _options(command: str) -> list[str]:
    from vantric.cli.main import command_named

    found = command_named("pareto" if command == COMPLETE else command)
    return [one.opts[-1].removeprefix("--") for one in found.params if one.opts[-1].startswith("--")]


def _changed(name: str, content: bytes, chance: Random) -> bytes:
    if name.endswith((".toml", ".json")) and chance.random() < 0.8:
        found = tomllib.loads(content.decode()) if name.endswith(".toml") else json.loads(content)
        for _ in range(chance.choice((1, 1, 2, 3))):
            found = twisted(found, chance)
        if name.endswith(".json"):
            return json.dumps(found).encode()
        import tomli_w

        try:
            return tomli_w.dumps(found).encode()
        except (TypeError, ValueError, AttributeError):
            return broken(content, chance)
    if name.endswith((".xlsx", ".ods")) and chance.random() < 0.7:
        return _with_broken_part(content, chance)
    return broken(content, chance)


def _with_broken_part(content: bytes, chance: Random) -> bytes:
    import io
    import zipfile

    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        hit = chance.choice(old.namelist())
        for name in old.namelist():
            new.writestr(name, broken(old.read(name), chance) if name == hit else old.read(name))
    return out.getvalue()


class Quietly:
    """Nothing of what is said is shown."""

    def __enter__(self) -> None:
        self._kept = [os.dup(1), os.dup(2)]
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 1)
        os.dup2(nowhere, 2)

    def __exit__(self, *_: object) -> None:
        sys.stdout.flush()
        for at, kept in enumerate(self._kept, 1):
            os.dup2(kept, at)
            os.close(kept)


def outcome(arguments: list[str], folder: Path) -> tuple[str, str]:
    """Run one input in a process of its own; return what is wrong with it, if anything, and what it said."""
    said, shown = folder / "said.txt", folder / "shown.txt"
    pid = os.fork()
    if pid == 0:
        try:
            os.chdir(folder)
            os.environ["VANTRIC_TRACEBACK"] = "1"
            for number, path in ((1, shown), (2, said)):
                os.dup2(os.open(path, os.O_WRONLY | os.O_CREAT), number)
            os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
            from vantric.cli.main import main

            if arguments[0] == COMPLETE:
                shell, line = (*arguments[1:], "", "")[:2]
                os.environ["_VANTRIC_COMPLETE"] = f"{shell if shell in _SHELLS else 'bash'}_complete"
                os.environ["VANTRIC_LINE"], os.environ["VANTRIC_BREAKS"] = line, " \t\n\"'><=;|&(:"
            main([] if arguments[0] == COMPLETE else arguments)
        except SystemExit as error:
            sys.stdout.flush()
            os._exit(error.code if isinstance(error.code, int) else 1)
        except BaseException:
            traceback.print_exc()
            sys.stderr.flush()
        os._exit(77)
    until, status = time.monotonic() + PATIENCE, None
    while status is None and time.monotonic() < until:
        found, code = os.waitpid(pid, os.WNOHANG)
        if found:
            status = os.waitstatus_to_exitcode(code)
        else:
            time.sleep(0.004)
    if status is None:
        os.kill(pid, signal.SIGKILL)
        os.waitpid(pid, 0)
    text = said.read_text("utf-8", "replace") if said.exists() else ""
    return _wrong(status, text), text


def _wrong(status: int | None, said: str) -> str:
    if status is None:
        return "hang"
    if status not in (0, 1, 2):
        return f"status {status}"
    if "Traceback" in said:
        return "traceback"
    if "Warning:" in said:
        return "Python warning"
    errors = [
        line for line in said.splitlines() if not line.startswith(("vantric: warning", "vantric: note", "wrote "))
    ]
    if status == 2 and len([line for line in errors if line.strip()]) != 1:
        return "an error of several lines, or none"
    return ""


def main() -> int:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seed", type=int, default=20261125)
    options.add_argument("--inputs", type=int, default=20_000)
    options.add_argument("--minutes", type=float, default=60)
    options.add_argument("--only", type=int)
    options.add_argument("--part", default="0/1", help="K/N: every Nth input from the Kth on, to share the work")
    chosen = options.parse_args()
    os.environ["TERM"] = "dumb"

    wrong: Counter[str] = Counter()
    done, until = 0, time.monotonic() + 60 * chosen.minutes
    start, step = map(int, chosen.part.split("/"))
    places = [chosen.only] if chosen.only is not None else range(start, chosen.inputs, step)
    with tempfile.TemporaryDirectory() as room:
        base = Path(room) / "base"
        base.mkdir()
        before = Path.cwd()
        os.chdir(base)
        base_files(base)
        os.chdir(before)
        for place in places:
            if time.monotonic() > until:
                print(f"the time is over after {done:,} inputs")
                break
            folder = Path(room) / f"{place}"
            folder.mkdir()
            arguments = prepared(chosen.seed, place, base, folder)
            found, said = outcome(arguments, folder)
            done += 1
            if found or chosen.only is not None:
                wrong[found] += bool(found)
                print(f"{place}: {found}: {arguments}\n{said[-1500:]}", flush=True)
            if chosen.only is None:
                shutil.rmtree(folder)
            else:
                shutil.copytree(folder, f"fuzz-{place}", dirs_exist_ok=True)
    print(f"{done:,} inputs, {sum(wrong.values())} finds {dict(wrong)}")
    return int(bool(sum(wrong.values())))


if __name__ == "__main__":
    sys.exit(main())
