"""URLs of databases, and the tables behind one."""

from __future__ import annotations

from typing import Any

from vantric.base.masking_part import masked
from vantric.engines.sqliteguard_part import read_only
from vantric.errors import MissingExtraError, SourceError


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
    shown = masked(parsed.render_as_string(hide_password=True))
    try:
        engine = sa.create_engine(read_only(parsed, shown))
        with engine.connect() as connection:
            inspector = sa.inspect(connection)
            return sorted([*inspector.get_table_names(), *inspector.get_view_names()])
    except (sa.exc.SQLAlchemyError, ModuleNotFoundError) as error:
        raise SourceError(f"'{shown}' cannot be read: {' '.join(str(error).split())[:200]}") from None
