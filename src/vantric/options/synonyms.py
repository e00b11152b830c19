"""What people call an option that has another name here: earlier names, and plain words that people try."""

from __future__ import annotations

from collections.abc import Container

#: A word -> the options it may mean, each with the value that goes with it; the first that a command has is suggested.
SYNONYMS: dict[str, tuple[str, ...]] = {
    # names of the first edition
    "after_number": ("suffix",), "before_number": ("prefix",), "category_colours": ("category_colors",),
    "colour": ("color", "colors"), "colours": ("colors",), "centre": ("center",), "dates": ("date",),
    "front": ("layer",), "group": ("together=grouped",), "include_zero": ("primary_zero",), "log": ("primary_log",),
    "lying": ("orientation=horizontal",), "overlay": ("together=overlaid",), "percent": ("together=percent",
    "percent_column"), "points": ("line_at",), "stack": ("together=stacked",), "target": ("reference", "references"),
    "targets": ("references",), "thousands": ("show_numbers=1.234,56",), "decimal": ("show_numbers=1.234,56",),
    "decimal_mark": ("show_numbers=1.234,56",), "decimal_comma": ("show_numbers=1.234,56",),
    "thousands_separator": ("show_numbers=1.234,56",), "upright": ("orientation=vertical",), "width": ("line_width",
    "bar_width", "size"), "without_zero": ("no_primary_zero", "primary_zero=False"), "zero": ("primary_zero",),
    "cumulative": ("cumulative_column",),
    # names of the second edition
    "achieved": ("actual",),
    # words that people try
    "top": ("keep",), "first": ("keep",), "limit": ("keep",), "max_categories": ("keep",), "n": ("keep",),
    "head": ("keep",), "others": ("rest_label",), "other": ("rest_label",), "other_label": ("rest_label",),
    "threshold": ("cut",), "cutoff": ("cut",), "cut_off": ("cut",), "vital": ("cut",),
    "output": ("out", "save_chart"), "out_file": ("out",), "outfile": ("out",), "file": ("out",), "save": ("out",),
    "export": ("out",), "o": ("out",), "horizontal": ("orientation=horizontal",),
    "vertical": ("orientation=vertical",), "orient": ("orientation",), "rotate": ("orientation=horizontal",),
    "figsize": ("size",), "figure_size": ("size",), "dimensions": ("size",), "height": ("size",),
    "resolution": ("size",), "dpi": ("size",), "lines": ("line",), "bar": ("bars",), "column": ("by",),
    "columns": ("by_columns",), "category": ("by",), "categories": ("by",), "group_by": ("by",), "field": ("by",),
    "value": ("count",), "values_column": ("count",), "frequency": ("count",), "frequency_column": ("count",),
    "n_column": ("count",), "counts": ("count",), "weights": ("weight",), "cost": ("weight",),
    "labels_on": ("labels",), "show_values": ("labels",), "show_labels": ("labels",), "data_labels": ("labels",),
    "annotate": ("labels",), "label": ("labels",), "filter": ("where",), "condition": ("where",),
    "sql": ("query", "where"), "tab": ("sheet",), "worksheet": ("sheet",), "sep": ("separator",),
    "delimiter": ("separator",), "split_on": ("separator",), "dedupe": ("unique",), "distinct": ("unique",),
    "case_insensitive": ("merge_spellings",), "ignore_case": ("merge_spellings",), "na": ("missing",),
    "nan": ("missing",), "include_missing": ("missing=category",), "sort": ("order",), "sort_by": ("order",),
    "ascending": ("order",), "order_by": ("order",), "by_group": ("split",), "stratify": ("split",),
    "subplots": ("panels",), "style": ("theme",), "palette": ("colors", "color"), "dark": ("theme=dark",),
    "dark_mode": ("theme=dark",), "heading": ("title",), "name": ("title",), "xlabel": ("category_title",),
    "x_label": ("category_title",), "ylabel": ("primary_title",), "y_label": ("primary_title",), "caption": ("note",),
    "footer": ("note",), "source": ("note",), "currency": ("prefix",), "unit_prefix": ("prefix",),
    "digits": ("decimals",), "precision": ("decimals",), "round": ("decimals",), "right": ("secondary",),
    "log_scale": ("primary_log",), "ylim": ("primary_limits",), "y_limits": ("primary_limits",),
    "limits": ("primary_limits",), "stacked": ("together=stacked",), "grouped": ("together=grouped",),
    "overlaid": ("together=overlaid",), "normalize": ("together=percent", "values=percent"),
    "hline": ("references", "reference"), "target_line": ("references", "reference"),
    "goal": ("references", "reference"), "confidence": ("intervals",), "ci": ("intervals",),
    "error_bars": ("intervals",), "freq": ("period",), "frequency_period": ("period",), "interval": ("period",),
    "denominator": ("per",), "rate": ("per",), "exposure": ("per",), "z_order": ("layer",), "drilldown": ("drill",),
    "hierarchy": ("drill",), "levels": ("drill",), "legend_position": ("legend",), "show_grid": ("grid",),
    "gridlines": ("grid",), "config": ("save_chart",), "template": ("save_chart",), "transposed": ("transpose",),
    "flip": ("transpose",),
}  # fmt: skip


def synonym(word: str, known: Container[str], *, command: bool = False) -> str:
    """Return what an option of another name is called here, as it is written; empty if none is known.

    Parameters
    ----------
    word
        The name that was tried, with ``-`` or ``_``.
    known
        The names of the options that there are, in the spelling of Python.
    command
        Whether the answer is for the command line.
    """
    plain = word.lstrip("-").replace("-", "_").casefold()
    for said in SYNONYMS.get(plain, ()):
        name, sign, value = said.partition("=")
        if name not in known:
            continue
        if command:
            return f"--{name.replace('_', '-')}{f' {value}' if sign else ''}"
        if not sign:
            return f"'{name}'"
        return f"{name}={value if value in ('True', 'False') else repr(value)}"
    return ""
