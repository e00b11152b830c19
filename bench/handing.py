"""What is handed over: a report beside its slowest section, a live workbook beside bare cells, a page that opens."""

from __future__ import annotations

import io
import re
import shutil
import sys
from pathlib import Path

from measure import Line, Process, in_turns


def handing(folder: Path) -> list[Line]:
    """Measure each."""
    from vantric.demo import DATA, data_file

    for name in DATA:
        (folder / name).write_bytes(data_file(name))
    return [report(folder), workbook(folder), *pages(folder)]


def report(folder: Path) -> Line:
    """Make the demo's report of six sections beside the slowest of them by its own command.

    Without the month before: on that three sections are made again, which takes its own time (printed).
    """
    text = (folder / "monthly.toml").read_text(encoding="utf-8")
    alone_file = folder / "alone.toml"
    alone_file.write_text(re.sub(r"(?m)^previous = .*$", "", text), encoding="utf-8")
    log, page = str(folder / "inspections.csv"), str(folder / "page.html")
    alone = Process(
        "-m",
        "vantric",
        "trend",
        log,
        "--by",
        "defect",
        "--date",
        "date",
        "--per",
        "pieces",
        "--merge-spellings",
        "--out",
        page,
    )
    whole = Process("-m", "vantric", "report", str(alone_file), "--out", str(folder / "report.html"))
    beside = Process("-m", "vantric", "report", str(folder / "monthly.toml"), "--out", str(folder / "beside.html"))
    spent = in_turns(whole, alone, 5)
    print(f"with three sections made again on the month before: {in_turns(beside, alone, 3)[0]:.2f} s")
    size = (folder / "report.html").stat().st_size
    print(f"report of six sections: {size / 1000:.0f} KB (at most 400); {spent[0]:.2f} s")
    return Line("(k) report of six sections / its slowest, process", *spent, 1.5)


def workbook(folder: Path) -> Line:
    """Write a live workbook of 5,000 categories beside as many bare formulas by the same library."""
    import xlsxwriter

    import vantric as vt

    table = vt.pareto({f"Category {at}": (at * 7919) % 10_007 + 1 for at in range(5000)})
    table.review()

    def bare() -> None:
        book = xlsxwriter.Workbook(io.BytesIO(), {"in_memory": True})
        sheet = book.add_worksheet()
        for row in range(5000):
            for column in range(7):
                sheet.write_formula(row, column, "=SUM(A1:B1)/C1", None, 1)
        book.close()

    spent = in_turns(lambda: table.save(folder / "live.xlsx"), bare, 3)
    print(f"live workbook of 5,000 categories: {spent[0]:.2f} s (at most 2)")
    return Line("(k) live workbook of 5,000 categories / bare formulas", *spent, 1.5)


def pages(folder: Path) -> list[Line]:
    """Open pages in Chromium: until everything works, beside a page that has the same pictures and nothing else."""
    import vantric as vt

    try:
        from playwright.sync_api import sync_playwright
    except ImportError:
        return []
    chromium = shutil.which("chromium")
    if chromium is None:
        print("no Chromium: pages are not opened", file=sys.stderr)
        return []
    lines = []
    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=chromium, args=["--no-sandbox"])
        for count, most in ((60, 2.0), (2000, 2.0)):
            table = vt.pareto({f"Category {at}": (at * 7919) % 1009 + 1 for at in range(count)})
            path, plain = folder / f"{count}.html", folder / f"{count}-plain.html"
            text = Path(table.save(path)).read_text(encoding="utf-8")
            plain.write_text(re.sub(r"<script.*?</script>", "", text, flags=re.DOTALL), encoding="utf-8")
            spent = []
            for one in (path, plain):
                times = []
                for _ in range(5):
                    page = browser.new_page()
                    page.goto(one.as_uri())
                    times.append(page.evaluate("() => performance.getEntriesByType('navigation')[0].loadEventEnd"))
                    page.close()
                spent.append(sorted(times)[2] / 1000)
            print(f"page of {count} categories works {1000 * spent[0]:.0f} ms after it is opened")
            lines.append(Line(f"(k) page of {count} categories / without its script", *spent, None, most))
        browser.close()
    return lines
