"""What a query or condition may do on a PostgreSQL server or in a SQLite file: read, and nothing with side effects."""

from __future__ import annotations

import re
from collections.abc import Iterator
from time import monotonic
from typing import Any

from vantric.base.lazily import compiled
from vantric.errors import SourceError

CONNECT_TIMEOUT = 10  # seconds
STATEMENT_TIMEOUT = 600  # seconds


def read_only(url: Any, source_name: str) -> Any:
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


def watch(connection: Any, seconds: float = STATEMENT_TIMEOUT) -> None:
    """Have SQLite refuse whatever is no reading of the opened file: writes, pragmas, other files, extensions."""
    import sqlite3

    allowed = {sqlite3.SQLITE_SELECT, sqlite3.SQLITE_READ, sqlite3.SQLITE_FUNCTION, sqlite3.SQLITE_RECURSIVE}
    closed = {"load_extension", "fts3_tokenizer", "readfile", "writefile", "edit"}

    def decide(action: int, first: str | None, second: str | None, *_: Any) -> int:
        is_closed = action == sqlite3.SQLITE_FUNCTION and str(second).casefold() in closed
        return sqlite3.SQLITE_OK if action in allowed and not is_closed else sqlite3.SQLITE_DENY

    driver = connection.connection.driver_connection
    until = monotonic() + seconds
    driver.set_authorizer(decide)
    driver.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, 100_000_000)
    driver.set_progress_handler(lambda: int(monotonic() > until), 100_000)


#: More are an attack on the parser, not a query.
_MOST_SEMICOLONS = 50
#: Volatile functions of the server that change nothing.
_HARMLESS = frozenset(
    {
        "random",
        "random_normal",
        "clock_timestamp",
        "timeofday",
        "gen_random_uuid",
        "uuidv4",
        "uuidv7",
        "current_query",
    }
)
#: Functions that run the SQL in their text argument, or reach another server, whatever their volatility says.
_INDIRECT = compiled(r"\w*_to_xml\w*|dblink\w*|crosstab\w*|connectby|xpath_table|ts_stat|ts_rewrite", re.IGNORECASE)
#: Whatever could be the name of a function.
_NAMES = compiled(r"[^\W\d][\w$]*")
#: Functions of the server or of an extension that are volatile, and so may do something.
_RISKY = """
SELECT DISTINCT lower(p.proname) FROM pg_catalog.pg_proc p
JOIN pg_catalog.pg_namespace n ON n.oid = p.pronamespace
LEFT JOIN pg_catalog.pg_depend d ON d.classid = 'pg_catalog.pg_proc'::pg_catalog.regclass
  AND d.objid = p.oid AND d.deptype = 'e'
WHERE p.provolatile = 'v' AND NOT ('pg_catalog.internal'::pg_catalog.regtype = ANY (p.proargtypes))
  AND (n.nspname = 'pg_catalog' OR d.objid IS NOT NULL)
"""


def is_psycopg(dialect: Any) -> bool:
    """Whether a dialect speaks through psycopg 3, which can have a text parsed without running it."""
    return bool(dialect.name == "postgresql" and dialect.driver == "psycopg")


def connect_options(query: Any, seconds: float = STATEMENT_TIMEOUT) -> dict[str, Any]:
    """Return the options of a connection that only reads, and waits for neither server nor statement for ever.

    Parameters
    ----------
    query
        The options in the URL: the server's own settings among them stay, and ours come last.
    seconds
        How long a statement may take.
    """
    options = query.get("options", "")
    own = f"-c default_transaction_read_only=on -c statement_timeout={max(1, int(seconds * 1000))}"
    timeout = {} if "connect_timeout" in query else {"connect_timeout": CONNECT_TIMEOUT}
    return {**timeout, "options": f"{options} {own}".strip(), "prepare_threshold": 0}


def check_parsed(connection: Any, sql: str, what: str) -> None:
    """Raise `SourceError` unless the server parses a text as the query of one cursor.

    Parsing runs nothing. A cursor's query cannot write, copy, or be more than one statement.
    """
    try:
        command = f"DECLARE vantric_cursor CURSOR FOR {sql}".encode()
    except UnicodeEncodeError:
        raise SourceError(f"the {what} holds a character that is not text; write it again") from None
    if b"\0" in command:
        raise SourceError(f"the {what} holds a NUL character; remove it")
    driver = connection.connection.driver_connection
    result = driver.pgconn.prepare(b"", command)
    if result.error_message:
        reason = result.error_message.decode("utf-8", "replace").splitlines()[0].partition(":")[2].strip()
        raise SourceError(f"the {what} must only read, as one SELECT does, and nothing else: {reason}")


def check_functions(connection: Any, text: str, what: str) -> None:
    """Raise `SourceError` if a text names a function of the server that has side effects.

    The raw text is searched, its literals and comments too: so no way of quoting hides a name, and a text that names
    such a function without calling it is refused as well.
    """
    if re.search(r"u&[\"']", text, re.IGNORECASE):
        raise SourceError(f"the {what} holds a U& escape; write the names and texts as they are")
    names = {name.casefold() for name in _NAMES.findall(text)}
    risky = {row[0] for row in connection.exec_driver_sql(_RISKY)} - _HARMLESS
    refused = sorted(names & risky) or sorted(name for name in names if _INDIRECT.fullmatch(name))
    if refused:
        raise SourceError(f"the {what} names {refused[0]}(), a function with side effects; remove it")


def cut_at_semicolons(query: str) -> Iterator[str]:
    """Yield what is before each semicolon, the last one first: one of them ends the statement."""
    places = [place for place, sign in enumerate(query) if sign == ";"]
    for place in places[: -_MOST_SEMICOLONS - 1 : -1]:
        yield query[:place]
