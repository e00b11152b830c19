"""Charts kept as files: what the options of each command and function are called there, and the way back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, fields, replace
from datetime import date
from pathlib import Path
from typing import Any

from vantric.api.analysis import Analysis
from vantric.api.chartoptions import read_look, read_tally_wish, read_wish
from vantric.api.charts import chart_of, tallied_chart
from vantric.api.combinationoptions import colored, read_combination
from vantric.api.combining import Combination, combined_chart
from vantric.api.comparing import Sides
from vantric.api.options import split_analysis
from vantric.api.reach import Reach
from vantric.chartfile import model, sections
from vantric.chartfile.writing import chart_file_bytes
from vantric.core import charting
from vantric.core.axes import align
from vantric.core.charting import KINDS, Reference, Series
from vantric.core.composing import combination_chart, scales_chart
from vantric.core.composing.categories import read_categories
from vantric.core.numbers.style import NumberStyle
from vantric.errors import ChartFileError
from vantric.report import scalesdata
from vantric.report.chartsentence import chart_sentence
from vantric.sources import Counting, Opening, cross, gather
from vantric.sources.tallying.exposures import as_number

Drawn = charting.Chart | charting.PanelChart


def beyond_defaults(options: Any) -> dict[str, Any]:
    """Return name -> value of the options of a dataclass that are not as they are by default."""
    return {
        one.name: getattr(options, one.name) for one in fields(options) if getattr(options, one.name) != one.default
    }


def kept_analysis(analysis: Analysis) -> dict[str, Any]:
    """Return the options of a table as a chart file has them."""
    found = beyond_defaults(analysis)
    if "cut" in found:
        cut = found["cut"]
        numbers = [as_number(part) for part in cut.split(",")] if isinstance(cut, str) else cut
        found["cut"] = "none" if cut is None else numbers
    return found


def kept_counting(counting: Counting) -> dict[str, Any]:
    """Return what is counted as a chart file has it; a table of families, or the path of their file."""
    found = beyond_defaults(counting)
    found.pop("in_order", None)
    if isinstance(found.get("families"), Path):
        found["families"] = str(found["families"])
    return found


def kept_data(source: Any, opening: Opening) -> dict[str, Any]:
    """Return where the records are as a chart file has it."""
    return {"source": list(source) if isinstance(source, tuple) else source, **opening.kept()}


def kept_look(look: Mapping[str, Any], section: type[sections.Look]) -> dict[str, Any]:
    """Return the options of a chart, as the command line or a function has them, that are not the defaults."""
    found = {}
    for name, value in look.items():
        if name == "size" and value is not None:
            from vantric.api.chartoptions import read_size

            value = list(read_size(value))
            value = None if value == [1280.0, 800.0] else [int(one) if one == int(one) else one for one in value]
        if name == "labels" and section is not sections.TableLook and isinstance(value, str):
            value = value.replace("-", " ")
        default = section.model_fields[name].get_default(call_default_factory=True)
        if value is not None and value != default and not (isinstance(value, tuple) and list(value) == default):
            found[name] = value
    return found


def kept_making(making: Mapping[str, Any]) -> dict[str, Any]:
    """Return the options of a combination chart under the names that a chart file has for them."""
    found = dict(making)
    zero = found.pop("include_zero", None) or (None, None)
    sides = ("primary", "secondary")
    found["zero"] = [side for side, wished in zip(sides, zero, strict=True) if wished is True]
    found["without_zero"] = [side for side, wished in zip(sides, zero, strict=True) if wished is False]
    log = found.get("log", ())
    found["log"] = [log] if isinstance(log, str) else list(log)
    for name in ("primary_limits", "secondary_limits"):
        limits = found.get(name)
        if limits is not None:
            found[name] = ["free" if end is None else end for end in limits]
    if found.get("references"):
        found["references"] = [asdict(one) for one in found["references"]]
    return found


def kept_series(series: Sequence[tuple[str, str]], options: Mapping[str, Mapping[str, Any]], secondary: Sequence[str],
                called: Mapping[str, str]) -> list[dict[str, Any]]:  # fmt: skip
    """Return the series of a combination as a chart file has them."""
    found = []
    second = {called[name] for name in secondary}
    for kind, text in series:
        name = called[text]
        own = {key: value for said, more in options.items() if called.get(said) == name for key, value in more.items()}
        axis = {"axis": "secondary" if name in second else "primary"} if second else {}
        found.append({"kind": kind, "what": text, **axis, **_plain(own)})
    return found


def _plain(options: Mapping[str, Any]) -> dict[str, Any]:
    found = dict(options)
    if isinstance(found.get("style"), NumberStyle):
        found["style"] = beyond_defaults(found["style"])
    if isinstance(found.get("labels"), str):
        found["labels"] = found["labels"].replace("-", " ")
    return found


def given_series(one: Series) -> dict[str, Any]:
    """Return a series with its values as a chart file has it."""
    values = ["" if value != value else int(value) if value == int(value) else value for value in one.values]
    return {"kind": one.kind, "name": one.name, "values": values, **_plain(one.options())}


def kept_series_chart(
    categories: Sequence[Any], series: Sequence[Series], options: Mapping[str, Any], target: Path
) -> bytes:
    """Return the chart file of series given as numbers."""
    plain = [value.item() if hasattr(value, "item") else value for value in categories]
    texts = [one.isoformat()[:10] if isinstance(one, date) else one for one in plain]
    look = dict(options)
    period = look.pop("period", None)
    if period is None and all(isinstance(one, date) for one in plain):
        period = read_categories(plain).period
    given = {"categories": texts, "period": period, "series": [given_series(one) for one in series]}
    said = kept_look(kept_making(look), sections.CombinationLook)
    return chart_file_bytes("series", {"given": given, "chart": said}, target)


def kept_pareto_chart(
    data: str, by: str | None, given: Mapping[str, Any], look: Mapping[str, Any], target: Path
) -> bytes:
    """Return the chart file of a Pareto chart of a file or database."""
    analysis, counting, opening = split_analysis(by, given)  # type: ignore[arg-type]
    parts = {
        "data": kept_data(data, opening),
        "counting": kept_counting(counting),
        "analysis": kept_analysis(analysis),
        "chart": kept_look(look, sections.TableLook),
    }
    return chart_file_bytes("pareto", parts, target)


def kept_combination(
    data: str,
    opening: Opening,
    combination: Combination,
    names: Sequence[str],
    options: Mapping[str, Any],
    target: Path,
) -> bytes:
    """Return the chart file of columns set side by side; `names` is what each series is called."""
    return chart_file_bytes("combine", combination_parts(data, opening, combination, names, options), target)


def combination_parts(
    data: str, opening: Opening, combination: Combination, names: Sequence[str], options: Mapping[str, Any]
) -> dict[str, Any]:
    """Return the sections of the chart file of columns set side by side."""
    texts = [text for _, text in combination.series]
    called = {**{name: name for name in names}, **dict(zip(texts, names, strict=True))}
    drawn = kept_series(combination.series, combination.options, combination.secondary, called)
    order = {} if combination.order == "given" else {"order": combination.order}
    said = {"x": combination.x, "period": combination.period, **order, "series": drawn}
    chart = kept_look(kept_making(options), sections.CombinationLook)
    return {"data": kept_data(data, opening), "combine": said, "chart": chart}


def drawn_file(found: model.ChartFile, reach: Reach, *, look: Mapping[str, Any]) -> Drawn:
    """Return the chart that a file describes.

    Parameters
    ----------
    found
        What the file says.
    reach
        Where it lies, and what it may read.
    look
        Options in place of the file's own.

    Raises
    ------
    VantricError
        As the function that makes such a chart.
    """
    if reach.source is not None and isinstance(found, (model.ScalesFile, model.SeriesFile)):
        raise ChartFileError("this chart holds its numbers itself: leave the other source out")
    if isinstance(found, model.ScalesFile):
        chosen = read_look(look)
        return replace(_scales(found), **{name: chosen[name] for name in ("theme", "size") if name in chosen})
    wished = {**found.chart.said(), **look}
    if isinstance(found, model.SeriesFile):
        return _given(found, wished)
    data, opening = reach.data(found.data)
    if isinstance(found, model.CombineFile):
        return _combined(found, data, opening, wished)
    counting = reach.counting(found.counting)
    if isinstance(found, model.TallyFile):
        counted = (
            gather(data, counting, opening)
            if found.crossing is None
            else cross(data, counting, opening, split=found.crossing.split)
        )
        return tallied_chart(counted, read_tally_wish(wished))
    panels = wished.pop("panels", False)
    wish = read_wish(wished)
    if isinstance(found, model.CompareFile):
        return chart_of(Sides(**found.sides.said()).compare(data, counting, opening), wish)
    return chart_of(_analysis(found).table(data, counting, opening), wish, panels=panels)


def table_of_file(found: model.ChartFile, reach: Reach) -> Any:
    """Return the Pareto table or the comparison under a chart file; None under other charts."""
    if not isinstance(found, (model.ParetoFile, model.CompareFile)):
        return None
    data, opening = reach.data(found.data)
    counting = reach.counting(found.counting)
    if isinstance(found, model.CompareFile):
        return Sides(**found.sides.said()).compare(data, counting, opening)
    return _analysis(found).table(data, counting, opening)


def _analysis(found: model.ParetoFile) -> Analysis:
    said = found.analysis.said()
    said = {name: tuple(value) if name in ("last", "drill") else value for name, value in said.items()}
    if said.get("cut") == "none":
        said["cut"] = None
    return Analysis(**said)


def _combined(found: model.CombineFile, data: Any, opening: Opening, wished: dict[str, Any]) -> charting.Chart:
    asked = found.combine
    wanted = tuple((one.kind, one.what) for one in asked.series)
    options = {one.what: _series_options(one) for one in asked.series}
    second = tuple(one.what for one in asked.series if options[one.what].pop("axis", None) == "secondary")
    combination = Combination(asked.x, wanted, second, asked.period, asked.order, options)
    measures, series = combination.work_out(data, opening)
    return combined_chart(measures, series, read_combination(_making(wished)))


def _series_options(one: sections.SeriesOptions) -> dict[str, Any]:
    said = {name: value for name, value in one.said().items() if name not in ("kind", "what", "name", "values")}
    if "style" in said:
        said["style"] = NumberStyle(**said["style"])
    if isinstance(said.get("labels"), list):
        said["labels"] = tuple(said["labels"])
    return said


def _making(wished: Mapping[str, Any]) -> dict[str, Any]:
    """Return the options of a combination chart as the public function takes them."""
    found = dict(wished)
    zero, none = found.pop("zero", ()), found.pop("without_zero", ())
    if zero or none:
        sides = ("primary", "secondary")
        found["include_zero"] = tuple(True if one in zero else False if one in none else None for one in sides)
    for name in ("primary_limits", "secondary_limits"):
        if found.get(name) is not None:
            found[name] = _ends(found[name])
    if found.get("meet") is not None:
        found["meet"] = tuple(found["meet"])
    found["references"] = tuple(Reference(**one) for one in found.get("references", ()))
    return found


def _ends(limits: Sequence[Any]) -> tuple[float | None, float | None]:
    low, high = (None if end == "free" else end for end in limits)
    return low, high


def _given(found: model.SeriesFile, wished: dict[str, Any]) -> charting.Chart:
    series = []
    for one in found.given.series:
        values = [None if value == "" else value for value in one.values]
        series.append(colored(KINDS[one.kind](one.name, tuple(values), **_series_options(one))))  # type: ignore[arg-type]
    period = {"period": found.given.period} if found.given.period else {}
    made = combination_chart(found.given.categories, series, read_combination({**_making(wished), **period}))
    return replace(made, description=chart_sentence(made))


def _scales(found: model.ScalesFile) -> charting.Chart:
    one = found.scales
    sides = ("primary", "secondary")
    pair = align(
        tuple(one.primary), tuple(one.secondary), policy=one.policy,  # type: ignore[arg-type]
        include_zero=tuple(side not in one.without_zero for side in sides),  # type: ignore[arg-type]
        kind=tuple("log" if side in one.log else "linear" for side in sides),  # type: ignore[arg-type]
        limits=tuple(None if ends is None else _ends(ends) for ends in (one.primary_limits, one.secondary_limits)),  # type: ignore[arg-type]
        meet=tuple(one.meet) if one.meet else None, headroom=one.headroom, clip=one.clip,  # type: ignore[arg-type]
    )  # fmt: skip
    return scales_chart(pair, description=" ".join(scalesdata.scales_lines(pair)[2:]))
