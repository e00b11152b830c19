"""DuckDB, locked down: it may read the files it is given, and nothing else."""

from __future__ import annotations

import os
import re
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import duckdb

from vantric.base.stopping import stoppable
from vantric.errors import SourceError
from vantric.reading.settings import Limits

_MOST_SPILL = "20GB"
_MOST_THREADS = 4
_SURROGATES = re.compile("[\ud800-\udfff]")


class Engine:
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
        self._connection = duckdb.connect(
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

        def run() -> list[tuple[Any, ...]]:
            self._busy = True
            try:
                return self._connection.execute(sql).fetchall()
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
