"""Make the pictures in ``docs/screenshots`` from the demo data: ``make screenshots``."""

import os
import shlex
import subprocess
import sys
import tempfile
from pathlib import Path

from matplotlib.font_manager import FontProperties, findfont
from PIL import Image, ImageDraw, ImageFont
from rich.text import Text

import vantric as vt
from vantric.core.charting import Bars, Chart, Line
from vantric.demo.example import DATA, data_file
from vantric.drawing.save import picture

SHOTS = Path(__file__).parent / "screenshots"
SIZE, MARGIN, FONT_SIZE = (1280, 800), 28, 10 / 0.60205  # a column is ten pixels wide
SCALE = "'Strongly disagree,Disagree,Neither,Agree,Strongly agree'"
GROUND, INK = "#1e1a17", "#e8e0d4"
COLOURS = {2: "#8fc79a", 3: "#e0c070", 4: "#7fb3e0"}  # by their ANSI number


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
            ink = "#8d857b" if style.dim else COLOURS.get(number, INK)
            place = (MARGIN + column * width, MARGIN + row * step)
            draw.text(place, sign, fill=ink, font=faces["bold" if style.bold and sign.isascii() else "normal"])
    return image


def policies(folder: Path) -> None:
    """Draw the tiles fired a month and the percent rejected under each policy, as the page on axes shows them."""
    measures = {"Tiles fired": "sum:first_firing", "Rejected": "percent:rejected/first_firing"}
    found = vt.aggregate(folder / "firings.csv", "month", measures, period="month")
    fired, rejected = (tuple(map(float, values)) for values in found.values)
    for policy in ("grid", "proportional", "common", "separate"):
        zero = (True, policy != "separate")
        ends = (0.0, max(fired)), (min(rejected), max(rejected))
        chart = Chart(
            categories=found.categories,
            series=(Bars("Tiles fired", fired), Line("Rejected", rejected)),
            meet=(max(fired), max(rejected)),
            pair=vt.align(*ends, policy=policy, include_zero=zero),
            title=f"Tiles fired and percent rejected, policy {policy}",
            subtitle="Orrinvale Tileworks, first firing, by month",
            category_title="Month",
            primary_title="Tiles fired",
            secondary_title="Percent rejected",
            secondary_unit=" %",
            description=f"Tiles fired and percent rejected by month, under the policy {policy}",
        )
        (SHOTS / f"scales_{policy}.png").write_bytes(picture(chart, "png"))


def _console() -> object:
    from rich.console import Console

    return Console()


def main() -> None:
    """Write every picture anew."""
    SHOTS.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for file in DATA:
            (folder / file).write_bytes(data_file(file))
        log, merged = "pareto inspections.csv --by defect", "--merge-spellings"
        shifts = f"compare inspections.csv --by defect {merged} --split shift --before Early --after Night"
        pictures = {
            "pareto_defects.png": log,
            "pareto_pieces.png": f"{log} --count pieces {merged}",
            "cost.png": f"{log} --count pieces --weight rework_cost {merged} --cut 60,80,95 --keep 12 --dates date "
            "--orientation lying",
            "kilns.png": f"{log} {merged} --split kiln --keep 10 --theme print --points edge",
            "panels.png": f"{log} {merged} --split kiln --panels --keep 10",
            "drill.png": f"pareto inspections.csv --drill family,defect --families defect_families.csv {merged}",
            "compare.png": shifts,
            "survey.png": f"pareto survey.csv --by answer --order {SCALE} --theme dark",
        }
        for picture, command in pictures.items():
            vantric(f"{command} --out {SHOTS / picture}", folder)
        policies(folder)
        terminals = {
            "pareto_terminal.png": log,
            "columns.png": "columns inspections.csv",
            "tally.png": f"tally inspections.csv --by defect --split kiln {merged} --percent-of row",
            "compare_terminal.png": shifts,
            "scales_terminal.png": "scales 0:160000 0:9.4",
        }
        for picture, command in terminals.items():
            terminal(command, vantric(command, folder)).save(SHOTS / picture)


if __name__ == "__main__":
    main()
