"""From a frame of any library to what it can be asked: Arrow and DuckDB by themselves, others by narwhals."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Any

import narwhals as nw
import narwhals.exceptions
from narwhals.dependencies import is_dask_dataframe

from vantric.engines.frame_table import MOST, Column, ColumnType, FrameTable, NarwhalsTable, Result, type_named
from vantric.errors import SourceError
from vantric.reading.records import Group

#: The lower half of a 64-bit integer.
_LOW = 0xFFFFFFFF
_ARROW_FUNCTIONS: dict[Result, str] = {"valid": "count", "sum": "sum", "least": "min", "most": "max"}


class ArrowTable(NarwhalsTable):
    """A table of Arrow: columns are expressions of its query engine."""

    def __init__(self, view: Any, names: Sequence[str] | None = None) -> None:
        import pyarrow as pa
        import pyarrow.acero
        import pyarrow.compute

        super().__init__(view, names)
        self._arrow, self._compute, self._acero = pa, pyarrow.compute, pyarrow.acero

    def column(self, name: str) -> Column:
        """Return a column; see `Table.column`."""
        return self._compute.field(self._own[name])

    def refer(self, name: str, column: Column) -> Column:
        """Return a column by its name; see `Table.refer`."""
        return self._compute.field(name)

    def whole(self, column: Column) -> Column:
        """Return integers of 64 bits; see `Table.whole`."""
        return column.cast(self._arrow.int64())

    def real(self, column: Column, *, clean: bool = False) -> Column:
        """Return 64-bit floats; see `Table.real`."""
        number = column.cast(self._arrow.float64(), safe=False)
        if not clean:
            return number
        nothing = self._arrow.scalar(None, self._arrow.float64())
        return self._compute.if_else(self._compute.is_nan(number), nothing, number)

    def floor(self, column: Column) -> Column:
        """Return the integers below; see `Table.floor`."""
        within = self._compute.max_element_wise(self._compute.min_element_wise(column, MOST), -MOST)
        return self._compute.floor(within).cast(self._arrow.int64(), safe=False)

    def halves(self, column: Column) -> tuple[Column, Column]:
        """Return both halves of an integer."""
        low = self._compute.bit_wise_and(column, _LOW)
        return self._compute.shift_right(column, 32).cast(self._arrow.int64()), low.cast(self._arrow.int64())

    def decimal(self, column: Column, digits: int, scale: int) -> Column:
        """Return decimals; see `Table.decimal`."""
        return column.cast(self._arrow.decimal128(digits, scale))

    def type_of(self, column: Column) -> ColumnType:
        """Return what a computed column holds: what it makes of no records."""
        import narwhals as nw

        none = self._projected([column], ["x"], self._frame.head(0).to_native())
        frame = nw.from_native(none.to_table(use_threads=False))
        return type_named(frame.collect_schema()["x"])

    def _projected(self, columns: Sequence[Column], names: Sequence[str], native: Any) -> Any:
        acero = self._acero
        source = acero.Declaration("table_source", acero.TableSourceNodeOptions(native))
        return acero.Declaration("project", acero.ProjectNodeOptions(columns, names), [source])

    def grouped(
        self, keys: Sequence[str], contents: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in the engine; see `Table.grouped`."""
        if not any(contents):
            return super().grouped(keys, contents, results)
        plain = [f"k{place}" for place in range(len(keys))]
        acero = self._acero
        columns = {own: self._decoded(key) for own, key in zip(plain, keys, strict=True)}
        columns |= contents[0]
        plan = self._projected(list(columns.values()), list(columns), self._frame.to_native())
        for step in contents[1:]:
            columns = {**{name: self._compute.field(name) for name in columns}, **step}
            plan = acero.Declaration("project", acero.ProjectNodeOptions(list(columns.values()), list(columns)), [plan])
        hashed = "hash_" if plain else ""
        values = [
            ([], f"{hashed}count_all", None, f"r{place}")
            if kind == "rows"
            else (name, f"{hashed}{_ARROW_FUNCTIONS[kind]}", None, f"r{place}")
            for place, (kind, name) in enumerate(results)
        ]
        plan = acero.Declaration("aggregate", acero.AggregateNodeOptions(values, plain), [plan])
        groups = plan.to_table().select([*plain, *(f"r{place}" for place in range(len(results)))])
        return list(zip(*(column.to_pylist() for column in groups.columns), strict=True))

    def _decoded(self, key: str) -> Column:
        """Return a key as plain values: labels that stand once in a dictionary are no keys of the engine's."""
        native = self._frame.to_native().schema.field(self._own[key]).type
        column = self.column(key)
        return column.cast(native.value_type) if self._arrow.types.is_dictionary(native) else column


_DUCKDB_FUNCTIONS: dict[Result, str] = {"valid": "count", "least": "min", "most": "max"}


class DuckTable(NarwhalsTable):
    """A relation of DuckDB."""

    def __init__(self, view: Any, names: Sequence[str] | None = None) -> None:
        super().__init__(view, names)
        self.compensates = True

    def grouped(
        self, keys: Sequence[str], contents: Sequence[Mapping[str, Column]], results: Sequence[tuple[Result, str]]
    ) -> list[Group]:
        """Group in the engine; see `Table.grouped`."""
        if not any(contents):
            return super().grouped(keys, contents, results)
        plain = [f"k{place}" for place in range(len(keys))]
        native = self._staged(keys, contents).to_native()
        kinds = dict(zip(native.columns, map(str, native.types), strict=True))
        names = [
            "count(*)"
            if kind == "rows"
            else f"{'fsum' if kinds[name] == 'DOUBLE' and keys else 'sum'}({name})"
            if kind == "sum"
            else f"{_DUCKDB_FUNCTIONS[kind]}({name})"
            for kind, name in results
        ]
        return list(native.aggregate(", ".join([*plain, *names]), ", ".join(plain)).fetchall())


def table_of(data: Any) -> FrameTable:
    """Return a frame as a table, or raise `SourceError`."""
    if is_dask_dataframe(data):
        from vantric.engines.cluster_tables import DaskTable

        return DaskTable(data)
    view = from_native(data)
    if view.implementation.is_ibis():
        view = _as_relation(view)
    elif view.implementation.is_pandas():
        view = _as_arrow(view)
    if view.implementation.is_duckdb():  # a relation may name two columns alike
        names = Counter(view.to_native().columns)
        twice = next((name for name, times in names.items() if times > 1), None)
        if twice is not None:
            raise SourceError(f"the frame has two columns named '{twice}'; rename one of them")
    if view.implementation.is_pyspark() or view.implementation.is_pyspark_connect():
        from vantric.engines.cluster_tables import SparkTable

        return SparkTable(view)
    if view.implementation.is_pyarrow() and isinstance(view, nw.DataFrame):
        return ArrowTable(view)
    if view.implementation.is_duckdb():
        return DuckTable(view)
    if view.implementation.is_sqlframe():
        return NarwhalsTable(view, _plain_names(view))
    return NarwhalsTable(view)


def _as_arrow(view: Any) -> Any:
    """Return a frame of pandas whose columns are all of Arrow as the table that they are: nothing is copied.

    Among others, floats that know NaN beside missing values become those of NumPy, which know one of both: pandas
    leaves NaN out of sums and counts it among the values.
    """
    frame = view.to_native()
    kinds = {name: str(kind) for name, kind in frame.dtypes.items()}
    has_durations = any(kind.startswith("duration") for kind in kinds.values())  # whose texts differ
    of_arrow = [isinstance(name, str) and kind.endswith("[pyarrow]") for name, kind in kinds.items()]
    if kinds and all(of_arrow) and not has_durations:
        import pyarrow

        return from_native(pyarrow.Table.from_pandas(frame, preserve_index=False))
    two_kinds = [name for name, kind in kinds.items() if kind in _FLOATS_WITH_NAN]
    return from_native(frame.astype(dict.fromkeys(two_kinds, "float64"))) if two_kinds else view


_FLOATS_WITH_NAN = ("double[pyarrow]", "float[pyarrow]", "halffloat[pyarrow]")


def _as_relation(view: Any) -> Any:
    """Return a table of Ibis that DuckDB holds as the relation that it is: asked so, it costs one compilation."""
    import duckdb
    import ibis

    table = view.to_native()
    try:
        engine = table.get_backend()
        return from_native(engine.con.sql(str(ibis.to_sql(table)))) if engine.name == "duckdb" else view
    except (ibis.common.exceptions.IbisError, duckdb.Error):  # of several engines, or with what is registered late
        return view


def _plain_names(view: Any) -> list[str]:
    """Return the names of SQLFrame's columns without the marks that some of them have around them."""
    names = [name.strip("`") for name in view.columns]
    if "*" in names:
        raise SourceError("the frame does not know its columns: name them in its query in place of *")
    return names


def from_native(data: Any) -> Any:
    """Return the narwhals view of a frame or series, or raise `SourceError`."""
    try:
        return nw.from_native(data, allow_series=True)
    except TypeError:
        raise SourceError(
            f"cannot count {type(data).__name__}: give a path, a frame, a mapping or an iterable of labels"
        ) from None
    except nw.exceptions.NarwhalsError as error:  # such as two columns of one name
        raise SourceError(f"the {type(data).__name__} cannot be read: {' '.join(str(error).split())}") from error


def framed_series(data: Any, label: str) -> tuple[Any, str | None] | None:
    """Return a series as a frame of one column of that name, and its own name; None if it is no series."""
    if is_dask_dataframe(data):
        return None
    if type(data).__module__.partition(".")[0] == "dask" and hasattr(data, "to_frame"):
        return data.to_frame(label), data.name if isinstance(data.name, str) else None
    view = from_native(data)
    if not isinstance(view, nw.Series):
        return None
    name = view.name if view.name and isinstance(view.name, str) else None
    return view.alias(label).to_frame().to_native(), name
