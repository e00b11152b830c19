"""Clusters of Spark as sources: ``spark://HOST:PORT/?path=...``, standalone, and ``sc://HOST:PORT/?path=...``, Connect.

A table, or files that the cluster reaches, are read there; the condition and the group-by run there too, and nothing is
written. A condition is the same SQL as for files: it is checked as such, and then translated.
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from copy import copy
from pathlib import Path
from tempfile import gettempdir
from typing import Any
from urllib.parse import unquote

from vantric.base.lazily import dataclass
from vantric.base.safe_text import CLUSTERS, masked
from vantric.core.numbers.number_format import counted
from vantric.engines.cluster_tables import SparkTable
from vantric.engines.conditions import check_condition
from vantric.engines.frame_records import FrameRecords
from vantric.engines.spark_session import Session, in_one_line, opened_session
from vantric.errors import MissingExtraError, SourceError, nearest, unknown
from vantric.reading.conditions import check_each
from vantric.reading.records import Records
from vantric.reading.settings import Limits, ReadSettings, check_columns

#: Formats that Spark reads without a package of another.
_FORMATS = ("parquet", "csv", "json", "orc")
#: Parameters of a URL; any other is a slip.
_PARAMETERS = ("path", "format")


@dataclass(frozen=True)
class ClusterUrl:
    """The parts of a cluster's URL.

    Attributes
    ----------
    address
        The cluster alone, as Spark knows it: ``"spark://HOST:PORT"``, or ``"sc://HOST:PORT/;name=value"``.
    hosts
        (host, port) of its masters, or of its server.
    path, format
        The files that are read, and what they are; empty for a table.
    """

    address: str
    hosts: tuple[tuple[str, int], ...]
    path: str = ""
    format: str = ""


def read_url(url: str) -> ClusterUrl:
    """Read the URL of a cluster.

    Raises
    ------
    SourceError
        If a part of it is wrong, or unknown.
    """
    head, _, query = url.partition("?")
    scheme, _, rest = head.partition("://")
    scheme = scheme.casefold()
    place, _, own = rest.partition("/")
    hosts = tuple(_host(part, scheme, url) for part in place.split(","))
    own = own.strip("/")
    if own and not (scheme == "sc" and own.startswith(";")):
        example = masked(f"{scheme}://{place}/?path=/{own}")
        raise SourceError(f"'{masked(url)}': the path of files stands behind ?path=, as in {example}")
    pairs = [(name, unquote(value)) for name, _, value in (part.partition("=") for part in query.split("&") if part)]
    for name, _ in pairs:
        if name not in _PARAMETERS:
            raise unknown(SourceError, f"'{masked(url)}': '{name}' is not a part of it", name, _PARAMETERS, every=True)
    parts = dict(pairs)
    address = f"{scheme}://{place}{'/' + own if own else ''}"
    path, kind = parts.get("path", ""), parts.get("format", "").casefold()
    if path and not kind:
        kind = _format_of(path)
    if kind and kind not in _FORMATS:
        raise SourceError(f"'{masked(url)}': format is one of {', '.join(_FORMATS)}{nearest(kind, _FORMATS)}")
    return ClusterUrl(address, hosts, path, kind)


def _host(place: str, scheme: str, url: str) -> tuple[str, int]:
    plain = place.rpartition("@")[2]
    host, sign, port = plain.rpartition(":") if not plain.endswith("]") else (plain, "", "")
    host, port = (host, port) if sign else (plain, str(CLUSTERS[scheme]))
    if not host or not port.isdigit() or not 0 < int(port) < 65536:
        raise SourceError(f"'{masked(url)}' names no host and port: write {scheme}://HOST:{CLUSTERS[scheme]}")
    return host.strip("[]"), int(port)


def _format_of(path: str) -> str:
    """Return what files are by their ending; a folder or a pattern without one is of Parquet files."""
    plain = path.rstrip("/*").removesuffix(".gz").removesuffix(".zst").removesuffix(".bz2")
    ending = Path(plain).suffix.removeprefix(".").casefold()
    return {"jsonl": "json", "ndjson": "json", "tsv": "csv", "txt": "csv"}.get(ending, ending) or "parquet"


def open_cluster(url: str, opening: ReadSettings, column_names: Sequence[str]) -> Records:
    """Open a table of a cluster, or files that it reaches.

    Raises
    ------
    SourceError
        If the cluster does not answer, has no such table or files, or an option is not for clusters.
    MissingExtraError
        If PySpark is missing.
    """
    parts = read_url(url)
    _check_opening(parts, opening)
    session = opened_session(parts.address, parts.hosts, opening.limits())
    text = masked(url) if opening.table is None else f"{masked(url)} {opening.table}"
    try:
        records = ClusterRecords(session, parts, opening, text)
        check_columns(column_names, records.names(), f"'{text}'")
    except BaseException:  # a session that was begun here ends here
        session.close()
        raise
    return records


def _check_opening(parts: ClusterUrl, opening: ReadSettings) -> None:
    """Refuse what a cluster does not have."""
    if opening.query is not None:
        raise SourceError("a query is for databases; make a view of it in the cluster, and give that as the table")
    if (opening.table is None) == (not parts.path):
        raise SourceError(
            f"say what to read from the cluster: a table, or files as in {masked(parts.address)}/?path=/data/*.parquet"
        )
    if opening.memory is not None or opening.allow_functions:
        raise SourceError("memory and allow_functions are for files: a cluster has limits of its own")
    if opening.sheet or opening.cells is not None or opening.visible_only or opening.fill_down:
        raise SourceError("a cluster has no sheets and no order: leave sheet, cells, visible_only, fill_down out")
    if opening.header is not None and parts.format != "csv":
        raise SourceError("header is for CSV files: what is read here has named columns")


class ClusterRecords(FrameRecords):
    """The records of a table of a cluster, or of files that it reaches, under a condition."""

    def __init__(self, session: Session, parts: ClusterUrl, opening: ReadSettings, source_name: str) -> None:
        self._session, self.shown, self.where = session, source_name, opening.where
        self._condition = "" if opening.where is None else _translated(opening.where)
        self._frame = self._asked(lambda: _frame(session.spark, parts, opening))
        if self._condition and parts.format == "csv":
            self._asked(self._check_decided)
        super().__init__(self._asked(self._filtered), opening.rules())

    @property
    def place(self) -> str:
        """What messages call the source."""
        return f"'{self.shown}'"

    def _asked(self, work: Any) -> Any:
        """Return what a question to the cluster returns; its failures become one line."""
        try:
            return self._session.run(work)
        except Exception as error:  # Spark's own classes differ between classic and Connect
            text = in_one_line(error)
            if text is None:
                raise
            raise SourceError(f"'{self.shown}': {text}") from None

    def _filtered(self, label: str | None = None) -> SparkTable:
        import narwhals as nw

        frame = self._frame
        if self._condition:
            unknown_label = (
                ""
                if label is None
                else (f" OR (({self._condition}) IS NULL AND coalesce(trim(string({_quoted(label)})), '') = '')")
            )
            frame = frame.where(f"({self._condition}){unknown_label}")
        return SparkTable(nw.from_native(frame), run=self._asked)

    def _check_decided(self) -> None:
        """Raise `SourceError` where the condition says neither yes nor no of filled cells: text that is no number."""
        named = [name for name in self._frame.columns if name.casefold() in str(self.where).casefold()]
        filled = " AND ".join(f"coalesce(trim(string({_quoted(name)})), '') <> ''" for name in named)
        unknown = self._frame.where(f"({self._condition}) IS NULL{' AND ' if filled else ''}{filled}").count()
        if unknown:
            raise SourceError(
                f"where cannot be decided for {counted(unknown, 'record')}: cells of CSV files are text, and there "
                "they are no plain numbers or dates; compare them as text, or leave where out"
            )

    def labeled_by(self, column: str | None) -> Records:
        """Return the records with those that lack a label among them, where the condition names it."""
        records = super().labeled_by(column)
        if records is self or column not in self.names():
            return self
        again = copy(records)
        again.__dict__.update(_table=self._as_said(self._asked(lambda: self._filtered(column))), _ready={})
        return again

    def close(self) -> None:
        """Let go of the cluster."""
        self._session.close()


def _quoted(name: str) -> str:
    return "`" + name.replace("`", "``") + "`"


def _frame(spark: Any, parts: ClusterUrl, opening: ReadSettings) -> Any:
    """Return the frame of a table, or of files; a schema is asked for, so that what is not there is found out."""
    if opening.table is not None:
        frame = spark.table(".".join(_quoted(part) for part in opening.table.split(".")))
    else:
        reader = spark.read
        if parts.format == "csv":
            tabs = ".tsv" in parts.path
            reader = reader.options(
                header=opening.header is not False, multiLine=False, escape='"', sep="\t" if tabs else ","
            )
        frame = reader.format(parts.format).load(parts.path)
    if not frame.columns:
        raise SourceError("there are no columns")
    return frame


def _translated(where: str) -> str:
    """Return a condition on a file as Spark's SQL; what is not for a condition is refused."""
    try:
        import sqlglot
    except ImportError:
        raise MissingExtraError("a condition on a cluster needs SQLGlot: pip install 'vantric[spark]'") from None
    from vantric.engines.duckdb_engine import DuckDBEngine, duckdb

    engine = DuckDBEngine([], Path(gettempdir()), Limits())
    try:
        check_each(where, lambda text: check_condition(engine, text))
    except duckdb().Error as error:
        reason = str(error).partition("\n")[0]
        raise SourceError(f"where: {reason}; the condition is: {' '.join(where.split())}") from None
    finally:
        with suppress(duckdb().Error):
            engine.close()
    try:
        return sqlglot.parse_one(where, read="duckdb").sql(dialect="spark", comments=False)
    except sqlglot.errors.SqlglotError as error:
        reason = str(error).partition("\n")[0]
        raise SourceError(f"where: the cluster cannot be asked this: {reason}") from None
