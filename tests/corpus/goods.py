"""Inputs with nothing wrong: none of them raises an error or a warning."""

from collections.abc import Iterator
from typing import Any

import vantric as vt
from tests.corpus.books import book
from tests.corpus.making import DEFECTS, LONG, Good, dealt, file, german, log, of, sheet

MONTHS = ["2026-01", "2026-02", "2026-03", "2026-04"]
CREWS = ["Pressing", "Glazing", "Kilns", "Packing"]
FIRED = [640.0, 590.0, 610.0, 655.0]
LIMITS = {"policy": "proportional"}


def goods() -> Iterator[Good]:
    """Yield every good input."""
    yield from _tables()
    yield from _sheets()
    yield from _sources()
    yield from _charts()
    yield from _orders()
    yield from _two_ways()
    yield from _books()


def _tables() -> Iterator[Good]:
    for number, counts in enumerate(
        [
            dict(DEFECTS),
            dict(LONG),
            {"Kiln II": 40, "Kiln III": 12, "Kiln IV": 9},
            {"Door-L": 19, "Door-R": 8},
            {"Sensor (A)": 29, "Sensor (B)": 7, "Sensor (C)": 4},
            {"Size XL": 30, "Size XS": 15, "Size M": 9},
            {"Chipping": 44, "Clipping": 29, "Cracking": 9},
            {"Filing": 60, "Filling": 33, "Fitting": 11},
            {"Cracks": 80, "Tracks": 15, "Glaze drip": 4, "Glaze drops": 1},
            {"Line A": 100, "Line B": 40, "Line C": 12},
            {"E101": 40, "E102": 22, "E110": 9},
            {"404": 80, "500": 31, "503": 12},
            {"Total loss": 60, "Chip": 30, "Crack": 5},
            {"All-over crawl": 50, "Edge crawl": 20, "Spot crawl": 8},
            {"Summer batch": 44, "Winter batch": 31},
            {"a": 99.5, "b": 12.25, "c": 3.75},
            {"a": 900, "b": 40.5, "c": 12, "d": 0.5},
            {"only": 25},
            {"yes": 400, "no": 100},
            {"Pinhole": 40, "Warping": 30, "Stain": 20, "Scratch": 10},
            {"Pinhole": 43, "Warping": 26, "Stain": 20, "Speck": 11},
            {"Left side": 40, "Right side": 31},
            {"Other kilns": 12, "Kiln 1": 80, "Kiln 2": 31},
            {"Body": 40, "Bloating": 12},
            {"Pinhole": 88, "Warping": 61, "Other": 20},
            {"Pinhole": 88, "Other": 61, "Warping": 40, "Stain": 33},
            {"Mixing": 60, "Milling": 33, "Molding": 20},
            {"+": 30, "±": 12, "0": 9},
            {"C": 40, "C++": 20, "C#": 9},
            {"4.1": 12, "41": 9, "4-1": 30},
            {"Grade 1": 50, "Grade 2": 30, "Grade 3": 9},
            {"Ä": 30, "A": 20, "O": 9},
            {"Stain": 90, "Strain": 61, "Train": 20},
            {"Bonding": 90, "Bending": 61, "Blending": 30},
            {"Resting marks": 50, "Restless kiln": 20},
            {"Normal wear": 40, "N side": 31},
            {"Sum of parts": 46, "Parts": 31, "Dust": 9},
        ]
    ):
        yield Good(f"table {number} {next(iter(counts))}", of(lambda counts=counts: vt.pareto(counts)))
        yield Good(f"tally {number} {next(iter(counts))}", of(lambda counts=counts: vt.tally(counts)))
    clauses = [f"{a}.{b}" for a in range(4, 9) for b in range(1, 4)]
    yield Good("clauses", of(lambda: vt.tally(clauses * 3)))
    yield Good("clauses once", of(lambda: vt.tally(clauses)))
    yield Good("error codes", of(lambda: vt.tally([str(1000 + n * 7) for n in range(40)])))
    yield Good(
        "hours that are 100.1",
        of(lambda: vt.tally({"c": list("abcd"), "hours": [40.2, 30.1, 20.3, 9.5]}, "c", weight="hours")),
    )
    yield Good(
        "hours below one", of(lambda: vt.tally({"c": list("abcd"), "hours": [88, 61, 0.38, 0.19]}, "c", weight="hours"))
    )
    yield Good("quarters of hours", of(lambda: vt.tally({"a": 88, "b": 61, "c": 0.5, "d": 0.25})))
    yield Good("a few missing", of(lambda: vt.pareto({"d": [*dealt(200), *[None] * 9]}, "d")))
    yield Good("rates", of(lambda: vt.pareto({"a": 300, "b": 120, "c": 9}, per={"a": 1000, "b": 1000, "c": 1000})))


def _sheets() -> Iterator[Good]:
    words = (
        "Total",
        "Total defects",
        "Sum total",
        "Total (n)",
        "All defects",
        "N",
        "Grand total",
        "Gesamt",
        "Summe",
        "Insgesamt",
        "Total général",
        "Итого",
        "Всего",
        "Totale",
        "Suma",
        "Totaal",
        "Summa",
        "合計",
        "Sum",
        "Total 2026",
    )
    for word in words:
        yield Good(f"sheet with {word}", file(sheet(total=word)))
    for decimals in (0, 1, 2, 3, 4):
        yield Good(f"{decimals} decimals", file(sheet(LONG, decimals=decimals)))
        yield Good(f"{decimals} decimals with commas", file(german(sheet(LONG, decimals=decimals, total="Gesamt"))))
        yield Good(f"{decimals} decimals as shares", file(sheet(LONG, decimals=decimals, shares=True)))
        yield Good(f"{decimals} decimals with signs", file(sheet(LONG, decimals=decimals, percent="{} %")))
    mixed = "defect,count,percent,cumulative\nPinhole,88,38.1,0.381\nWarping,61,26.4,0.645\nEdge chip,44,19.0,0.835\nScratch,38,16.5,1\n"
    yield Good("percents beside shares", file(mixed))
    for rest in ("Other", "All other", "Misc.", "Sonstige", "Autres", "Others (7)", "Miscellaneous", "Rest", "Прочие"):
        yield Good(f"rest {rest}", file(sheet([("Pinhole", 88), ("Warping", 31), ("Stain", 20), (rest, 40)])))
    for labels in (
        ("Jan", "Feb", "Mar", "Apr"),
        ("Mon", "Tue", "Wed", "Thu"),
        ("very good", "good", "fair", "poor"),
        ("Week 1", "Week 2", "Week 3", "Week 4"),
        ("0-10", "10-20", "20-30", "30+"),
        ("S", "M", "L", "XL"),
        ("2026-01", "2026-02", "2026-03", "2026-04"),
        ("1", "2", "3", "4"),
        ("Q1", "Q2", "Q3", "Q4"),
    ):
        rows = list(zip(labels, (10, 30, 50, 20), strict=True))
        yield Good(f"in the order of {labels[0]}", file(sheet(rows)))
    for base in (500, 1000, 150):
        columns = ("--by", "defect", "--count", "count", "--percent-column", "percent", "--percent-base", str(base))
        yield Good(f"percents of {base} units", file(sheet(base=base), *columns))
        head = f"defect,count,percent of {base} units,cumulative percent of {base} units"
        yield Good(f"percents of {base}, as the heading says", file(sheet(base=base, head=head)))
    inspected = "defect,count,inspected,percent\n" + "".join(f"{name},{n},500,{n / 5:.1f}\n" for name, n in DEFECTS)
    yield Good("a column of what was inspected", file(inspected))
    yield Good(
        "no running sum, not sorted",
        file(sheet([DEFECTS[2], DEFECTS[0], DEFECTS[1]], running=False, head="defect,count,percent")),
    )
    subtotals = (
        "defect,count,percent,cumulative\nPinhole,88,38.1,38.1\nWarping,61,26.4,64.5\nSubtotal,149,64.5,\nEdge chip,44,19.0,83.5\n"
        "Scratch,38,16.5,100\nTotal,231,100,\n"
    )
    yield Good("subtotals", file(subtotals))
    yield Good(
        "the Total row first", file("defect,count,percent,cumulative\nTotal,231,100,\n" + sheet().partition("\n")[2])
    )
    yield Good(
        "two years and the share of one",
        file("defect,2025,2026,share 2026\nPinhole,70,88,38.1\nScratch,80,82,35.5\nWarping,50,61,26.4\n"),
    )
    yield Good(
        "the share of the cost",
        file("defect,count,cost,cost share %\nPinhole,88,900,45.0\nScratch,82,600,30\nWarping,61,500,25.0\n"),
    )
    yield Good(
        "titles above and notes below",
        file(
            "Defects of March;;;\n;;;\nDefect;Qty;% of total;Cum %\nPinhole;88;38,1;38,1\nScratch;82;35,5;73,6\n"
            "Warping;61;26,4;100,0\n;;;\nSource: final inspection;;;\n"
        ),
    )
    yield Good(
        "marks between thousands", file("defect;count;percent\nPinhole;1.200;50,0\nWarping;800;33,3\nStain;400;16,7\n")
    )
    yield Good(
        "running counts with marks",
        file('defect,count,cum count\nPinhole,"1,200","1,200"\nWarping,800,"2,000"\nStain,400,"2,400"\n'),
    )
    yield Good(
        "Indian numbers",
        file('defect,count,percent\nPinhole,"1,20,000",50.0\nWarping,"80,000",33.3\nStain,"40,000",16.7\n'),
    )
    yield Good(
        "a mean below",
        file(
            "defect,count,percent\nPinhole,88,38.1\nWarping,61,26.4\nScratch,82,35.5\nAverage,77,33.3\nTotal,231,100\n"
        ),
    )
    yield Good(
        "a total without a label",
        file("defect,count,percent\nPinhole,88,38.1\nWarping,61,26.4\nScratch,82,35.5\n,231,100\n"),
    )
    zero = "defect,count,percent,cumulative\nPinhole,88,50.0,50.0\nWarping,88,50.0,100.0\nStain,0,0.0,100.0\nTotal,176,100,\n"
    yield Good("a row of zero", file(zero))
    yield Good(
        "cumulative counts",
        file(
            "defect,count,cumulative count,cumulative %\nPinhole,88,88,38.1\nScratch,82,170,73.6\nWarping,61,231,100\n"
        ),
    )
    yield Good("a rank column", file("rank,defect,count,%\n1,Pinhole,88,38.1\n2,Warping,61,26.4\n3,Scratch,82,35.5\n"))
    yield Good(
        "a rate beside",
        file(
            "defect,count,reject rate\nPinhole,88,3.1\nWarping,61,2.4\nScratch,22,9.5\n",
            "--by",
            "defect",
            "--count",
            "count",
        ),
    )


def _sources() -> Iterator[Good]:
    by = ("--by", "defect")
    records = [(n, d, "ABC"[n % 3], n % 7 + 1) for n, d in enumerate(dealt(150))]
    yield Good("a log", file(log(records, "id,defect,kiln,pieces"), *by))
    yield Good("a log with pieces", file(log(records, "id,defect,kiln,pieces"), *by, "--count", "pieces"))
    yield Good("a log with cost", file(log(records, "id,defect,kiln,cost"), *by, "--weight", "cost"))
    yield Good("one unit", file(log([(*one, "kg") for one in records], "id,defect,kiln,n,unit"), *by, "--count", "n"))
    yield Good("alike by nature", file(log([(one[1], one[2]) for one in records], "defect,kiln"), *by))
    yield Good("even counts by chance", file(log([("a", 1), ("a", 2), ("b", 1), ("b", 2)] * 8, "defect,kiln"), *by))
    yield Good(
        "several labels",
        file(log([("a;b",), ("a",), ("a",), ("a",), ("b",), ("c",)] * 9, "defect"), *by, "--separator", ";"),
    )
    yield Good(
        "a Total row that is right", file(log([*DEFECTS, ("Total", 231)], "defect,count"), *by, "--count", "count")
    )
    yield Good(
        "a large record among large ones",
        file(log([(d, 100 + n) for n, d in enumerate(dealt(40))], "defect,cost"), *by, "--weight", "cost"),
    )
    yield Good(
        "decimal commas",
        file("defect;cost\n" + "".join(f"{d};{n},50\n" for n, d in enumerate(dealt(60))), *by, "--weight", "cost"),
    )
    yield Good(
        "a comma in a label",
        file("defect\n" + '"Crack, cooling"\n' * 9 + '"Crack, drying"\n' * 20 + "Stain\n" * 30, *by),
    )
    yield Good(
        "a slash in a label", file("defect\n" + "Crack/cooling\n" * 9 + "Stain/iron\n" * 20 + "Warping\n" * 60, *by)
    )


def _charts() -> Iterator[Good]:
    def chart(*series: Any, categories: Any = MONTHS, **options: Any) -> Any:
        return of(lambda: vt.Chart(categories, series, **options))

    bars, line, area = vt.Bars, vt.Line, vt.Area
    names = ["Pinhole", "Warping", "Edge chip", "Scratch"]
    running = line("Cumulative percent", [38.1, 64.5, 83.5, 100], unit="%", axis="secondary")
    counts = bars("Frequency", [88, 61, 44, 38])
    for name, values in (
        ("completion", [91, 95, 98, 99.6]),
        ("yield", [99.1, 99.3, 99.5, 99.9]),
        ("first pass", [80, 92, 97, 100]),
        ("on time", [88.5, 92.5, 96, 99.4]),
        ("reject rate", [4.2, 3.9, 5.1, 4.4]),
    ):
        yield Good(f"{name} over months", chart(bars("Fired", FIRED, unit="tiles"), line(name, values, unit="%")))
    yield Good("a Pareto by hand", chart(counts, running, categories=names, policy="proportional", meet=(231, 100)))
    for labels in (
        ["Jan", "Feb", "Mar", "Apr"],
        ["Mon", "Tue", "Wed", "Thu"],
        ["Week 1", "Week 2", "Week 3", "Week 4"],
        ["very poor", "poor", "good", "very good"],
        ["0-5", "5-10", "10-15", ">15"],
        ["1", "2", "3", "4"],
        ["KW 12", "KW 13", "KW 14", "KW 15"],
        ["S", "M", "L", "XL"],
        ["6:00", "7:00", "8:00", "9:00"],
        ["2023", "2024", "2025", "2026"],
        ["Q1 26", "Q2 26", "Q3 26", "Q4 26"],
        ["low", "medium", "high", "very high"],
        ["janv.", "févr.", "mars", "avril"],
        ["12 Jan", "13 Jan", "14 Jan", "15 Jan"],
        ["Step 1", "Step 2", "Step 3", "Step 4"],
    ):
        yield Good(f"a line over {labels[0]}", chart(line("Fired", FIRED), categories=labels))
        curve = line("Cumulative percent", [25.7, 49.3, 73.7, 100], unit="%", axis="secondary")
        yield Good(
            f"a curve over {labels[0]}",
            chart(bars("Fired", FIRED), curve, categories=labels, policy="proportional", meet=(2495, 100)),
        )
    yield Good(
        "a curve of the plan",
        chart(
            bars("Built", [10, 30, 50, 20]), line("Cumulative % of plan", [5, 20, 45, 55], unit="%", axis="secondary")
        ),
    )
    yield Good("running counts", chart(bars("Built", [10, 30, 50, 20]), line("Cumulative", [10, 40, 90, 110])))
    yield Good(
        "a rest last",
        chart(
            bars("n", [60, 30, 40]),
            line("Cumulative percent", [46.2, 69.2, 100], axis="secondary", unit="%"),
            categories=["a", "b", "Sonstige"],
            policy="proportional",
            meet=(130, 100),
        ),
    )
    yield Good("a running average", chart(bars("Fired", FIRED), line("Running average", [640, 615, 613, 624])))
    yield Good(
        "a cumulative yield",
        chart(bars("Fired", FIRED, unit="tiles"), line("Cumulative yield", [91, 93, 92.5, 92.1], unit="%")),
    )
    yield Good(
        "running sums of something else",
        chart(bars("Pieces", FIRED), line("Cumulative cost", [90, 150, 180, 210], unit="EUR")),
    )
    yield Good("a level target over crews", chart(bars("a", FIRED), line("Target", [600] * 4), categories=CREWS))
    yield Good(
        "degrees",
        chart(
            bars("Fired", FIRED, unit="tiles"),
            line("Kiln", [1180, 1185, 1190, 1182], unit="°C"),
            secondary_limits=(1170, 1200),
        ),
    )
    yield Good("two axes", chart(bars("Margin", [3, -2, 1, -4], unit="EUR"), line("Fired", FIRED, unit="tiles")))
    yield Good("grouped", chart(bars("a", FIRED), bars("b", [300, 200, 250, 280])))
    yield Good("stacked", chart(bars("a", FIRED), bars("b", [300, 200, 250, 280]), together="stacked"))
    yield Good("percent", chart(bars("a", FIRED), bars("b", [300, 200, 250, 280]), together="percent"))
    yield Good("overlaid", chart(bars("a", FIRED), bars("b", [300, 200, 250, 280]), together="overlaid"))
    yield Good(
        "parts of one base",
        chart(
            bars("Pinhole", [2.1, 2, 1.8, 2.2], unit="%"),
            bars("Warping", [1, 1.2, 0.9, 1], unit="%"),
            together="stacked",
        ),
    )
    yield Good(
        "shares of a whole",
        chart(
            bars("Kiln 1", [60, 55, 50, 52], unit="%"), bars("Kiln 2", [40, 45, 50, 48], unit="%"), together="stacked"
        ),
    )
    yield Good("areas, the smaller in front", chart(area("All", [5, 6, 7, 6]), area("Part", [2, 3, 2, 1])))
    yield Good("areas that cross", chart(area("a", [5, 2, 7, 6]), area("b", [2, 3, 2, 9])))
    yield Good("a target", chart(bars("a", FIRED, unit="tiles"), references=[vt.Reference(600, text="Target")]))
    yield Good(
        "80 % where it belongs",
        chart(
            counts,
            running,
            categories=names,
            policy="proportional",
            meet=(231, 100),
            references=[vt.Reference(80, text="80 %", axis="secondary")],
        ),
    )
    yield Good(
        "a target of 80 tiles",
        chart(
            counts,
            running,
            categories=names,
            policy="proportional",
            meet=(231, 100),
            references=[vt.Reference(80, text="Target")],
        ),
    )
    yield Good("points over crews", chart(vt.Points("a", FIRED), categories=CREWS))
    yield Good(
        "spellings of one unit",
        chart(bars("a", FIRED, unit="pcs"), bars("b", [300, 200, 250, 280], unit="pieces", axis="primary")),
    )
    for name in ("defects", "costs"):
        yield Good(f"our own Pareto chart of {name}", of(lambda: vt.pareto_chart(dict(LONG))))
    yield Good(
        "log bars that were asked for",
        chart(area("Planned", [2400, 62, 18, 2]), bars("Done", [2401, 66, 14, 1.6]), primary_log=True),
    )


def _orders() -> Iterator[Good]:
    rows = {
        "m": [*MONTHS, *MONTHS],
        "fired": [300, 280, 310, 290, 100, 90, 95, 105],
        "bad": [9, 8, 7, 11, 4, 3, 2, 5],
        "temp": [1180.5, 1190.2, 1185, 1182, 1179, 1181, 1188.5, 1184],
    }
    for kind in ("mean:temp", "mean:fired", "ratio:bad/fired", "percent:bad/fired", "sum:fired"):
        yield Good(f"combined {kind}", of(lambda kind=kind: vt.combine(rows, "m", line=kind)))
    yield Good(
        "rates of one base stacked",
        of(
            lambda: vt.combine(
                {"m": MONTHS, "n": [100, 90, 110, 95], "a": [4, 3, 5, 4], "b": [2, 2, 1, 3]},
                "m",
                bars=["percent:a/n", "percent:b/n"],
                together="stacked",
            )
        ),
    )
    days = [f"2026-0{month}-{day:02d}" for month in (1, 2, 3) for day in range(1, 29)]
    yield Good(
        "whole months", of(lambda: vt.combine({"t": days, "n": [3] * len(days)}, "t", bars="sum:n", period="month"))
    )


def _two_ways() -> Iterator[Good]:
    for seed in range(8):
        labels, kilns = dealt(300, seed=seed), dealt(300, ("Kiln 1", "Kiln 2", "Kiln 3"), seed + 90)
        yield Good(f"strata {seed}", of(lambda a=labels, b=kilns: vt.crosstab({"d": a, "k": b}, "d", "k")))
    for seed in range(8):
        one, other = dealt(300, seed=seed), dealt(260, seed=seed + 50)
        yield Good(f"comparison {seed}", of(lambda a=one, b=other: vt.compare(a, b)))
    yield Good(
        "two months",
        of(
            lambda: vt.compare(
                {"d": dealt(62), "t": [f"2026-01-{n // 2 + 1:02d}" for n in range(62)]},
                {"d": dealt(56, seed=2), "t": [f"2026-02-{n // 2 + 1:02d}" for n in range(56)]},
                "d",
                date="t",
            )
        ),
    )


def _books() -> Iterator[Good]:
    yield Good("a workbook", book())
    yield Good("a long workbook", book(LONG))
    for form in ("0%", "0.00%", "0.0%"):
        yield Good(f"shown as {form}", book(form=form))
    yield Good(
        "percents times 100",
        book(
            form="0.0",
            percent=lambda r, c, s, t: round(100 * c / t, 1),
            cumulative=lambda r, c, s, t: round(100 * s / t, 1),
            secondary_top=100,
        ),
    )
    yield Good(
        "percents of 100 by formula",
        book(form="0.0", percent="=B{r}/B${t}*100", cumulative="=SUM(B$2:B{r})*100/B${t}", secondary_top=100),
    )
    yield Good("the sum in each cell", book(percent="=B{r}/SUM(B$2:B${n})", cumulative="=SUM(B$2:B{r})/SUM(B$2:B${n})"))
    yield Good("added to the cell above", book(cumulative=lambda r, c, s, t: "=C2" if r == 2 else f"=D{r - 1}+C{r}"))
    yield Good("rounded", book(percent="=ROUND(B{r}/B${t},3)", form="0.0%"))
    yield Good("guarded", book(percent="=IFERROR(B{r}/B${t},0)"))
    yield Good(
        "no Total row", book(total=None, percent="=B{r}/SUM(B$2:B${n})", cumulative="=SUM(B$2:B{r})/SUM(B$2:B${n})")
    )
    yield Good("a typed total", book(total=231))
    yield Good("a subtotal formula", book(total="=SUBTOTAL(9,B2:B{n})"))
    yield Good("swapped axes", book(swapped=True))
    yield Good("a hidden second axis", book(hidden=True))
    yield Good("no percents", book(percent=None))
    yield Good("a sheet with a blank in its name", book(name="March 2026"))
    yield Good("bars alone", book(with_line=False, top=None))
    yield Good("horizontal bars", book(with_line=False, kind="bar", top=None))
    yield Good("a log axis that says so", book(with_line=False, log=True, top=None, titled="Count (log scale)"))
    yield Good("a rest last", book([("Pinhole", 88), ("Warping", 31), ("Stain", 20), ("Other", 40)]))
    yield Good("months", book([("Jan", 10), ("Feb", 30), ("Mar", 50), ("Apr", 20)]))
    yield Good("German headings", book(head=("Fehler", "Anzahl", "Anteil", "Kumuliert %")))
    yield Good("French headings", book(head=("Défaut", "Effectif", "Pourcentage", "Cumul %")))
