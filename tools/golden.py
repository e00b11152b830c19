"""Golden runs: what every command, format and call of Python gives, recorded to the byte, and two records compared.

``python -m tools.golden record FOLDER [GROUP ...]`` runs all cases of this checkout, or those of some groups;
``python -m tools.golden compare ONE OTHER`` lists the files in which two records differ. A step that only moves code
is done when there are none.
"""

from __future__ import annotations

import contextlib
import filecmp
import os
import shutil
import sys
import traceback
from collections.abc import Callable, Sequence
from pathlib import Path

LOG, FIRINGS = "inspections.csv", "firings.csv"
_DEFECTS = (LOG, "--by", "defect", "--merge-spellings")
_FIRED = (FIRINGS, "--x", "month", "--bars", "first_firing=Tiles fired")
_COST = (*_DEFECTS, "--count", "pieces", "--weight", "rework_cost")
_DRILL = ("pareto", LOG, "--drill", "family,defect")
_SHIFTS = (*_DEFECTS, "--split", "shift", "--before", "Early", "--after", "Night")
_CREWS = ("combine", "crews.csv", "--x", "crew")
_WEEKS = ("combine", LOG, "--x", "date", "--period", "week")
#: Name -> the arguments of a result; every one is recorded in every format and two languages.
RESULTS: dict[str, tuple[str, ...]] = {
    "tally": ("tally", *_DEFECTS),
    "tally-weight": ("tally", *_COST),
    "tally-missing": ("tally", LOG, "--by", "defect", "--missing", "category"),
    "crosstab": ("tally", LOG, "--by", "product", "--split", "kiln"),
    "crosstab-row": ("tally", LOG, "--by", "product", "--split", "kiln", "--percent-of", "row"),
    "crosstab-turned": ("tally", LOG, "--by", "product", "--split", "shift", "--transpose"),
    "pareto": ("pareto", *_DEFECTS, "--keep", "9"),
    "pareto-cost": (
        "pareto",
        *_DEFECTS,
        "--count",
        "pieces",
        "--weight",
        "rework_cost",
        "--cut",
        "60,80,95",
        "--keep",
        "12",
    ),
    "pareto-rate": ("pareto", LOG, "--by", "kiln", "--per", "pieces", "--per-units", "100", "--no-cut"),
    "pareto-split": ("pareto", *_DEFECTS, "--split", "kiln", "--keep", "10"),
    "pareto-panels": ("pareto", *_DEFECTS, "--split", "kiln", "--keep", "10", "--panels"),
    "pareto-drill": (
        "pareto",
        LOG,
        "--drill",
        "family,defect",
        "--families",
        "defect_families.csv",
        "--merge-spellings",
    ),
    "pareto-intervals": ("pareto", *_DEFECTS, "--where", "kiln = 'Kiln 3'", "--intervals", "--concentration"),
    "pareto-given": ("pareto", "survey.csv", "--by", "answer", "--order", "label"),
    "compare": ("compare", *_SHIFTS),
    "compare-rate": (
        "compare",
        *_DEFECTS,
        "--split",
        "shift",
        "--before",
        "Early",
        "--after",
        "Night",
        "--per",
        "2000,1500",
    ),
    "combine": ("combine", *_FIRED, "--line", "percent:rejected/first_firing=Rejected", "--unit", "Tiles fired=tiles"),
    "combine-stack": ("combine", *_FIRED, "--bars", "second_firing=Second", "--together", "percent", "--totals"),
    "combine-gap": (
        "combine",
        "crews.csv",
        "--x",
        "crew",
        "--planned",
        "planned_hours",
        "--actual",
        "achieved_hours",
    ),
    "combine-relate": ("combine", *_FIRED, "--line", "energy_kwh=Energy", "--relate", "Tiles fired,Energy"),
    "combine-week": (
        "combine",
        LOG,
        "--x",
        "date",
        "--period",
        "week",
        "--bars",
        "sum:pieces=Pieces",
        "--points",
        "mean:rework_cost=Cost",
    ),
    "trend": ("trend", *_DEFECTS, "--date", "date"),
    "trend-rate": (
        "trend",
        *_DEFECTS,
        "--date",
        "date",
        "--per",
        "pieces",
        "--per-units",
        "100",
        "--mark",
        "2026-05-12=New glaze",
    ),
    "scales": ("scales", "0:160000", "0:9.4"),
    "scales-log": ("scales", "1:160000", "-3:9.4", "--primary-log", "--policy", "separate"),
}
_FILES = ("json", "csv", "md", "html", "xlsx", "pptx", "svg", "png")
_NO_LANGUAGE = ("scales", "scales-log")
_REPORTS = ("html", "xlsx", "pptx", "md", "json")
_HELPED = ("tally", "pareto", "compare", "combine", "trend", "scales", "review", "report")
#: Commands that are refused, help, and options that change the flow.
OTHERS: dict[str, tuple[str, ...]] = {
    "strict": ("pareto", LOG, "--by", "defect", "--strict"),
    "ignore": ("pareto", LOG, "--by", "defect", "--ignore", "missing-values"),
    "japanese": ("pareto", *_DEFECTS, "--language", "ja"),
    "turkish": ("pareto", *_DEFECTS, "--language", "tr", "--format", "markdown"),
    "columns": ("columns", LOG),
    "columns-json": ("columns", "kiln_sheets.xlsx", "--format", "json"),
    "tally-order": ("tally", *_DEFECTS, "--order", "label", "--keep", "5"),
    "bad-column": ("pareto", LOG, "--by", "nothing"),
    "bad-panels": ("pareto", LOG, "--by", "defect", "--panels"),
    "bad-drill": ("pareto", LOG, "--drill", "family", "--by", "defect"),
    "bad-percent": ("tally", LOG, "--by", "defect", "--percent-of", "row"),
    "bad-percent-of": ("tally", LOG, "--by", "product", "--split", "kiln", "--percent-of", "records"),
    "bad-title": ("tally", LOG, "--by", "defect", "--title", "X"),
    "bad-side": ("compare", *_DEFECTS, "--split", "shift"),
    "bad-series": ("combine", *_FIRED, "--secondary", "Nothing"),
    "bad-range": ("scales", "5:1", "0:1"),
    "bad-ending": ("pareto", *_DEFECTS, "--out", "a.gif"),
    "bad-trend": ("trend", LOG, "--by", "defect"),
    "review-sheet": ("review", "flawed_sheet.csv", "--by", "defect", "--count", "count", "--percent-column", "percent"),
    "review-json": ("review", "flawed_chart.toml", "--format", "json"),
    "review-book": ("review", "flawed_book.xlsx", "--format", "markdown"),
    **{
        f"report-{name}": ("report", "monthly.toml", "--out", f"report.{name}")
        for name in ("html", "xlsx", "pptx", "md", "json")
    },
    "report-new": ("report", "--new", "new.toml", "--from", LOG),
    **{
        f"help-{name}": (name, "--help-all")
        for name in ("tally", "pareto", "compare", "combine", "trend", "scales", "review", "report")
    },
    "help-topic": ("help", "axes"),
    "help-code": ("help", "missing-values"),
    "version": ("--version",),
}


def steps_of(name: str, command: Sequence[str]) -> list[tuple[str, list[str]]]:
    """Return the runs of one result: as text and data, into files, in German, as slides, drawn again, reviewed."""
    plain = list(command)
    picture = ["--out", "a.svg"] if {"--intervals", "--panels"} & set(command) else []
    picture = picture or (["--out", "a.svg"] if "--mark" in command else [])
    runs = [(form, [*plain, "--format", form, *picture]) for form in ("text", "json", "csv", "markdown")]
    runs.append(
        (
            "files",
            [*plain, *(part for end in _FILES for part in ("--out", f"{name}.{end}")), "--save-chart", f"{name}.toml"],
        )
    )
    if name not in _NO_LANGUAGE:
        german = [part for end in ("md", "html", "xlsx", "svg") for part in ("--out", f"{name}-de.{end}")]
        runs += [
            ("de", [*plain, "--language", "de", *german]),
            ("slides", [*plain, "--out", f"{name}-t.pptx", "--slide-tables"]),
        ]
    again = [part for end in ("md", "html", "xlsx", "svg") for part in ("--out", f"{name}-again.{end}")]
    return [*runs, ("draw", ["draw", f"{name}.toml", *again]), ("review", ["review", f"{name}.toml"])]


def python(folder: Path) -> None:
    """Print what the public functions give: every result, its table, page, frame, review and chart."""
    import vantric as vt

    def show(name: str, result: object) -> None:
        print("==", name, repr(result), dir(result))
        for verb in ("sentence", "to_dict", "to_frame", "_repr_html_", "review"):
            if hasattr(result, verb):
                print(getattr(result, verb)())
        for end in ("json", "csv", "md", "html", "xlsx", "pptx"):
            with contextlib.suppress(AttributeError, vt.VantricError):
                result.save(folder / f"{name}.{end}")  # type: ignore[attr-defined]
        if hasattr(result, "chart"):
            chart = result.chart()
            print(repr(chart), chart.sentence(), chart.plan().texts if hasattr(chart.plan(), "texts") else "")
            for end in ("svg", "html", "xlsx", "md"):
                chart.save(folder / f"{name}-chart.{end}")

    tally, crosstab = vt.tally(LOG, "defect", merge_spellings=True), vt.crosstab(LOG, "product", "kiln")
    show("tally", tally)
    show("crosstab", crosstab)
    show("transposed", crosstab.transposed())
    show("pareto", vt.pareto(LOG, "defect", keep=9, merge_spellings=True))
    show("split", vt.pareto(LOG, "defect", split="kiln", keep=9))
    show("of-tally", vt.pareto(tally))
    show("certainty", vt.pareto(tally).certainty())
    show("concentration", vt.pareto(tally).concentration())
    show("compare", vt.compare(tally, vt.tally(LOG, "defect", where="shift = 'Night'", merge_spellings=True)))
    show("columns-compared", crosstab.compare("Kiln 1", "Kiln 2"))
    show("measures", vt.aggregate(FIRINGS, "month", {"Fired": "sum:first_firing"}))
    show("trend", vt.trend(LOG, "defect", date="date", merge_spellings=True))
    show("scales", vt.align((0, 650), (0, 100)))
    chart = vt.combine(FIRINGS, x="month", bars="first_firing", line="percent:rejected/first_firing")
    print(repr(chart), chart.to_frame(), chart.review())
    show("relation", vt.relate([1, 2, 3, 4, 5, 6, 7], [2, 1, 4, 3, 6, 5, 7]))
    show("gap", vt.gap({"Press": 1600, "Glaze": 1850}, {"Press": 1376, "Glaze": 1900}))
    show("report", vt.report("monthly.toml"))


def _apart(work: Callable[[], int], out: Path, folder: Path) -> None:
    """Run a case in a process of its own; keep what it writes to its streams, and its status."""
    process = os.fork()
    if process:
        _, status = os.waitpid(process, 0)
        out.with_suffix(".status").write_text(f"{os.waitstatus_to_exitcode(status)}\n")
        return
    for number, end in ((1, ".out"), (2, ".err")):
        os.dup2(os.open(out.with_suffix(end), os.O_CREAT | os.O_TRUNC | os.O_WRONLY), number)
    os.chdir(folder)
    try:
        status = work()
    except BaseException:
        traceback.print_exc()
        status = 99
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(status)


def _group(out: Path, name: str, runs: Sequence[tuple[str, Callable[[Path], int]]]) -> None:
    """Run the cases of a group one after another in one folder of the demo data."""
    from vantric.demo import DATA, data_file

    folder = out / name / "files"
    folder.mkdir(parents=True)
    for data in DATA:
        (folder / data).write_bytes(data_file(data))
        os.utime(folder / data, (1.7e9, 1.7e9))
    for label, work in runs:
        _apart(lambda work=work: work(folder), out / name / f"{label}.x", folder)  # type: ignore[misc]


def record(out: Path, names: Sequence[str] = ()) -> None:
    """Record all cases, or those of some groups, into a new folder."""
    import duckdb  # noqa: F401
    import numpy as np  # noqa: F401

    import vantric.cli.main as cli
    from vantric.demo import STEPS

    os.environ.update(COLUMNS="100", NO_COLOR="1", SOURCE_DATE_EPOCH="0")
    shutil.rmtree(out, ignore_errors=True)

    def command(arguments: Sequence[str]) -> Callable[[Path], int]:
        return lambda folder: cli.run(list(arguments))

    def in_python(folder: Path) -> int:
        python(folder)
        return 0

    groups = {name: [(label, command(run)) for label, run in steps_of(name, made)] for name, made in RESULTS.items()}
    groups["demo"] = [(f"step-{number:02d}", command(step)) for number, (_, step) in enumerate(STEPS)]
    groups["others"] = [(label, command(run)) for label, run in OTHERS.items()]
    groups["python"] = [("calls", in_python)]
    groups = {name: runs for name, runs in groups.items() if not names or name in names}
    workers = os.cpu_count() or 1
    for number in range(workers):  # processes, not threads: each forks its cases
        if not os.fork():
            for name in list(groups)[number::workers]:
                _group(out, name, groups[name])
            os._exit(0)
    for _ in range(workers):
        os.wait()


def differing(one: Path, other: Path) -> list[str]:
    """Return the files that differ between two records, or are in one only."""
    files = {path.relative_to(root) for root in (one, other) for path in root.rglob("*") if path.is_file()}

    def same(name: Path) -> bool:
        here, there = one / name, other / name
        return here.exists() and there.exists() and filecmp.cmp(here, there, shallow=False)

    return sorted(str(name) for name in files if not same(name))


def main() -> int:
    """Record, or compare."""
    verb, folder, *more = sys.argv[1:]
    if verb == "record":
        record(Path(folder).absolute(), more)
        return 0
    found = differing(Path(folder), Path(more[0]))
    print(*found, f"{len(found)} files differ", sep="\n")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
