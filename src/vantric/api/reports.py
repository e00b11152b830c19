"""``vantric.report``, the report that users hold, and a first report file written from what a source holds."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, Unpack

from vantric.api.report_changes import past_object
from vantric.api.report_sections import RESULTS, ReadySection, ReportRequest, ready_sections
from vantric.base.arithmetic import own_arithmetic
from vantric.base.lazily import dataclass
from vantric.base.safe_files import HANDED, check_target, write_whole
from vantric.base.safe_text import Plain, is_url
from vantric.core.messages.message import Joined, Message
from vantric.core.numbers.number_format import counted, one_line
from vantric.core.results import DataResult, Handed
from vantric.core.review import Finding
from vantric.counting import count_source, first_look
from vantric.engines.source_paths import check_no_input
from vantric.errors import SourceError, VantricError
from vantric.files.chart_files import seen_from
from vantric.files.models import REPORT_SCHEMA_ID, SCHEMA_LINE
from vantric.files.report_files import read_report_file
from vantric.kinds.kind import Kind, Parts
from vantric.options import split_options
from vantric.options.signatures import shows
from vantric.output.sections import Section, local_of
from vantric.output.writers import Content, beside_of, picture_of, write_content
from vantric.reading.profile import ColumnProfile
from vantric.reading.settings import CountSettings, FileReading, ReadSettings
from vantric.tables.table import Table, text_table

if TYPE_CHECKING:
    from vantric.typing import ReadChartOptions

#: A column with more labels is a key, not a category; with fewer than two there is nothing to rank.
_MOST_LABELS, _FEWEST = 200, 2
#: More parts than this make stacks that nobody can read.
_MOST_PARTS = 12
#: What the source is called.
NAME = "log"


def first_report(source: str, target: Path, opening: ReadSettings) -> str:
    """Return a report file as TOML, with comments, for a source.

    Parameters
    ----------
    source
        A file, a pattern of files, or the URL of a database.
    target
        Where it will be written: the source is named as seen from there.
    opening
        How the source is opened.

    Raises
    ------
    VantricError
        If the source cannot be read, or holds nothing that could be counted.
    """
    look = first_look(source, opening, 1)
    columns = look.columns
    labels = [column for column in columns if _is_label(column)]
    if not labels:
        text = ", ".join(f"'{column.name}' ({column.kind})" for column in columns[:20])
        raise SourceError(
            f"'{source}' has no column of labels that recur, so that there is nothing to count; it has {text}"
        )
    by = max(labels, key=lambda column: (column.distinct > _FEWEST + 1, _told(column), -columns.index(column)))
    parts = [label for label in labels if label is not by and label.distinct <= _MOST_PARTS]
    dates = [column for column in columns if column.kind == "date" and not column.problem]
    found = look.amounts
    amounts = [found.total] if found.total else list(found.plain)
    is_sheet = bool(amounts) and by.distinct == by.valid  # each label has its count
    count = found.total or found.span or amounts[0] if is_sheet else None
    question = _question(source, opening, by.name, count)
    return "\n".join(_lines(source, target, opening, by, parts, dates, amounts, count, question))


def beside(source: str, target: Path) -> bool:
    """Whether a report file may read a source without being allowed to: it is in its folder or below."""
    text = seen_from(source, target.parent)
    return source == "-" or not (is_url(source) or Path(text).is_absolute() or text.startswith(".."))


def _is_label(column: ColumnProfile) -> bool:
    return column.countable and _FEWEST <= column.distinct <= max(_MOST_LABELS, column.valid // 20)


def _told(column: ColumnProfile) -> float:
    """Return how much a column of labels tells: many labels, each of them often."""
    return min(column.distinct, 30) * min(1.0, column.valid / (5 * column.distinct))


def _question(source: str, opening: ReadSettings, by: str, count: str | None) -> str:
    """Return what the source asks when it is counted, with how it is answered; empty if nothing."""
    try:
        _ = count_source(source, CountSettings(by=by, count=count), opening)
    except VantricError as error:
        return " ".join(str(error).split()) if error.asks else ""
    return ""


def _lines(
    source: str,
    target: Path,
    opening: ReadSettings,
    by: ColumnProfile,
    parts: Sequence[ColumnProfile],
    dates: Sequence[ColumnProfile],
    amounts: Sequence[str],
    count: str | None,
    question: str,
) -> Iterator[str]:
    yield f"{SCHEMA_LINE}{REPORT_SCHEMA_ID}"
    yield "# A report of Vantric. Make it with"
    named = "" if beside(source, target) else f" --data {NAME}={seen_from(source, target.parent)}"
    yield f"#   vantric report {target.name}{named} --out report.html"
    yield "# and next month, with other data and beside what this one said, with"
    yield f"#   vantric report {target.name} --data {NAME}=NEXT.csv --previous report.json --out report.html"
    yield "# (write report.json with --out report.json each time). docs/report.md says what else a report can hold."
    yield 'format = "vantric/report"'
    yield "version = 2"
    yield f"title = {_text(f'{_headed(by.name)}: report')}"
    yield '# text = "Markdown under the title."'
    yield ""
    yield f"[sources.{NAME}]"
    yield f"source = {_text(seen_from(source, target.parent))}"
    for name, value in opening.for_file().changed().items():
        yield f"{name} = {_text(list(value) if isinstance(value, tuple) else value)}"
    if question:
        yield f"# {question}"
        if "keep_totals" in question:
            yield "keep_totals = false   # true counts it"
    yield '# where = "..."   # a condition that all sections meet'
    yield ""
    yield "[shared.counting]   # what all sections have that count; a section's own options come first"
    yield "merge_spellings = true   # labels that differ only in case or spaces are one"
    yield from _pareto(by, amounts, count)
    yield from _crosstab(by, parts)
    yield from _over_time(by, dates)


def _pareto(by: ColumnProfile, amounts: Sequence[str], count: str | None) -> Iterator[str]:
    yield from (
        "",
        f"# {_headed(by.name)}: {counted(by.distinct, 'label')}, most often {_common(by)}.",
        "[[sections]]",
        'kind = "pareto"',
        f"data = {_text(NAME)}",
        "[sections.counting]",
        f"by = {_text(by.name)}",
    )
    if count is not None:
        yield f"count = {_text(count)}   # each label stands once: this is how often it occurred"
    for amount in amounts[:3] if count is None else ():
        yield (f"# count = {_text(amount)}   # if a record stands for several occurrences; or weight = ... for a cost")
    yield from ("[sections.analysis]", "cut = 80")
    yield "# keep = 12   # the others become Other"


def _crosstab(by: ColumnProfile, parts: Sequence[ColumnProfile]) -> Iterator[str]:
    if parts:
        column = parts[0]
        yield from (
            "",
            f"# By {one_line(column.name)}: {_common(column)}.",
            "[[sections]]",
            'kind = "crosstab"',
            f"data = {_text(NAME)}",
            "[sections.counting]",
            f"by = {_text(by.name)}",
            "[sections.crossing]",
            f"split = {_text(column.name)}",
        )
        yield from (f"# split = {_text(other.name)}" for other in parts[1:4])


def _over_time(by: ColumnProfile, dates: Sequence[ColumnProfile]) -> Iterator[str]:
    if dates:
        yield from (
            "",
            "# Which rise or fall significantly, month by month?",
            "[[sections]]",
            'kind = "trend"',
            f"data = {_text(NAME)}",
            "[sections.counting]",
            f"by = {_text(by.name)}",
            f"date = {_text(dates[0].name)}",
        )
        yield from (
            "",
            "# Records a month.",
            "[[sections]]",
            'kind = "combine"',
            f"data = {_text(NAME)}",
            "[sections.combine]",
            f"x = {_text(dates[0].name)}",
            'period = "month"',
            'bars = ["count=Records"]',
        )
    yield ""


def _common(column: ColumnProfile) -> str:
    return ", ".join(f"{one_line(label, longest=30)} ({number:,})" for label, number in column.commonest[:3])


def _headed(name: str) -> str:
    plain = one_line(name, longest=60).replace("_", " ")
    return f"{plain[:1].upper()}{plain[1:]}"


def _text(value: Any) -> str:
    """Return a value as TOML has it, whose basic strings are those of JSON."""
    return json.dumps(value, ensure_ascii=False).replace("\x7f", "\\u007F")


REPORTS = ("json", *HANDED)


@dataclass(frozen=True, eq=False, repr=False)
class Report(DataResult, Handed):
    """Several results on one page; made by `vantric.report`.

    It is saved as ``.html``, a page, ``.xlsx``, a workbook, ``.pptx``, slides, ``.md``, a text with its pictures beside
    it, or ``.json``, the results, from which the next report says what changed.

    Attributes
    ----------
    title, text
        As the report file says.
    ready : tuple
        The sections, with the results they were made of.
    inputs
        The files that were read, which saving must not replace.
    """

    title: str
    text: str
    ready: tuple[ReadySection, ...]
    inputs: tuple[str, ...] = ()

    _kind = "report"
    _inner = frozenset({"ready", "inputs", "headline", "contents", "markdown"})

    @property
    def sections(self) -> tuple[Section, ...]:
        """What the report holds, in its order."""
        return tuple(section.section for section in self.ready)

    @property
    def failed(self) -> tuple[str, ...]:
        """Why sections could not be made, in words; only of a partial report."""
        return tuple(section.failed for section in self.ready if section.failed)

    @property
    def changed(self) -> tuple[str, ...]:
        """What changed since last time, a line a section; empty if nothing was named to compare with."""
        changed = (section for section in self.sections if section.changed)
        return tuple(Message("titled", title=section.title, text=Joined(section.changed)) for section in changed)

    def headline(self) -> str:
        """Return the first thing to say: what changed since last time, or what the first section shows."""
        return next(iter(self.changed), "") or next(
            (section.sentence for section in self.sections if section.sentence), self.title
        )

    def sentence(self) -> str:
        """Return what each section shows, in words."""
        texts = [f"{section.title}: {section.sentence}" for section in self.sections if section.sentence]
        return "\n".join([*self.changed, *texts])

    def review(self) -> list[Finding]:
        """Return what is wrong or risky in the sections, each with its fix."""
        return list(dict.fromkeys(finding for section in self.sections for finding in section.findings))

    def contents(self, target: Path, kind: str, *, slide_tables: bool = False) -> list[tuple[Path, bytes]]:
        """Return the files of a target: of a text, the pictures beside it."""
        if kind == "md":
            return self._text(target)
        return [(target, write_content(self._content(slide_tables=slide_tables), kind))]

    def _content(self, *, slide_tables: bool) -> Content:
        return Content(
            sections=lambda: self.sections,
            data=lambda: report_object(self),
            slide_tables=slide_tables,
            title=self.title,
            lead=self.text,
            changed=self.changed,
        )

    def _text(self, target: Path) -> list[tuple[Path, bytes]]:
        from vantric.output.markup import picture_line

        texts, pictures = [], []
        for index, section in enumerate(self.sections, 1):
            views = section.views()
            beside = beside_of(target, (), index)
            texts.append(picture_line(section, views[0].chart, beside, target) if views else "")
            pictures += [(beside, picture_of(views[0], beside, self.inputs))] if views else []
        return [(target, self.markdown(texts).encode("utf-8", "backslashreplace")), *pictures]

    def markdown(self, shown: Sequence[str] = ()) -> str:
        """Return the report as Markdown; `shown` is what shows the picture of each section."""
        from vantric.output.markup import section_markdown
        from vantric.output.prose import plain_markdown, prose_markdown

        parts = [f"# {plain_markdown(self.title)}\n\n"]
        parts += [f"{prose_markdown(self.text)}\n"] if self.text.strip() else []
        if self.changed:
            local = local_of(self.sections)
            lines = "".join(f"- {plain_markdown(local.text(text))}\n" for text in self.changed)
            parts.append(f"## {local.say('since last time')}\n\n{lines}\n")
        pictures = shown or ("",) * len(self.ready)
        return "".join(
            [
                *parts,
                *(
                    f"{section_markdown(section, text, level=2)}\n"
                    for section, text in zip(self.sections, pictures, strict=True)
                ),
            ]
        )

    def _saved(self, target: Path, kind: str, *, slide_tables: bool) -> Path:
        check_target(target)
        check_no_input(target, list(self.inputs))
        for place, content in self.contents(target, kind, slide_tables=slide_tables):
            write_whole(place, content)
        return target

    def _as_file(self, kind: str, *, slide_tables: bool) -> bytes:
        if kind == "md":
            return self.markdown().encode("utf-8", "backslashreplace")
        return write_content(self._content(slide_tables=slide_tables), kind)

    def __repr__(self) -> str:
        return f"<Report '{self.title}' of {len(self.ready)} sections>"


@own_arithmetic
@shows(FileReading)
def report(
    path: str | Path,
    *,
    data: Mapping[str, str | Path] | None = None,
    previous: str | Path | None = None,
    partial: bool = False,
    **options: Unpack[ReadChartOptions],
) -> Report:
    """Make the report that a report file describes, from its sources.

    Parameters
    ----------
    path
        A TOML or JSON file whose ``format`` is ``"vantric/report"``. Its sources are seen from its own folder.
    data
        Name of a source -> the file or URL that is read in its place; it may be anywhere.
    previous
        What the sections are compared with, in place of the file's own: the last report as ``.json``, a file of data,
        or the name of a source.
    partial
        Whether a section that fails is left out, with the reason in its place.

    Returns
    -------
    Report

    Raises
    ------
    VantricError
        If the file holds something that no report has, with its line; or if a section cannot be made.
    """
    [reading] = split_options(options, FileReading)
    texts = {name: str(item) for name, item in (data or {}).items()}
    request = ReportRequest(texts, "" if previous is None else str(previous), reading, partial)
    return made_report(Path(path), request)


def made_report(path: Path, request: ReportRequest) -> Report:
    """Return the report of a file; see `report`."""
    file = read_report_file(path)
    ready = ready_sections(file, path, request)
    sources = [str(source.source) for source in file.sources.values()]
    read = [str(path), *(str(path.parent / source) for source in sources), *request.data.values(), request.previous]
    return Report(file.heading.title, file.heading.text, tuple(ready), tuple(filter(None, read)))


def report_object(report: Report) -> Plain:
    """Return a report as plain data: what each section shows, and what the next report compares with."""
    return {
        "format": RESULTS,
        "version": 1,
        "title": report.title,
        "changed": list(report.changed),
        "sections": [
            {
                "at": index,
                "kind": section.kind,
                "title": section.section.title,
                "asked_title": section.asked_title,
                "sentence": section.section.sentence,
                "base": section.section.base,
                "notes": dict(section.section.notes),
                "changed": list(section.section.changed),
                "findings": [finding.to_dict() for finding in section.section.findings],
                "failed": section.failed,
                "past": past_object(section.past),
            }
            for index, section in enumerate(report.ready, 1)
        ],
    }


def report_tables(report: Report, *_: object) -> list[Table]:
    """Return what each section shows."""
    rows = [(section.title, section.sentence or section.text) for section in report.sections]
    return [text_table((Message("section"), Message("shows")), rows, caption=report.title)]


def make(data: Any, opening: ReadSettings, parts: Parts) -> Report:
    """Return the report of a report file, as it is asked for."""
    return made_report(Path(data), parts["asked"])


KIND = Kind(
    name="report",
    options={"reading": FileReading},
    make=make,
    origin=lambda report: None,
    sources=lambda report: list(report.inputs),
    review=lambda report: report.review(),
    tables=report_tables,
    data=lambda report, *_: report_object(report),
    endings=REPORTS,
    verbs={"save": Report._saved, "written": Report._as_file},
)
