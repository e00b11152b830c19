"""Databases through SQLAlchemy: the filter and the group-by run there, and nothing is written."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from copy import copy
from decimal import Decimal
from importlib.util import find_spec
from typing import TYPE_CHECKING, Any

from vantric.base.lazily import compiled
from vantric.base.safe_text import is_secret, masked
from vantric.base.stopping import overdue, stoppable
from vantric.core.counts.provenance import Note
from vantric.core.numbers.amounts import LARGEST
from vantric.engines import database_guards as postgresguard
from vantric.engines.database_guards import read_only, watch
from vantric.errors import MissingExtraError, SourceError, unknown
from vantric.reading.conditions import check_each
from vantric.reading.headings import BETWEEN
from vantric.reading.records import Group, Records
from vantric.reading.settings import ReadSettings, check_columns

if TYPE_CHECKING:
    from sqlalchemy import Connection, Engine


def check_installed() -> None:
    """Raise `MissingExtraError` if there is no SQLAlchemy."""
    try:
        import sqlalchemy  # noqa: F401
    except ImportError:
        raise MissingExtraError("reading databases needs SQLAlchemy: pip install 'vantric[sql]'") from None


def parsed_url(url: str) -> Any:
    """Return the URL of a database in its parts; raise `SourceError` if it is none."""
    import sqlalchemy

    try:
        return sqlalchemy.make_url(url)
    except (sqlalchemy.exc.ArgumentError, ValueError):
        raise SourceError(
            "this is not the URL of a database: it reads like postgresql://user@host/name or sqlite:///file.db"
        ) from None


def table_names(url: str) -> list[str]:
    """Return the tables and views of a database.

    Raises
    ------
    SourceError
        If it cannot be opened.
    """
    check_installed()
    import sqlalchemy as sa

    parsed = parsed_url(url)
    text = masked(parsed.render_as_string(hide_password=True))
    try:
        engine = sa.create_engine(read_only(parsed, text))
        with engine.connect() as connection:
            inspector = sa.inspect(connection)
            return sorted([*inspector.get_table_names(), *inspector.get_view_names()])
    except (sa.exc.SQLAlchemyError, ModuleNotFoundError) as error:
        raise SourceError(f"'{text}' cannot be read: {' '.join(str(error).split())[:200]}") from None


_INT64_MAX = 2**63 - 1
#: Comments before the first word of a query.
_COMMENTS = compiled(r"\A(?:\s|--[^\n]*(?:\n|\Z)|/\*.*?\*/)+", re.DOTALL)
#: Statements that begin otherwise write, or set something.
_READS = compiled(r"\s*(\(\s*)*(select|with|values|table)\b", re.IGNORECASE)


def open_database(url: str, opening: ReadSettings, column_names: Sequence[str]) -> Records:
    """Open a table or the result of a query.

    Raises
    ------
    SourceError
        If a driver is missing, the database cannot be reached, the table does not exist, or the query writes. No
        message holds a password.
    MissingExtraError
        If SQLAlchemy is missing.
    """
    check_installed()
    _check_opening(opening)
    parsed = parsed_url(url)
    records = _connected(parsed, opening)
    try:
        check_columns(column_names, records.names(), f"'{records.shown}'")
    except BaseException:  # Ctrl-C too must close the connection
        records.close()
        raise
    return records


def _check_opening(opening: ReadSettings) -> None:
    """Refuse what a database does not have."""
    if opening.memory is not None or opening.allow_functions:
        raise SourceError("memory and allow_functions are for files: a database has limits of its own")
    if opening.cells is not None or opening.header is not None or opening.visible_only or opening.fill_down:
        raise SourceError("a database has named columns and no order: leave cells, header, visible_only, fill_down out")
    if opening.encoding is not None:
        raise SourceError("a database says its encoding itself: leave encoding out")
    if opening.sheet:
        raise SourceError("a database has no sheets: leave the sheet out")
    if (opening.table is None) == (opening.query is None):
        raise SourceError("say what to read from the database: a table or a query, one of them")


def _connected(parsed: Any, opening: ReadSettings) -> DatabaseRecords:
    """Return the records of a database that is opened for reading only."""
    import sqlalchemy

    text = masked(parsed.render_as_string(hide_password=True))
    try:
        if parsed.drivername == "postgresql" and find_spec("psycopg") is not None:
            parsed = parsed.set(drivername="postgresql+psycopg")
        wished: dict[str, Any] = {}
        if parsed.drivername == "postgresql+psycopg":
            wished["connect_args"] = postgresguard.connect_options(
                parsed.query, opening.timeout or postgresguard.STATEMENT_TIMEOUT
            )
        engine = sqlalchemy.create_engine(read_only(parsed, text), **wished)
        return DatabaseRecords(engine, text, opening)
    except sqlalchemy.exc.NoSuchModuleError:
        raise SourceError(f"no kind of database is called '{parsed.drivername}' here; check the URL") from None
    except ModuleNotFoundError as error:
        raise SourceError(f"reading '{text}' needs the driver '{error.name}': install it with pip") from None


class DatabaseRecords(Records):
    """The records of a table or a query, under a condition."""

    def __init__(self, engine: Engine, source_name: str, opening: ReadSettings) -> None:
        import sqlalchemy as sa

        self._engine, self.where, self.rules = engine, opening.where, opening.rules()
        options = [(name, value) for name, value in engine.url.query.items() if isinstance(value, str)]
        secrets = [engine.url.password, *(value for name, value in options if is_secret(name, value))]
        self._hidden = [str(secret) for secret in secrets if secret]
        what = opening.table if opening.table is not None else "query"
        self.shown = f"{source_name} {what}"
        self._quote = engine.dialect.identifier_preparer.quote
        self._connection: Connection | None = None
        try:
            self._connect(opening)
        except sa.exc.SQLAlchemyError as error:
            self.close()
            raise self._failed(error) from None
        except BaseException:  # Ctrl-C too must close the connection
            self.close()
            raise

    def _connect(self, opening: ReadSettings) -> None:
        self._connection = self._engine.connect()
        if self._engine.dialect.name == "postgresql":
            self._connection = self._connection.execution_options(postgresql_readonly=True)
        only = self._engine.dialect.name == "sqlite"
        seconds = opening.timeout or postgresguard.STATEMENT_TIMEOUT
        if only and opening.table is None:
            watch(self._connection, seconds)
        self._query_text = None if opening.query is None else opening.query.strip().rstrip("; \t\r\n")
        self._from = self._table(opening.table) if opening.table is not None else self._query(str(opening.query))
        if only:
            watch(self._connection, seconds)
        self._names = tuple(map(str, self._run(f"SELECT * FROM {self._from} WHERE 1 = 0").keys()))
        if self.where is not None:
            check_each(self.where, self._check_where)
            self._ask(f"SELECT 1 FROM {self._filtered()} AND 1 = 0")

    def _check_where(self, where: str) -> None:
        """Refuse what is not one condition that only reads."""
        if ";" in where or not where.strip():
            raise SourceError(f"where is one condition, such as kiln = 'Kiln 2', not: {where}")
        parsed = (f"SELECT 1 FROM {self._from} WHERE {text}" for text in (where, f"({where}\n)"))
        self._check_reads(where, "condition", *parsed)

    def _check_reads(self, text: str, what: str, *parsed: str) -> None:
        """Refuse a text that does more than read; every one of the statements made of it must be one query."""
        dialect = self._engine.dialect
        if dialect.name == "sqlite":  # opened for reading only, and an authorizer watches every statement
            for sql in parsed:
                self._ask(f"EXPLAIN {sql}")  # it runs nothing
            return
        if not postgresguard.is_psycopg(dialect):
            raise SourceError(f"a {what} is for SQLite, and for PostgreSQL with psycopg; here read a table or a view")
        for sql in parsed:
            postgresguard.check_parsed(self._connection, sql, what)
        postgresguard.check_functions(self._connection, text, what)

    def _table(self, table: str) -> str:
        from sqlalchemy import inspect

        inspector: Any = inspect(self._connection)
        schema, _, name = table.rpartition(".")
        values = [*inspector.get_table_names(schema or None), *inspector.get_view_names(schema or None)]
        if self._engine.dialect.name == "postgresql":
            values += inspector.get_materialized_view_names(schema or None)
            values += inspector.get_foreign_table_names(schema or None)
        if name not in values:
            message = f"the database has no table '{table}'{'' if values else '; it has no tables'}"
            raise unknown(SourceError, message, name, values, label="its tables are")
        return f"{self._quote(schema)}.{self._quote(name)}" if schema else self._quote(name)

    def _query(self, query: str) -> str:
        """Return a query as something to select from; one that writes is refused."""
        plain = query.strip().rstrip("; \t\r\n")
        if self._engine.dialect.name != "postgresql" and not _READS.match(_COMMENTS.sub(" ", plain)):
            raise SourceError("the query must only read: one SELECT, and nothing else")
        self._check_reads(plain, "query", plain)  # one statement: what is behind its semicolon are comments
        first: SourceError | None = None
        for part in (plain, *postgresguard.cut_at_semicolons(plain)):
            wrapped = f"({part}\n) AS vantric_query"
            try:
                self._check_reads(plain, "query", part, f"SELECT 1 FROM {wrapped}")
            except SourceError as error:
                first = first or error
                self._connection.rollback()  # type: ignore[union-attr]
                continue
            return wrapped
        assert first is not None
        raise first

    def close(self) -> None:
        """Give the connection back."""
        if self._connection is not None:
            self._connection.close()
        self._engine.dispose()

    def first_values(self, column: str) -> Sequence[Any] | None:
        """Return the different values of a column in the order of the query's rows; a table has none."""
        if self._query_text is None:
            return None

        def first() -> list[Group]:
            result, index = self._run(str(self._query_text)), self._names.index(column)
            return [(value,) for value in dict.fromkeys(row[index] for row in result)]

        return [row[0] for row in self._decoded(self._safely(first))]

    def names(self) -> tuple[str, ...]:
        """Return the names of the columns."""
        return self._names

    def head(self, rows: int) -> list[Group]:
        """Return the first records."""
        return self._run_safely(f"SELECT * FROM {self._filtered()}", rows)

    def _groups(self, keys: Sequence[str]) -> list[Group]:
        columns = ", ".join(map(self._quote, keys))
        if not keys:
            return self._ask(f"SELECT count(*) FROM {self._filtered()}")
        return self._decoded(self._ask(f"SELECT {columns}, count(*) FROM {self._filtered()} GROUP BY {columns}"))

    def _decoded(self, groups: list[Group]) -> list[Group]:
        """Return groups with codes that mean missing as None."""
        codes = {code.strip() for code in self.rules.na}
        if not codes:
            return groups
        return [
            tuple(None if isinstance(text, str) and text.strip() in codes else text for text in row) for row in groups
        ]

    def sums(
        self, keys: Sequence[str], amount: str, *, free: bool = False, counted: bool = True, squares: bool = False
    ) -> list[Group]:
        """Add up in the database where that is exact, else here, one group a different number.

        A column whose extremes are both integers, or both exact decimals, or both floats, holds nothing else.
        """
        column = self._quote(amount)
        ends = f"min({column}), max({column}), count({column}), count(*)"
        low, high, valid, rows = self._ask(f"SELECT {ends} FROM {self._filtered()}")[0]
        numbers = all(type(value) in (int, float, Decimal) and value == value for value in (low, high))
        if not numbers or (not free and (low < 0 or valid < rows)) or not self._adds_exactly(low, high, rows):
            return self._sums_here(keys, amount, free=free, counted=counted, squares=squares)
        columns = "".join(f"{self._quote(key)}, " for key in keys)
        grouped = f" GROUP BY {columns[:-2]}" if keys else ""
        results = f"count({column}), sum({column}){f', sum(1.0 * {column} * {column})' if squares else ''}"
        values = self._ask(f"SELECT {columns}{results} FROM {self._filtered()}{grouped}")
        sums = [tuple(item or 0 for item in group[len(keys) :]) for group in values]
        return [(*group[: len(keys)], *own) for group, own in zip(self._decoded(values), sums, strict=True)]

    def _adds_exactly(self, low: Any, high: Any, rows: int) -> bool:
        if isinstance(low, int) and isinstance(high, int):
            return self._engine.dialect.name == "postgresql" or max(abs(low), abs(high)) * rows <= _INT64_MAX
        kinds = {type(low), type(high)}
        return kinds in ({Decimal}, {float}) and bool(low >= -LARGEST and high <= LARGEST)

    def with_pairs(self, columns: Sequence[str]) -> tuple[DatabaseRecords, str]:
        """Return the records with a column of the labels of several."""
        records, name = copy(self), BETWEEN.join(columns)
        texts = [f"NULLIF(TRIM(CAST({self._quote(column)} AS VARCHAR(4000))), '')" for column in columns]
        joined = f" || '{BETWEEN}' || ".join(texts)
        pairs = f"SELECT vantric_all.*, {joined} AS {self._quote(name)} FROM {self._from} AS vantric_all"
        records.__dict__["_from"] = f"({pairs}) AS vantric_pairs"
        records.__dict__["_names"] = (*self._names, name)
        return records, name

    def without_label(self, column: str, value: Any, remark: Note) -> DatabaseRecords:
        """Return the records without those that have a text in a column."""
        records = self._left(remark)
        text = str(value).replace("'", "''")
        quoted = self._quote(column)
        records.__dict__["_less"] = f"{self._less} AND ({quoted} IS NULL OR {quoted} <> '{text}')"
        return records  # type: ignore[return-value]

    _less = ""

    def _filtered(self) -> str:
        """Return the SQL of the records that meet the condition."""
        where = self.where or "1 = 1"
        unknown = "" if self._labeled is None else f" OR (({where}\n) IS NULL AND {self._quote(self._labeled)} IS NULL)"
        return f"{self._from} WHERE (({where}\n){unknown}){self._less}"

    def _ask(self, sql: str) -> list[Group]:
        return self._run_safely(sql, None)

    def _run_safely(self, sql: str, rows: int | None) -> list[Group]:
        return self._safely(lambda: self._fetched(sql, rows))

    def _safely(self, work: Callable[[], list[Group]]) -> list[Group]:
        """Return what the database answers; its complaints are one line, and a signal stops it."""
        from sqlalchemy.exc import SQLAlchemyError

        try:
            if self._engine.dialect.name != "sqlite":  # whose driver hears no signal while it works
                return work()
            assert self._connection is not None
            driver: Any = self._connection.connection.driver_connection
            return stoppable(work, driver.interrupt)
        except SQLAlchemyError as error:
            raise self._failed(error) from None

    def _fetched(self, sql: str, rows: int | None) -> list[Group]:
        result = self._run(sql)
        return [tuple(row) for row in (result.fetchall() if rows is None else result.fetchmany(rows))]

    def _run(self, sql: str) -> Any:
        if self._engine.dialect.paramstyle in {"format", "pyformat"}:
            sql = sql.replace("%", "%%")  # the driver reads a single one as a place for a value
        assert self._connection is not None
        return self._connection.exec_driver_sql(sql)

    def _failed(self, error: Exception) -> SourceError:
        """Return the database's complaint as one line without the password."""
        reason = " ".join(str(getattr(error, "orig", None) or error).split("\n")[0].split())
        if reason == "interrupted" or getattr(getattr(error, "orig", None), "sqlstate", None) == "57014":
            return overdue()
        if reason == "not authorized":  # SQLite's authorizer
            reason = "it must only read, as one SELECT does, and only the opened file"
        for secret in self._hidden:
            reason = reason.replace(secret, "***")
        return SourceError(f"{self.shown}: {reason}")
