"""Files under a condition, which compares a text column as the numbers or dates that it holds."""

from __future__ import annotations

import re
from collections.abc import Sequence

import duckdb

from vantric.sources.engines.conditions import check_condition
from vantric.sources.engines.daylookup import day_lookup
from vantric.sources.engines.engine import identifier, literal
from vantric.sources.engines.parts import Part
from vantric.sources.engines.textnumbers import number_sql
from vantric.sources.engines.typednumbers import TypedNumbers

#: What a condition may compare as numbers or dates: nothing that loses a sign it was typed with.
_NUMBER = r"-?(0|[1-9][0-9]{0,17})(\.[0-9]{1,9})?"
_DATE = r"[0-9]{4}-[0-9]{2}-[0-9]{2}"
_TIME = r"[0-9]{4}-[0-9]{2}-[0-9]{2}[ T][0-9]{2}:[0-9]{2}(:[0-9]{2}(\.[0-9]+)?)?"
_SAMPLE = 20000
_QUOTED = re.compile(r"'((?:[^']|'')*)'")
_ORDERS = re.compile(r"[<>]|\bbetween\b", re.IGNORECASE)


class ConditionedFiles(TypedNumbers):
    """Records of files that may have to meet a condition."""

    _tables: list[str]

    def _from(self, keys: Sequence[str], amount: str | None = None, second: str | None = None) -> str:
        """Return the SQL of all files together."""
        raise NotImplementedError

    def _filtered(self, part: Part) -> str:
        """Return the SQL of a file's records that meet the condition, its columns under their own names beside."""
        if self.where is None:
            return part.table
        raw = ", ".join(part.columns.values())
        named = []
        for name in part.columns:
            typed = identifier(name)[1:-1].casefold()
            if part.columns[name] != identifier(name) and typed in self.where.casefold():
                named.append(f"{self._typed(part, name)} AS {identifier(name)}")
        label = None if self._labeled is None else part.columns[self._labeled]
        unknown = "" if label is None else (
            f" OR (({self.where}\n) IS NULL AND coalesce(trim({label}::VARCHAR), '') = '')"
        )  # fmt: skip
        return f"(SELECT {', '.join([raw, *named])} FROM {part.table}) WHERE (({self.where}\n){unknown})"

    def _typed(self, part: Part, name: str) -> str:
        """Return the SQL of a text column as the numbers or dates it holds, so that a condition can compare them."""
        value = part.number(name)
        checks = ", ".join(
            f"coalesce(bool_and(regexp_full_match(v, {literal(kind)})), false)" for kind in (_NUMBER, _DATE, _TIME)
        )
        sample = f"SELECT {value} AS v FROM {part.table} LIMIT {_SAMPLE}"
        number, date, time = self._ask(f"SELECT {checks} FROM ({sample}) WHERE v IS NOT NULL")[0]
        kind = "DECIMAL(38, 9)" if number else "DATE" if date else "TIMESTAMP" if time else None
        if kind:
            return f"CAST({value} AS {kind})"
        if not self._all_text(name) or self._is_named(part, name):
            return part.columns[name]
        table = f'"vantric days {len(self._tables)}"'
        days = day_lookup(self._ask, part, name, table, self.rules.read_dates)
        if days is not None:
            self._tables.append(table)
            return days
        styled = self._styled(name)
        return part.columns[name] if styled is None else f"CAST({number_sql(styled, value)} AS DECIMAL(38, 9))"

    def _is_named(self, part: Part, name: str) -> bool:
        """Whether the condition names a cell of a column as it is written, and orders nothing: then it stays text."""
        plain = str(self.where).replace("<>", "").replace("!=", "")
        named = [text.replace("''", "'") for text in _QUOTED.findall(plain)]
        if not named or _ORDERS.search(_QUOTED.sub("", plain)):
            return False
        listed = ", ".join(map(literal, named))
        return bool(self._ask(f"SELECT 1 FROM {part.table} WHERE {part.columns[name]} IN ({listed}) LIMIT 1"))

    def _check_where(self, where: str, *, any_function: bool) -> None:
        """Refuse a condition that does not exist, or more than one."""
        try:
            check_condition(self._engine, where, any_function=any_function)
            self._ask(f"SELECT 1 FROM {self._from(())} LIMIT 0")
        except duckdb.Error as error:
            raise self._failed(error) from None
