"""The sections of a report, made from their sources: each source is opened once, whatever is asked of it."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, TypeAlias

from vantric.api.charts import made_of_file
from vantric.api.report_changes import PastReport, changes_since, past_from, past_of
from vantric.base.safe_files import content_of, reason_of
from vantric.base.safe_text import is_url
from vantric.core.review.finding import error
from vantric.engines.opening import SharedFile
from vantric.errors import ChartFileError, ColumnError, VantricError, unknown
from vantric.files.models import ChartFile, ReportFile, ReportSection
from vantric.files.report_files import line_of, line_with, with_source
from vantric.kinds.access_policy import AccessPolicy
from vantric.output.sections import Section
from vantric.reading.settings import FileReading

RESULTS = "vantric/report-results"
_LARGEST = 200_000_000
_PLAIN = FileReading()
_FILES = (".csv", ".tsv", ".txt", ".json", ".ndjson", ".jsonl", ".parquet", ".gz", ".zst")


#: Returns whether a section, in its place, is compared, and how it was last time.
Before: TypeAlias = Callable[[int, ReportSection], "tuple[bool, PastReport | None]"]


@dataclass(frozen=True)
class ReadySection:
    """A section that was made, or why it was not.

    Attributes
    ----------
    section
    kind, asked_title
        As the report file says.
    past
        What the next report compares with.
    failed
        Why it could not be made.
    """

    section: Section
    kind: str
    asked_title: str = ""
    past: PastReport | None = None
    failed: str = ""


@dataclass(frozen=True)
class ReportRequest:
    """What the user says besides the report file.

    Attributes
    ----------
    data
        Name of a source -> what is read in its place.
    previous
        What is compared with, in place of the file's own; empty if not given.
    reading
        What may be read.
    partial
        Whether sections that fail are left out.
    progress
        Hears which section is made.
    """

    data: Mapping[str, str] = field(default_factory=dict)
    previous: str = ""
    reading: FileReading = _PLAIN
    partial: bool = False
    progress: Callable[[str], object] = lambda _: None


def ready_sections(file: ReportFile, path: Path, asked: ReportRequest) -> list[ReadySection]:
    """Return the sections of a report.

    Raises
    ------
    VantricError
        If a section cannot be made, with its line; the others are then named too.
    """
    for name in asked.data:
        if name not in file.sources:
            raise unknown(ChartFileError, f"the report has no source '{name}'", name, file.sources, every=True)
    with _shelf() as shelf:
        work = _SectionContext(file, path, asked, shelf)
        before = work.compared()
        found = []
        for at, one in enumerate(file.sections):
            asked.progress(f"section {at + 1} of {len(file.sections)}: {one.kind}")
            found.append(work.ready(at, one, before))
        failed = [one.failed for one in found if one.failed]
        if failed and not asked.partial:
            more = f"; and {len(failed) - 1} more of its sections fail" if len(failed) > 1 else ""
            raise ChartFileError(f"{failed[0]}{more}; --partial writes the others")
        return found


@contextmanager
def _shelf() -> Iterator[dict[str, SharedFile]]:
    """Hold files open, and close them whatever happens."""
    shelf: dict[str, SharedFile] = {}
    try:
        yield shelf
    finally:
        for one in shelf.values():
            one.close()


@dataclass(frozen=True)
class _SectionContext:
    file: ReportFile
    path: Path
    asked: ReportRequest
    shelf: dict[str, SharedFile]

    @property
    def reach(self) -> AccessPolicy:
        return AccessPolicy(self.path.parent, self.asked.reading, resolved=True)

    def ready(self, at: int, one: ReportSection, before: Before | None) -> ReadySection:
        if one.file is None:
            return ReadySection(Section(kind="text", title=one.head.title or "", text=one.head.text), one.kind)
        try:
            made = made_of_file(with_source(one, self.file.sources, self._paths(one)), self.reach)
            section = replace(made.section(), text=one.head.text)
            section.views()  # what cannot be drawn is said now, not when the page is written
            past = past_of(one.kind, made.compared)
            changed = self._changed(at, one, past, before)
        except VantricError as reason:
            return self._failed(at, one, reason)
        findings = tuple(dict.fromkeys([*made.reviewed(), *section.findings]))
        whole = replace(section, changed=changed, findings=findings)
        return ReadySection(whole, one.kind, one.head.title or "", past)

    def _changed(self, at: int, one: ReportSection, now: PastReport | None, before: Before | None) -> tuple[str, ...]:
        """Return what changed since last time; why it cannot be said, where what was named has other columns."""
        if before is None or now is None:
            return ()
        try:
            compared, past = before(at, one)
        except ColumnError as reason:
            return (f"Not compared with last time: {reason}.",)
        return changes_since(past, now) if compared else ()

    def _failed(self, at: int, one: ReportSection, reason: VantricError) -> ReadySection:
        text = self._text()
        ending = self.path.suffix.casefold()
        line = line_with(text, ending, at, reason.value) or line_of(text, ending, ("sections", at))
        where = f"'{self.file.shown}'" + (f", line {line}" if line else "")
        said = str(reason).removeprefix(f"{one.place}: ")
        message = f"{where}: {one.place}: {said}"
        finding = error(
            "section-failed",
            message=f"{one.place} could not be made: {said}",
            fix="put it right in the report file",
            where=one.place,
        )
        title = one.head.title or f"{one.place[:1].upper()}{one.place[1:]}"
        section = Section(kind="text", title=title, sentence="This section could not be made.", findings=(finding,))
        return ReadySection(section, one.kind, one.head.title or "", failed=message)

    def _paths(self, one: ReportSection, given: Mapping[str, str] | None = None) -> dict[str, str]:
        """Return what is read for each source of a section: held open where it is a file."""
        given = self.asked.data if given is None else given
        beside = AccessPolicy(self.path.parent, self.asked.reading)
        found = {}
        for name in one.sources:
            source = given[name] if name in given else beside.seen(str(self.file.sources[name].source))
            found[name] = self._held(source)
        return found

    def _held(self, source: str) -> str:
        plain = source == "-" or (not is_url(source) and source.casefold().endswith(_FILES))
        return self.shelf.setdefault(source, SharedFile(source)) if plain else source

    def compared(self) -> Before | None:
        """Return what gives a section as it was last time; an error of the report file with its line."""
        try:
            return self.before()
        except ChartFileError as reason:
            if self.asked.previous:
                raise
            line = line_of(self._text(), self.path.suffix.casefold(), ("previous",))
            where = f"'{self.file.shown}'" + (f", line {line}" if line else "")
            message = f"{where}: {reason}"
            raise ChartFileError(message, value=reason.value, known=reason.known, hint=reason.hint) from None

    def _text(self) -> str:
        return self.path.read_text(encoding="utf-8-sig", errors="replace")

    def before(self) -> Before | None:
        """Return what gives a section as it was last time, and whether it is compared; None if nothing is named.

        Raises
        ------
        ChartFileError
            If what is named is neither a source nor a file that can be read.
        """
        named = self.asked.previous or self.file.heading.previous or ""
        if isinstance(named, Mapping):
            for name in (*named, *named.values()):
                if name not in self.file.sources:
                    raise unknown(ChartFileError, f"previous: there is no source '{name}'", name, self.file.sources)
            return lambda at, one: self._on_another(one, named.get(one.sources[0], "") if one.sources else "")
        if not named:
            return None
        if named in self.file.sources:
            return lambda at, one: self._on_another(one, named)
        place = named if self.asked.previous else AccessPolicy(self.path.parent, self.asked.reading).seen(named)
        if not Path(place).suffix:
            message = f"previous: there is no source '{named}', and it is no file"
            raise unknown(ChartFileError, message, named, self.file.sources)
        report = _report_in(Path(place)) if place.casefold().endswith(".json") else None
        if report is None:
            return lambda at, one: self._on_file(one, place)
        return lambda at, one: _in_report(report, at, one)

    def _on_another(self, one: ReportSection, name: str) -> tuple[bool, PastReport | None]:
        """Make a section again on another source of the report, under its conditions."""
        if len(one.sources) != 1 or not name or one.sources == (name,):
            return False, None
        other = replace(one, sources=(name,))
        return self._again(one, with_source(other, self.file.sources, self._paths(other)))

    def _on_file(self, one: ReportSection, place: str) -> tuple[bool, PastReport | None]:
        """Make a section again on a file in place of its source."""
        if len(one.sources) != 1:
            return False, None
        return self._again(one, with_source(one, self.file.sources, {one.sources[0]: self._held(place)}))

    def _again(self, one: ReportSection, file: ChartFile) -> tuple[bool, PastReport | None]:
        """Return a section on other data, whose condition is what it should be."""
        past = past_of(one.kind, made_of_file(file, self.reach).compared)
        return past is not None, None if past is None else replace(past, settings={**past.settings, "where": None})


def _in_report(report: Mapping[str, Any], at: int, one: ReportSection) -> tuple[bool, PastReport | None]:
    """Return a section as an earlier report has it: that of the same title, or in the same place."""
    same = [part for part in report["sections"] if part.get("kind") == one.kind]
    titled = [part for part in same if one.head.title and part.get("asked_title") == one.head.title]
    found = titled or [part for part in same if part.get("at") == at + 1] or same[:1]
    return True, past_from(found[0]["past"]) if found and found[0].get("past") else None


def _report_in(path: Path) -> Mapping[str, Any] | None:
    """Return the results of an earlier report; None if a JSON file is something else.

    Raises
    ------
    ChartFileError
        If it cannot be read.
    """
    try:
        found = json.loads(content_of(path, _LARGEST))
    except (OSError, RuntimeError) as reason:
        raise ChartFileError(f"previous: cannot read '{path}': {reason_of(reason)}") from None
    except (ValueError, RecursionError) as reason:
        raise ChartFileError(f"previous: '{path}' is not JSON: {reason}") from None
    if not isinstance(found, dict) or found.get("format") != RESULTS:
        return None
    sections = found.get("sections")
    if not isinstance(sections, list) or not all(isinstance(one, dict) for one in sections):
        raise ChartFileError(f"previous: '{path}' is not what a report wrote: it has no list of sections")
    return found
