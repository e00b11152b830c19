"""The sections of a report, made from their sources: each source is opened once, whatever is asked of it."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import field, replace
from pathlib import Path
from typing import Any, TypeAlias

from vantric.api.charts import made_of_file
from vantric.api.report_changes import PastReport, changes_since, past_from, past_of
from vantric.base.lazily import dataclass
from vantric.base.safe_files import content_of, reason_of
from vantric.base.safe_text import is_url
from vantric.core.messages.message import Message
from vantric.core.review.finding import error
from vantric.engines.opening import SharedFile
from vantric.errors import ChartFileError, ColumnError, VantricError, unknown
from vantric.files.models import ChartFile, ReportFile, ReportSection
from vantric.files.report_files import line_of, line_with, with_source
from vantric.kinds.access_policy import AccessPolicy
from vantric.output.sections import Section
from vantric.reading.settings import FileReading

#: The format of the JSON that a report leaves for the next month to compare with.
RESULTS = "vantric/report-results"
#: Bytes of a saved report; a larger file is not one of ours.
_LARGEST = 200_000_000
_PLAIN = FileReading()
#: Endings by which a source is distinguished from the name of another section.
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


_MOST_FAILED = 20  # sections after which the others are not tried


def ready_sections(file: ReportFile, path: Path, request: ReportRequest) -> list[ReadySection]:
    """Return the sections of a report.

    Raises
    ------
    VantricError
        If a section cannot be made, with its line; the others are then named too.
    """
    for name in request.data:
        if name not in file.sources:
            raise unknown(ChartFileError, f"the report has no source '{name}'", name, file.sources, every=True)
    with _shelf() as shelf:
        work = _SectionContext(file, path, request, shelf)
        before = work.compared()
        sections: list[ReadySection] = []
        failed: list[str] = []
        for index, section in enumerate(file.sections):
            request.progress(f"section {index + 1} of {len(file.sections)}: {section.kind}")
            sections.append(work.ready(index, section, before))
            failed += [sections[-1].failed] if sections[-1].failed else []
            if len(failed) > _MOST_FAILED and not request.partial:
                break
        if failed and not request.partial:
            least = "at least " if len(failed) > _MOST_FAILED else ""
            more = f"; and {least}{len(failed) - 1} more of its sections fail" if len(failed) > 1 else ""
            raise ChartFileError(f"{failed[0]}{more}; --partial writes the others")
        return sections


@contextmanager
def _shelf() -> Iterator[dict[str, SharedFile]]:
    """Hold files open, and close them whatever happens."""
    shelf: dict[str, SharedFile] = {}
    try:
        yield shelf
    finally:
        for shared_file in shelf.values():
            shared_file.close()


@dataclass(frozen=True)
class _SectionContext:
    file: ReportFile
    path: Path
    asked: ReportRequest
    shelf: dict[str, SharedFile]

    @property
    def reach(self) -> AccessPolicy:
        return AccessPolicy(self.path.parent, self.asked.reading, resolved=True)

    def ready(self, index: int, report_section: ReportSection, before: Before | None) -> ReadySection:
        if report_section.file is None:
            return ReadySection(
                Section(kind="text", title=report_section.head.title or "", text=report_section.head.text),
                report_section.kind,
            )
        try:
            result = made_of_file(
                with_source(report_section, self.file.sources, self._paths(report_section)), self.reach
            )
            section = replace(result.section(), text=report_section.head.text)
            section.views()  # what cannot be drawn is said now, not when the page is written
            past = past_of(report_section.kind, result.compared)
            changed = self._changed(index, report_section, past, before)
        except VantricError as reason:  # one section that fails leaves the others whole
            return self._failed(index, report_section, reason)
        reviewed = [finding.in_language(section.local) for finding in result.reviewed()]
        findings = tuple(dict.fromkeys([*reviewed, *section.findings]))
        whole = replace(section, changed=changed, findings=findings)
        return ReadySection(whole, report_section.kind, report_section.head.title or "", past)

    def _changed(
        self, index: int, section: ReportSection, now: PastReport | None, before: Before | None
    ) -> tuple[str, ...]:
        """Return what changed since last time; why it cannot be said, where what was named has other columns."""
        if before is None or now is None:
            return ()
        try:
            compared, past = before(index, section)
        except ColumnError as reason:  # a column that was not there last time is no fault of today
            return (Message("not compared", reason=str(reason)),)
        return changes_since(past, now) if compared else ()

    def _failed(self, index: int, report_section: ReportSection, reason: VantricError) -> ReadySection:
        text = self._text()
        ending = self.path.suffix.casefold()
        line = line_with(text, ending, index, reason.value) or line_of(text, ending, ("sections", index))
        where = f"'{self.file.shown}'" + (f", line {line}" if line else "")
        words = str(reason).removeprefix(f"{report_section.place}: ")
        message = f"{where}: {report_section.place}: {words}"
        finding = error(
            "section-failed",
            message=f"{report_section.place} could not be made: {words}",
            fix="put it right in the report file",
            where=report_section.place,
        )
        title = report_section.head.title or f"{report_section.place[:1].upper()}{report_section.place[1:]}"
        section = Section(kind="text", title=title, sentence=Message("section failed"), findings=(finding,))
        return ReadySection(section, report_section.kind, report_section.head.title or "", failed=message)

    def _paths(self, section: ReportSection, data: Mapping[str, str] | None = None) -> dict[str, str]:
        """Return what is read for each source of a section: held open where it is a file."""
        data = self.asked.data if data is None else data
        beside = AccessPolicy(self.path.parent, self.asked.reading)
        paths = {}
        for name in section.sources:
            source = data[name] if name in data else beside.seen(str(self.file.sources[name].source))
            paths[name] = self._held(source)
        return paths

    def _held(self, source: str) -> str:
        plain = source == "-" or (not is_url(source) and source.casefold().endswith(_FILES))
        return self.shelf.setdefault(source, SharedFile(source)) if plain else source

    def compared(self) -> Before | None:
        """Return what gives a section as it was last time; an error of the report file with its line."""
        try:
            return self.before()
        except ChartFileError as reason:  # a file beside that is no report of ours is passed over unless it was named
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
            return lambda position, section: self._on_another(
                section, named.get(section.sources[0], "") if section.sources else ""
            )
        if not named:
            return None
        if named in self.file.sources:
            return lambda position, section: self._on_another(section, named)
        place = named if self.asked.previous else AccessPolicy(self.path.parent, self.asked.reading).seen(named)
        if not Path(place).suffix:
            message = f"previous: there is no source '{named}', and it is no file"
            raise unknown(ChartFileError, message, named, self.file.sources)
        report = _report_in(Path(place)) if place.casefold().endswith(".json") else None
        if report is None:
            return lambda position, section: self._on_file(section, place)
        return lambda index, section: _in_report(report, index, section)

    def _on_another(self, section: ReportSection, name: str) -> tuple[bool, PastReport | None]:
        """Make a section again on another source of the report, under its conditions."""
        if len(section.sources) != 1 or not name or section.sources == (name,):
            return False, None
        other = replace(section, sources=(name,))
        return self._again(section, with_source(other, self.file.sources, self._paths(other)))

    def _on_file(self, section: ReportSection, place: str) -> tuple[bool, PastReport | None]:
        """Make a section again on a file in place of its source."""
        if len(section.sources) != 1:
            return False, None
        return self._again(section, with_source(section, self.file.sources, {section.sources[0]: self._held(place)}))

    def _again(self, section: ReportSection, file: ChartFile) -> tuple[bool, PastReport | None]:
        """Return a section on other data, whose condition is what it should be."""
        past = past_of(section.kind, made_of_file(file, self.reach).compared)
        return past is not None, None if past is None else replace(past, settings={**past.settings, "where": None})


def _in_report(report: Mapping[str, Any], index: int, section: ReportSection) -> tuple[bool, PastReport | None]:
    """Return a section as an earlier report has it: that of the same title, or in the same place."""
    same = [part for part in report["sections"] if part.get("kind") == section.kind]
    titled = [part for part in same if section.head.title and part.get("asked_title") == section.head.title]
    values = titled or [part for part in same if part.get("at") == index + 1] or same[:1]
    return True, past_from(values[0]["past"]) if values and values[0].get("past") else None


def _report_in(path: Path) -> Mapping[str, Any] | None:
    """Return the results of an earlier report; None if a JSON file is something else.

    Raises
    ------
    ChartFileError
        If it cannot be read.
    """
    try:
        values = json.loads(content_of(path, _LARGEST))
    except (OSError, RuntimeError) as reason:
        raise ChartFileError(f"previous: cannot read '{path}': {reason_of(reason)}") from None
    except (ValueError, RecursionError) as reason:
        raise ChartFileError(f"previous: '{path}' is not JSON: {reason}") from None
    if not isinstance(values, dict) or values.get("format") != RESULTS:
        return None
    sections = values.get("sections")
    if not isinstance(sections, list) or not all(isinstance(section, dict) for section in sections):
        raise ChartFileError(f"previous: '{path}' is not what a report wrote: it has no list of sections")
    return values
