"""The demo: the data of the scenario, and the full example that runs every command on them.

In comes the name of a data file; out go its bytes, and the steps of the example as a user types them. Start with
`STEPS`.
"""

from __future__ import annotations

import shlex
from importlib.resources import files

DATA = (
    "inspections.csv",
    "defect_families.csv",
    "firings.csv",
    "crews.csv",
    "survey.csv",
    "flawed_sheet.csv",
    "flawed_chart.toml",
    "flawed_overlay.toml",
    "flawed_pareto.toml",
    "flawed_log.csv",
    "flawed_rates.csv",
    "flawed_rates.toml",
    "floating_line.toml",
    "kiln_sheets.xlsx",
    "scrap_years.xlsx",
    "rework_costs.csv",
    "flawed_book.xlsx",
    "monthly.toml",
)

#: What each step is for, and its command behind ``vantric``.
_COMMANDS: tuple[tuple[str, str], ...] = (
    (
        "A first look at the log: what is in it, and what is missing?",
        "columns inspections.csv",
    ),
    (
        "Which defects make most of the records? The table here, the chart in three formats.",
        "pareto inspections.csv --by defect --noun defects --out defects.png --out defects.svg --out defects.pdf",
    ),
    (
        "The same with spellings merged, by pieces, as data and as text.",
        "pareto inspections.csv --by defect --noun defects --count pieces --merge-spellings --out pieces.png --out "
        "pieces.csv --out pieces.md --out pieces.json",
    ),
    (
        "And by family, in the night shift alone, with the cutoff at 70%.",
        "pareto inspections.csv --by defect --noun families --families defect_families.csv --where \"shift = 'Night'\" "
        "--cut 70 --out families.png",
    ),
    (
        "What do the defects cost? Pieces times rework, in classes, the small ones folded; horizontal, for long names.",
        "pareto inspections.csv --by defect --noun defects --count pieces --weight rework_cost --merge-spellings --cut "
        "60,80,95 --keep 12 --date date --orientation horizontal --out cost.png --out cost.xlsx --out "
        "cost.html",
    ),
    (
        "Which kiln fails most for what it fires? Records per 100 pieces.",
        "pareto inspections.csv --by kiln --per pieces --per-units 100 --no-cut --out rates.png",
    ),
    (
        "Each bar in parts by kiln, for a printer without color.",
        "pareto inspections.csv --by defect --noun defects --merge-spellings --split kiln --keep 10 --theme print "
        "--line-at edge --out kilns.png",
    ),
    (
        "And the kilns side by side, then the quarters: the same order, one scale.",
        "pareto inspections.csv --by defect --noun defects --merge-spellings --split kiln --panels --keep 10 "
        "--out panels.png",
    ),
    (
        "",
        "pareto inspections.csv --by defect --noun defects --merge-spellings --split date --period quarter --panels "
        "--keep 8 --out quarters.png",
    ),
    (
        "Down from the families to their defects.",
        "pareto inspections.csv --drill family,defect --families defect_families.csv --merge-spellings --out "
        "drill.png --out drill.md",
    ),
    (
        "What does the night shift do differently?",
        "compare inspections.csv --by defect --noun defects --merge-spellings --split shift --before Early "
        "--after Night --out shifts.png --out shifts.csv",
    ),
    (
        "Tiles fired a month, and percent rejected: one grid for two axes.",
        "scales 0:160000 0:9.4 --out scales.png",
    ),
    (
        "Tiles fired as bars, the percent rejected as a line: the axes are chosen, with the reason. Saved as a file.",
        "combine firings.csv --x month --bars 'first_firing=Tiles fired' --line "
        "percent:rejected/first_firing=Rejected --unit 'Tiles fired=tiles' --reference '4@secondary=4% "
        "limit' --out rejects.png --save-chart rejects.toml",
    ),
    (
        "And drawn again from that file, in the dark.",
        "draw rejects.toml --theme dark --out rejects_dark.png",
    ),
    (
        "Both firings stacked, with the energy they took.",
        "combine firings.csv --x month --bars 'first_firing=First firing' --bars 'second_firing=Second "
        "firing' --line energy_kwh=Energy --unit 'First firing=tiles' --unit 'Second firing=tiles' --unit "
        "Energy=kWh --together stacked --totals --labels Energy=none --out energy.png --out energy.csv",
    ),
    (
        "Planned and achieved hours over three orders of magnitude, on a log axis.",
        "combine crews.csv --x crew --area planned_hours=Planned --bars achieved_hours=Achieved --unit "
        "Planned=h --unit Achieved=h --primary-log --out crews.png",
    ),
    (
        "Output and margin, which falls below zero: one zero for both axes, and no bar hides another.",
        "combine firings.csv --x month --bars 'first_firing=Tiles fired' --bars margin=Margin --unit 'Tiles "
        "fired=tiles' --unit Margin=EUR --out margin.png",
    ),
    (
        "A narrow bar in front of a wide one.",
        "combine firings.csv --x month --bars 'first_firing=First firing' --bars 'second_firing=Second "
        "firing' --together overlaid --unit 'First firing=tiles' --unit 'Second firing=tiles' --labels value "
        "--out overlay.png",
    ),
    (
        "Markers without a line, week by week.",
        "combine inspections.csv --x date --period week --bars sum:pieces=Pieces --points "
        "'mean:rework_cost=Cost per record' --unit Pieces=pieces --unit 'Cost per record=EUR' --marker 'Cost "
        "per record=diamond' --out weeks.png",
    ),
    (
        "Do the kilns differ by product? Percents of its records, and the records as horizontal grouped bars.",
        "tally inspections.csv --by product --split kiln --percent-of row --values frequency --orientation "
        "horizontal --gap 0.12 --out products.csv --out products.png",
    ),
    (
        "Parts of a whole: one bar to 100%, every part named.",
        "tally inspections.csv --by defect --noun defects --merge-spellings --share-bar --out shares.png",
    ),
    (
        "A workbook as people make them: merged kilns, subtotals, shares in percent, a sheet a month, a hidden row.",
        "columns kiln_sheets.xlsx",
    ),
    (
        "Its months together, by defect; and by kiln, whose merged cells hold for all their rows.",
        "pareto kiln_sheets.xlsx --by Defect --count Pieces --sheet '*' --out kiln_sheets.png",
    ),
    (
        "",
        "tally kiln_sheets.xlsx --by Kiln --count Share --sheet March",
    ),
    (
        "Two rows of headings become one name; the table beside is left alone.",
        "pareto scrap_years.xlsx --by Defect --count '2026 Pieces (pcs)' --out scrap.png",
    ),
    (
        "What a German program saved: decimal commas, a currency, the day before the month, a total.",
        "combine rework_costs.csv --x Datum --period quarter --bars Kosten --out rework.png",
    ),
    (
        "How sure is the ranking of the smallest kiln? Intervals, ranks, what is surely vital.",
        "pareto inspections.csv --by defect --noun defects --merge-spellings --where \"kiln = 'Kiln 3'\" --intervals "
        "--out intervals.png --out intervals.csv",
    ),
    (
        "Does a defect rise or fall, per piece and month? Control limits, and the day of the new glaze.",
        "trend inspections.csv --by defect --noun defects --merge-spellings --date date --per pieces --per-units 100 "
        "--mark '2026-05-12=New glaze' --out trend.png --out trend.csv",
    ),
    (
        "A sheet that came by mail: every cell worked out again, and the slip that explains it.",
        "review flawed_sheet.csv --by defect --count count --percent-column percent --cumulative-column cumulative",
    ),
    (
        "The same with the right numbers, the changed cells marked and listed.",
        "review flawed_sheet.csv --repair right_sheet.xlsx",
    ),
    (
        "A finished workbook: its formulas, and the charts in it.",
        "review flawed_book.xlsx",
    ),
    (
        "And a chart with nearly every fault that a chart can have.",
        "review flawed_chart.toml",
    ),
    (
        "More: hidden bars, a false cumulative line, means of rates, a floating line, a log with its total.",
        "review flawed_overlay.toml",
    ),
    (
        "",
        "review flawed_pareto.toml",
    ),
    (
        "",
        "review flawed_rates.toml",
    ),
    (
        "",
        "review floating_line.toml",
    ),
    (
        "",
        "review flawed_log.csv --by defect --count pieces",
    ),
    (
        "How was the survey answered? In the order of its scale, without a cutoff; a third are missing.",
        "pareto survey.csv --by answer --order 'Strongly disagree,Disagree,Neither,Agree,Strongly agree' "
        "--theme dark --out survey.png",
    ),
    (
        "A page, and a workbook whose chart follows its cells, to be handed over.",
        "pareto inspections.csv --by defect --noun defects --merge-spellings --out defects.html --out defects.xlsx",
    ),
    (
        "A report of the month, beside the month before: the same again every month.",
        "report monthly.toml --out report.html --out report.xlsx --out report.json",
    ),
)
STEPS: tuple[tuple[str, tuple[str, ...]], ...] = tuple(
    (about, tuple(shlex.split(command))) for about, command in _COMMANDS
)

#: What a newcomer opens first.
OPENED = "report.html"


def data_file(name: str) -> bytes:
    """Return one of the shipped data files."""
    return files("vantric.demo").joinpath("data", name).read_bytes()
