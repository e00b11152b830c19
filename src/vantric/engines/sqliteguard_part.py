"""SQLite, opened for reading only and watched while it reads."""

from __future__ import annotations

from time import monotonic
from typing import Any

from vantric.engines import database_guards as postgresguard
from vantric.errors import SourceError


def read_only(url: Any, shown: str) -> Any:
    """Return the URL of a SQLite file opened for reading only; a file that is not there must not be made."""
    if url.get_backend_name() != "sqlite" or not url.database or url.database == ":memory:":
        return url
    from pathlib import Path
    from urllib.parse import quote, unquote

    if url.get_driver_name() != "pysqlite":
        raise SourceError(f"SQLite is read with its own driver: write sqlite:///{url.database}")
    name = url.database
    if name.startswith("file:"):  # a URI, whose own options are not followed
        name = unquote(name.removeprefix("file:").partition("?")[0])
    if not Path(name).is_file():
        raise SourceError(f"there is no database file '{name}'")
    return url.set(database=f"file:{quote(str(Path(name).resolve()))}", query={"mode": "ro", "uri": "true"})


def watch(connection: Any, seconds: float = postgresguard.STATEMENT_TIMEOUT) -> None:
    """Have SQLite refuse whatever is no reading of the opened file: writes, pragmas, other files, extensions."""
    import sqlite3

    allowed = {sqlite3.SQLITE_SELECT, sqlite3.SQLITE_READ, sqlite3.SQLITE_FUNCTION, sqlite3.SQLITE_RECURSIVE}
    closed = {"load_extension", "fts3_tokenizer", "readfile", "writefile", "edit"}

    def decide(action: int, first: str | None, second: str | None, *_: Any) -> int:
        function = action == sqlite3.SQLITE_FUNCTION and str(second).casefold() in closed
        return sqlite3.SQLITE_OK if action in allowed and not function else sqlite3.SQLITE_DENY

    driver = connection.connection.driver_connection
    until = monotonic() + seconds
    driver.set_authorizer(decide)
    driver.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, 100_000_000)
    driver.set_progress_handler(lambda: int(monotonic() > until), 100_000)
