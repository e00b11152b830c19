"""A program as a user writes it: every call that the guide shows, checked by mypy --strict and pyright, and run."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

from matplotlib.figure import Figure

import vantric as vt
from vantric.typing import ParetoOptions


def main(log: Path, firings: Path, to: Path) -> list[str]:
    """Make one of each result, and return what each says."""
    said: list[str] = []
    counted = vt.tally(log, "defect", count="pieces", merge_spellings=True)
    said.append(counted.sentence())
    counted.chart(values="percent", labels="value").save(to / "tally.png")

    options: ParetoOptions = {"keep": 9, "cut": [60, 80], "order": "frequency", "last": ["Other"][:0]}
    table = vt.pareto(log, "defect", **options)
    vital: int = table.cutoff.count
    names: tuple[str, ...] = table.cutoff.categories
    said.append(f"{vital}: {', '.join(names)}")
    said.append(table.certainty(start=2).sentence())
    chart = vt.pareto_chart(table, orientation="horizontal", theme="dark", size=(1000, 700), colors={names[0]: "teal"})
    chart.save(to / "pareto.svg")
    first = table.rows[0]
    said.append(f"{first.category}: {first.frequency} ({first.percent:.1f} %)")

    crossed = vt.crosstab(log, "product", "kiln")
    share: float = float(crossed.percents("row")[0][0])
    said.append(f"{share:.1f}")
    change = crossed.compare("Kiln 1", "Kiln 2")
    said.append(change.sentence())
    change.chart(labels="none").save(to / "change.png")

    fired = vt.Bars("Fired", [640, 590, None], unit="tiles", bar_width=0.7)
    rejects = vt.Line("Rejects", [4.2, 3.9, 5.1], ["a", "b", "c"], axis="secondary", unit="%", marker="diamond")
    both = vt.Chart(
        ["2026-01", "2026-02", "2026-03"],
        [fired, rejects],
        primary_limits=(0, None),
        legend="ends",
        period="month",
        references=[vt.Reference(600, text="Plan")],
    )
    said.append(both.sentence())
    both.save(to / "both.toml")
    again = vt.read_chart(to / "both.toml")
    findings = vt.review(again, ignore=["two-grids"])
    said += [finding.fix for finding in findings if finding.severity == "warning"]

    combined = vt.combine(
        firings,
        x="month",
        bars="first_firing=Fired",
        line=["percent:rejected/first_firing=Rejected"],
        units={"Fired": "tiles"},
        series={"Fired": {"color": "teal"}},
        secondary="Rejected",
    )
    said.append(combined.sentence())
    pair = vt.align((0, 650), (0, 100), policy="grid", primary_zero=True)
    said.append(f"{pair.primary.upper:g} {pair.shared_ticks}")
    measures = vt.aggregate(firings, "month", {"first_firing": "sum"}, period="quarter")
    said.append(", ".join(map(str, measures["first_firing"])))
    said += in_memory(log, table, chart, to)
    said += in_a_figure(combined, to)
    return said


def in_a_figure(chart: vt.Chart, to: Path) -> list[str]:
    """Draw into axes of one's own and change them; write the chart in an open grammar.

    What pyright is told to ignore is what the stubs of Matplotlib leave open.
    """
    figure = Figure(figsize=(8, 5), layout="constrained")
    primary, secondary = chart.draw(figure.subplots(), link=True)
    primary.set_title("Ours")  # pyright: ignore[reportUnknownMemberType]
    primary.set_ylim(0, 250_000)
    primary.legend(loc="upper right")  # pyright: ignore[reportUnknownMemberType]
    if secondary is not None:
        secondary.tick_params(labelsize=8)  # pyright: ignore[reportUnknownMemberType]
    figure.savefig(to / "axes.png")  # pyright: ignore[reportUnknownMemberType]
    chart.figure().savefig(to / "whole.png")  # pyright: ignore[reportUnknownMemberType]
    drawn = chart.draw()
    specification: dict[str, Any] = chart.to_vega_lite()
    chart.save(to / "chart.vl.json")
    return [drawn.primary.get_title(), str(specification["$schema"])]


def in_memory(log: Path, table: vt.ParetoTable, chart: vt.Chart | vt.PanelChart, to: Path) -> list[str]:
    """Return results as text and bytes, and their rows; write into files that are open."""
    svg: str = chart.with_(title="Ours").to_svg(name="ours", fonts=True)
    png: bytes = chart.to_png(2)
    texts: list[str] = [table.to_csv(), table.to_markdown(), table.to_html(), table.to_json(), chart.to_json(), svg]
    with (to / "open.png").open("wb") as file:
        chart.save(file, format="png")
    with io.BytesIO() as buffer:
        table.save(buffer, format="csv")
    share: float = table["Pinhole"].percent + table[-1].percent
    names: list[str] = [row.category for row in table]
    look = vt.columns(log)
    kinds: list[str] = [column.kind for column in look if column.countable]
    counts: vt.Tally = vt.tally([("a", 3), ("b", 2)])
    change = vt.compare(log, by="defect", split="shift", groups=("Early", "Night"))
    try:
        table["nothing"]
    except vt.LabelError as error:
        texts.append(error.hint)
    return [
        *texts,
        *names,
        *kinds,
        f"{share:.1f} {len(png)} {counts['a'].frequency} {change[0].category}",
        vt.font_css(),
    ]
