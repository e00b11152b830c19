"""Make the pictures in ``docs/screenshots`` from the demo data: ``make screenshots``."""

import io
import os
import shlex
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
import pyte
from docs.native_pictures import draw
from docs.sheet_pictures import beside
from matplotlib.figure import Figure
from matplotlib.font_manager import FontProperties, findfont
from PIL import Image, ImageDraw, ImageFont
from rich.text import Text
from tests.pseudoterminal import typed

import vantric as vt
from vantric.demo import DATA, data_file
from vantric.rendering.pictures import picture

SHOTS = Path(__file__).parent / "screenshots"
SIZE, MARGIN, FONT_SIZE = (1280, 800), 28, 10 / 0.60205  # a column is ten pixels wide
GROUND, INK = "#1e1a17", "#e8e0d4"
COLORS = {2: "#8fc79a", 3: "#e0c070", 4: "#7fb3e0"}  # by their ANSI number


def vantric(arguments: str, folder: Path) -> str:
    """Run a command in a folder as in a terminal of 100 columns and return what it shows."""
    environment = {**os.environ, "FORCE_COLOR": "1", "COLUMNS": "100", "PYTHONIOENCODING": "utf-8", "TERM": "xterm"}
    environment.pop("NO_COLOR", None)
    command = [sys.executable, "-m", "vantric", *shlex.split(arguments)]
    return subprocess.run(command, cwd=folder, env=environment, capture_output=True, check=True, text=True).stdout


def terminal(command: str, shown: str) -> Image.Image:
    """Draw what a terminal shows."""
    image = Image.new("RGB", SIZE, GROUND)
    draw = ImageDraw.Draw(image)
    faces = {
        weight: ImageFont.truetype(findfont(FontProperties(family="DejaVu Sans Mono", weight=weight)), FONT_SIZE)
        for weight in ("normal", "bold")
    }
    step, width = FONT_SIZE + 4.9, 10
    lines = [Text(f"$ vantric {command}", style="bold"), *Text.from_ansi(shown).split("\n")]
    for row, line in enumerate(lines):
        for column, sign in enumerate(line.plain):
            style = line.get_style_at_offset(_console(), column)
            number = style.color.number if style.color else None
            ink = "#8d857b" if style.dim else COLORS.get(number, INK)
            place = (MARGIN + column * width, MARGIN + row * step)
            draw.text(place, sign, fill=ink, font=faces["bold" if style.bold and sign.isascii() else "normal"])
    return image


def policies(folder: Path) -> Image.Image:
    """Return the tiles fired a month and the percent rejected under each policy, four charts in one picture."""
    sheet = Image.new("RGB", SIZE)
    for place, policy in enumerate(("grid", "proportional", "common", "separate")):
        chart = vt.combine(
            folder / "firings.csv",
            x="month",
            bars="first_firing=Tiles fired",
            line="percent:rejected/first_firing=Rejected",
            secondary="Rejected",
            policy=policy,
            labels="none",
            units={"Rejected": "" if policy == "common" else "%"},
            title=f"Policy {policy}",
            note=False,
            subtitle="",
        )
        drawn = Image.open(io.BytesIO(picture(chart, "png"))).resize((640, 400), Image.Resampling.LANCZOS)
        sheet.paste(drawn, (640 * (place % 2), 400 * (place // 2)))
    return sheet


def before_after(folder: Path) -> Image.Image:
    """Return the chart that is made by hand of a sheet with a total, beside ours of the same sheet."""
    table = vt.pareto(folder / "inspections.csv", "defect", merge_spellings=True, keep=7)
    names, counts = [*table.categories, "Total"], [*map(int, table.frequency.values()), int(table.total)]
    places = sorted(range(len(names)), key=lambda place: -counts[place])
    sheet = Image.new("RGB", SIZE, "white")
    figure = Figure((6.3, 7.2), 100, layout="constrained")
    bars = figure.subplots()
    bars.bar([names[place] for place in places], [counts[place] for place in places], color="#7f8a94")
    line = bars.twinx()
    sums = np.cumsum([counts[place] for place in places]) / sum(counts) * 100
    line.plot(range(len(sums)), sums, color="#b0562f", marker="o")
    for place, share in enumerate(sums):
        line.annotate(f"{share:.2f}%", (place, share), ha="center")
        bars.annotate(counts[places[place]], (place, counts[places[place]]), ha="center")
    bars.set_title("Frequency and cumulative percent")
    out = io.BytesIO()
    figure.savefig(out)
    sheet.paste(Image.open(out).convert("RGB"), (0, 70))
    chart = table.chart(orientation="vertical", size=(640, 720), noun="defects", note=False)
    sheet.paste(Image.open(io.BytesIO(chart.to_png())).convert("RGB"), (640, 70))
    face = ImageFont.truetype(findfont(FontProperties(family="DejaVu Sans", weight="bold")), 20)
    words = ("Before: by hand, the total ranked first", "After: vantric pareto inspections.csv --by defect")
    for place, text in enumerate(words):
        ImageDraw.Draw(sheet).text((32 + 640 * place, 28), text, fill="#211c18", font=face)
    return sheet


def recording(folder: Path, command: str, keys: list[str]) -> Image.Image:
    """Return a session in a terminal: a command, and keys that answer its questions."""
    screen = pyte.Screen(100, 200)
    stream = pyte.Stream(screen)
    arguments = [sys.executable, "-m", "vantric", *shlex.split(command)]
    _, shown = typed(arguments, keys, folder, {"TERM": "xterm"}, width=100)
    stream.feed(shown)
    lines = [line.rstrip() for line in screen.display]
    first = next(place for place, line in enumerate(lines) if line.startswith("? "))
    last = max(place for place, line in enumerate(lines) if line)
    return terminal(command, "\n".join(lines[first : last + 1]))


def page(path: Path, target: Path, scheme: str) -> None:
    """Take a picture of a page in Chromium: as it opens, or in the dark with a category pointed at."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as driver:
        browser = driver.chromium.launch(executable_path=shutil.which("chromium"), args=["--no-sandbox"])
        shown = browser.new_page(viewport={"width": SIZE[0], "height": SIZE[1]}, color_scheme=scheme)
        shown.goto(path.as_uri())
        if scheme == "dark":
            shown.get_by_label("Cutoff in percent", exact=True).fill("60")
            shown.locator(".view:visible .target").nth(6).hover()
        shown.screenshot(path=target)
        browser.close()


def _console() -> object:
    from rich.console import Console

    return Console()


def main() -> None:
    """Write every picture anew."""
    SHOTS.mkdir(exist_ok=True)
    for old in SHOTS.iterdir():
        old.unlink()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for file in DATA:
            (folder / file).write_bytes(data_file(file))
        log, merged = "pareto inspections.csv --by defect", "--merge-spellings"
        shifts = f"compare inspections.csv --by defect {merged} --split shift --before Early --after Night"
        months = "firings.csv --x month"
        firings = (
            "--bars 'first_firing=First firing' --bars 'second_firing=Second firing' --unit 'First firing=tiles' "
            "--unit 'Second firing=tiles'"
        )
        pictures = {
            "pareto_defects.png": log,
            "cost.png": f"{log} --count pieces --weight rework_cost {merged} --cut 60,80,95 --keep 12 --date date "
            "--orientation horizontal",
            "panels.png": f"{log} {merged} --split kiln --panels --keep 10",
            "compare.png": shifts,
            "combine_rejects.png": f"combine {months} --bars 'first_firing=Tiles fired' --unit 'Tiles fired=tiles' "
            "--line percent:rejected/first_firing=Rejected --reference '4@secondary=4% limit'",
            "combine_energy.png": f"combine {months} {firings} --line energy_kwh=Energy --unit Energy=kWh "
            "--together stacked --totals --labels Energy=none",
            "combine_gap.png": "combine crews.csv --x crew --planned planned_hours --actual achieved_hours "
            "--unit planned_hours=h --primary-log",
            "trend.png": f"trend inspections.csv --by defect {merged} --date date --per pieces --per-units 100 "
            "--mark '2026-05-12=New glaze'",
            "intervals.png": f"{log} {merged} --where \"kiln = 'Kiln 3'\" --intervals",
            "shares.png": f"tally inspections.csv --by defect {merged} --share-bar",
        }
        for picture, command in pictures.items():
            vantric(f"{command} --out {SHOTS / picture}", folder)
        vantric(f"{log} {merged} --out page.html --out book.xlsx", folder)
        page(folder / "page.html", SHOTS / "page.png", "light")
        page(folder / "page.html", SHOTS / "page_dark.png", "dark")
        draw((folder / "book.xlsx").read_bytes(), SHOTS / "workbook.png")
        before_after(folder).save(SHOTS / "before_after.png")
        recording(folder, "start inspections.csv", ["\r"] * 5).save(SHOTS / "start.png")
        policies(folder).save(SHOTS / "scales_policies.png")
        beside(folder).save(SHOTS / "reading.png")
        terminals = {
            "pareto_terminal.png": log,
            "review.png": "review flawed_book.xlsx --ignore no-alternative",
        }
        for picture, command in terminals.items():
            terminal(command, vantric(command, folder)).save(SHOTS / picture)


if __name__ == "__main__":
    main()
