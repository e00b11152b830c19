"""DuckDB, locked down: it may read the files it is given, and nothing else; what it complains of is one line."""

from __future__ import annotations

import importlib
import os
import re
from collections.abc import Iterable, Sequence
from functools import cache
from pathlib import Path
from typing import Any

from vantric.base.lazily import compiled
from vantric.base.stopping import check_time, stoppable
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import counted
from vantric.errors import SourceError, suggestion
from vantric.reading.settings import Limits


@cache
def duckdb() -> Any:
    """Return the module of the engine, loaded when it is first needed.

    Its core is enough, where it has one of its own: the wrapper around it, with the API of relations, takes five times
    as long to load.
    """
    try:
        core = importlib.import_module("_duckdb")
    except ImportError:  # before 1.4
        return importlib.import_module("duckdb")
    is_whole = all(hasattr(core, name) for name in ("connect", "Error", "OutOfRangeException", "ConversionException"))
    return core if is_whole else importlib.import_module("duckdb")


#: What the engine says before its message.
_KINDS = compiled(r"^(Binder|Parser|Catalog|Conversion|Invalid Input|Permission|IO|Out of Range) Error: ")


def in_words(message: str, source_name: str, where: str | None, columns: Iterable[str] = ()) -> str:
    """Return the engine's message as one line that says where and how to fix it.

    Parameters
    ----------
    message
        What the engine said.
    source_name
        What the user calls the source.
    where
        The condition that was given; what is not the file's fault is then its.
    columns
        The columns that the condition can name.
    """
    place = re.search(r"CSV Error on Line: (\d+)", message)
    key = f"'{source_name}'" + (f", line {place[1]}" if place else "")
    width = re.search(r"Expected Number of Columns: (\d+) Found: (\d+)", message)
    if width:
        return f"{key}: {counted(int(width[2]), 'column')} where the header has {width[1]}; fix that line"
    if where is not None and message.startswith("Parser Error: unterminated"):
        return f"where: a quotation mark or a comment is not closed; the condition is: {' '.join(where.split())}"
    if "unterminated quote" in message or "quote should be followed" in message:
        return f"{key}: a quotation mark is not closed; close or double it"
    if "state machine reached an invalid state" in message:
        return f"{key}: line ends of two kinds, or a stray quotation mark; save it again with one kind"
    if "Maximum line size" in message:
        return f"{key}: a line is longer than two million characters; is a quotation mark not closed?"
    if message.startswith("Out of Memory"):
        disk = "max_temp_directory_size" in message or "No space left" in message
        most = "the disk for what the memory does not hold is full" if disk else "it takes more memory than is allowed"
        return f"{key}: {most}; filter the source, or give it more memory"
    first = _KINDS.sub("", message.splitlines()[0]).rstrip(" .")
    unknown = re.search(r'Referenced column "([^"]*)" not found', message)
    if where is not None and unknown:
        names = list(columns)
        hint = suggestion(unknown[1], names, label="the columns are")
        quoted = f"; text stands in single quotes: '{unknown[1]}'" if _names_no_column(unknown[1], where) else ""
        return f"where: there is no column '{unknown[1]}'{quoted}{hint}"
    if where is not None and not place:
        reason = "files other than the source cannot be read" if message.startswith("Permission") else first
        return f"where: {reason}; the condition is: {' '.join(where.split())}"
    return f"{key}: {first}"


def _names_no_column(name: str, where: str) -> bool:
    """Whether a name stands where a text would: in double quotes, or bare behind a comparison."""
    word = re.escape(name)
    behind = rf"(=|<|>|\bin\s*\([^()]*|\blike|\bis(\s+not)?)\s*\"?{word}\b"
    return f'"{name}"' in where or re.search(behind, where, re.IGNORECASE) is not None


def is_undecodable(message: str) -> bool:
    """Whether the engine met bytes that are not UTF-8."""
    return "not utf-8" in message or "Invalid unicode" in message


def without_column(name: str, files: Sequence[str], every: int) -> Note:
    """Return what there is to say of files that lack a column which other files of the same source have."""
    item = len(files) == 1
    these = f"'{files[0]}' has" if item else f"{len(files):,} of {every:,} files have"
    more = "" if item else f" ('{files[0]}' is the first)"
    text = f"{these} no column '{name}'{more}: it is missing in all of their records"
    return Note(
        "missing-column", text, "warning", "leave such files out, or give the column the name that it has in the others"
    )


#: What may be written beside memory; a full disk would harm others.
_MOST_SPILL = "20GB"
#: More threads hold more memory and gain little on one file.
_MOST_THREADS = 4
#: Halves of signs, which the engine cannot hold.
_SURROGATES = compiled("[\ud800-\udfff]")


class DuckDBEngine:
    """A connection that may open only the named files, whatever a query says.

    Memory, time and threads are capped; what is larger spills to a folder of its own, beside nothing of the user's.

    Parameters
    ----------
    files
        What may be read.
    spill
        A folder for what the memory does not hold.
    limits
        Of memory and time.
    """

    def __init__(self, files: Sequence[Path], spill: Path, limits: Limits) -> None:
        self.until = limits.until
        self._busy = False
        threads = min(_MOST_THREADS, os.cpu_count() or 1)
        self._connection = duckdb().connect(
            config={
                "autoinstall_known_extensions": "false",
                "autoload_known_extensions": "false",
                "memory_limit": f"{limits.memory}MB",
                "threads": str(threads),
                "temp_directory": str(spill),
                "max_temp_directory_size": _MOST_SPILL,
                "preserve_insertion_order": "true",
            }
        )
        allowed = ", ".join(literal(str(path)) for path in files)
        self._connection.execute(f"SET allowed_paths=[{allowed}]")
        self._connection.execute("SET enable_external_access=false")
        self._connection.execute("SET lock_configuration=true")

    def ask(self, sql: str) -> list[tuple[Any, ...]]:
        """Run one query and return its rows; errors are those of `duckdb`, and `OverdueError`."""
        _check_text(sql)
        check_time(self.until)  # a query that was left alone may still have the connection

        def run() -> list[tuple[Any, ...]]:
            self._busy = True
            try:
                rows: list[tuple[Any, ...]] = self._connection.execute(sql).fetchall()
                return rows
            finally:
                self._busy = False

        return stoppable(run, self._connection.interrupt, self.until)

    def statements(self, sql: str) -> int:
        """Return of how many statements a text consists."""
        _check_text(sql)
        return len(self._connection.extract_statements(sql))

    def serialized(self, sql: str) -> str:
        """Return a query as the engine's own parser sees it, in JSON; it does not run."""
        return str(self.ask(f"SELECT json_serialize_sql({literal(sql)})")[0][0])

    def close(self) -> None:
        """Let go of the files; a query that does not end when it is reported to is left alone."""
        if not self._busy:
            self._connection.close()


def _check_text(sql: str) -> None:
    """Raise `SourceError` for what the engine would cut short or cannot take."""
    if "\0" in sql or _SURROGATES.search(sql):
        raise SourceError("a condition or a name holds a character that is not text, such as NUL; remove it")


def literal(text: str) -> str:
    """Return text as an SQL literal; a parameter would make older engines load pandas."""
    return "'" + text.replace("'", "''") + "'"


def identifier(name: str) -> str:
    """Return a name as an SQL identifier."""
    return '"' + name.replace('"', '""') + '"'
