"""Pictures of sheets beside what was read of them, for the page on reading."""

from __future__ import annotations

import io
import subprocess
import sys
from pathlib import Path
from typing import Any

from matplotlib.font_manager import FontProperties, findfont
from openpyxl import load_workbook
from PIL import Image, ImageDraw, ImageFont

PAPER, LINE, INK, HEAD = "#fbf8f3", "#c9bfb0", "#2b2622", "#ece4d8"
WIDTH, LEFT, ROW = 1280, 590, 19
FACE = ImageFont.truetype(findfont(FontProperties(family="DejaVu Sans")), 12)
MONO = ImageFont.truetype(findfont(FontProperties(family="DejaVu Sans Mono")), 11.5)


def shown(cell: Any) -> str:
    """Return a cell as a program for sheets shows it."""
    value, code = cell.value, cell.number_format
    if value is None:
        return ""
    if "%" in code:
        return f"{value:.1%}"
    if "EUR" in code:
        return f"{value:,.2f} EUR"
    return str(value).replace("\n", " ")


def of_workbook(
    path: Path, sheet: str, rows: int
) -> tuple[list[list[str]], list[int], list[tuple[int, int, int, int]]]:
    """Return the cells of a sheet as they are shown, the rows that are shown, and the merged blocks."""
    page = load_workbook(path)[sheet]
    cells = [[shown(cell) for cell in row] for row in page.iter_rows(max_row=rows)]
    visible = [row for row in range(1, len(cells) + 1) if not page.row_dimensions[row].hidden]
    merged = [(one.min_row, one.min_col, one.max_row, one.max_col) for one in page.merged_cells.ranges]
    return cells, visible, merged


def of_text(path: Path, rows: int) -> tuple[list[list[str]], list[int], list[tuple[int, int, int, int]]]:
    """Return the lines of a text file as a program for sheets shows them."""
    lines = path.read_bytes().decode("cp1252").splitlines()
    cells = [line.split(";") for line in [*lines[: rows - 6], *lines[-6:]]]
    numbers = [*range(1, rows - 5), *range(len(lines) - 5, len(lines) + 1)]
    wide = max(map(len, cells))
    padded: list[list[str]] = [[] for _ in range(max(numbers))]
    for number, row in zip(numbers, cells, strict=True):
        padded[number - 1] = [*row, *[""] * (wide - len(row))]
    return padded, numbers, []


def drawn(cells: list[list[str]], visible: list[int], merged: list[tuple[int, int, int, int]]) -> Image.Image:
    """Draw a sheet with its letters and numbers; a hidden row is missing, as it is on the screen."""
    columns = max(map(len, cells))
    widths = [
        max(26, *(int(FACE.getlength(row[at])) + 9 for row in cells if at < len(row) and len(row[at]) < 22))
        for at in range(columns)
    ]
    image = Image.new("RGB", (LEFT, ROW * (len(visible) + 1) + 2), PAPER)
    draw = ImageDraw.Draw(image)
    lefts = [30 + sum(widths[:at]) for at in range(columns + 1)]
    top = {row: ROW * place for place, row in enumerate(visible, 1)}
    for at in range(columns):
        draw.rectangle((lefts[at], 0, lefts[at + 1], ROW), fill=HEAD, outline=LINE)
        draw.text((lefts[at] + widths[at] / 2 - 4, 2), chr(65 + at), fill=INK, font=FACE)
    for row, y in top.items():
        draw.rectangle((0, y, 30, y + ROW), fill=HEAD, outline=LINE)
        draw.text((6, y + 2), str(row), fill=INK, font=FACE)
        for at in range(columns):
            draw.rectangle((lefts[at], y, lefts[at + 1], y + ROW), outline=LINE)
    for first, left, last, right in merged:
        ends = [y for row, y in top.items() if first <= row <= last]
        if not ends:
            continue
        draw.rectangle((lefts[left - 1], ends[0], lefts[right], ends[-1] + ROW), fill=PAPER, outline=LINE)
    for row, y in top.items():
        for at, text in enumerate(cells[row - 1]):
            draw.text((lefts[at] + 5, y + 2), text, fill=INK, font=FACE)
    return image


def said(arguments: list[str], folder: Path, lines: int) -> str:
    """Return what a command says."""
    command, narrow = [sys.executable, "-m", "vantric", *arguments], {"COLUMNS": "92", "PYTHONIOENCODING": "utf-8"}
    found = subprocess.run(command, cwd=folder, capture_output=True, check=True, text=True, env={**narrow, "PATH": ""})
    return "\n".join(found.stdout.splitlines()[:lines])


def beside(folder: Path) -> Image.Image:
    """Return three sheets, each beside what was read of it."""
    parts = (
        (
            drawn(*of_workbook(folder / "kiln_sheets.xlsx", "January", 17)),
            ["tally", "kiln_sheets.xlsx", "--by", "Kiln", "--count", "Share", "--sheet", "January"],
            22,
        ),
        (
            drawn(*of_workbook(folder / "scrap_years.xlsx", "Scrap", 11)),
            ["tally", "scrap_years.xlsx", "--by", "Defect", "--count", "2026 Cost"],
            20,
        ),
        (
            drawn(*of_text(folder / "rework_costs.csv", 13)),
            ["combine", "rework_costs.csv", "--x", "Datum", "--period", "quarter", "--bars", "Kosten"],
            24,
        ),
    )
    tiles = []
    for sheet, command, lines in parts:
        text = f"$ vantric {' '.join(command)}\n\n{said(command, folder, lines)}"
        height = max(sheet.height, 15 * (text.count("\n") + 1)) + 24
        tile = Image.new("RGB", (WIDTH, height), "white")
        tile.paste(sheet, (12, 12))
        ImageDraw.Draw(tile).text((LEFT + 24, 12), text, fill=INK, font=MONO, spacing=2)
        tiles.append(tile)
    whole = Image.new("RGB", (WIDTH, sum(tile.height for tile in tiles)), "white")
    y = 0
    for tile in tiles:
        whole.paste(tile, (0, y))
        y += tile.height
    buffer = io.BytesIO()
    whole.save(buffer, "png")
    return Image.open(buffer)
