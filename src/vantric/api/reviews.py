"""``vantric.review``: what it says of a source, a sheet, a workbook or a chart file, and repaired sheets."""

from __future__ import annotations

import re
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise
from pathlib import Path
from typing import Any

from vantric.audit.arithmetic import check_sheet
from vantric.audit.book_tables import BookTable
from vantric.audit.books import audit_book
from vantric.audit.chart_findings import review_drawn
from vantric.audit.column_roles import counts_things
from vantric.audit.drawn_charts import charts_unread
from vantric.audit.relations import CheckedRelations, StatedSheet
from vantric.audit.sheet_rows import RawSheet, code_amounts, found_sheet, sheet_of, stated_sheet
from vantric.audit.sheets import SheetTable
from vantric.audit.stated_checks import check_relations, summary_differs
from vantric.base.arithmetic import own_arithmetic
from vantric.base.lazily import compiled, dataclass
from vantric.base.safe_text import masked
from vantric.core.charts import Chart
from vantric.core.counts.gap import gap_of, is_planned
from vantric.core.counts.pareto import pareto
from vantric.core.counts.provenance import Note
from vantric.core.numbers.number_format import one_line, quoted
from vantric.core.results import Drawable, TableResult
from vantric.core.review import Finding, remarked, review_pareto, review_tally, total_asked
from vantric.core.review.finding import WrongCell, check_codes
from vantric.counting import count_source
from vantric.counting.repeated_records import copied_records
from vantric.errors import AmountError, RankError, SourceError, VantricError
from vantric.kinds.access_policy import AccessPolicy
from vantric.kinds.combine import relations_of_all
from vantric.kinds.kind import Findings, Kind
from vantric.output.findings import findings_lines, findings_markdown, findings_tables, headline
from vantric.reading.settings import CountSettings, ReadSettings
from vantric.tables.table import wrapped

#: Series are related pair by pair; more pairs than this are no longer read.
_MOST_PAIRS = 6


@own_arithmetic
def review(result: Any, *, ignore: Sequence[str] = ()) -> Findings:
    """Return what is wrong or risky in a result, and how to fix it.

    Parameters
    ----------
    result
        A tally, a two-way table, a Pareto table, a comparison, trends, a chart or two scales; or the path of a
        workbook, whose sheets and charts are read, of a sheet or of a chart file. It is never changed.
    ignore
        Codes of findings that are not wanted.

    Returns
    -------
    list of Finding
        Each with `code`, `severity` (error, warning or note), `message`, `fix`, `where`, and `cells` where cells are
        wrong.

    Raises
    ------
    OptionError
        If `ignore` names a code that there is not.
    """
    if ignore:
        check_codes(ignore)
    return Findings(finding for finding in _review(result) if finding.code not in ignore)


def _review(result: object) -> list[Finding]:
    if isinstance(result, str | Path):
        review_result = review_book(Path(result), ReadSettings()) if is_book(result) else review_path(Path(result))
        return list(review_result.findings)
    if isinstance(result, TableResult | Drawable):
        return list(result.review())
    raise VantricError(
        f"cannot review {type(result).__name__}: give a tally, a two-way table, a Pareto table, a comparison, a chart "
        "or two scales"
    )


@dataclass(frozen=True)
class ReviewResult:
    """What a review found, and how two series of a chart go together, in words."""

    findings: tuple[Finding, ...]
    relations: tuple[str, ...] = ()


def review_source(data: Any, counted: CountSettings, opening: ReadSettings, base: float | None = None) -> ReviewResult:
    """Review what a source holds: its tally, the Pareto table of it, and the percents that stand beside its counts."""
    stated = stated_of(data, counted, opening)
    if stated is not None:
        return ReviewResult(tuple(_sheet_review(data, stated, counted, opening, base)))
    sheet = _sheet_beside(data, counted, opening)
    checked = [
        *(check_sheet(with_base(sheet.table, base)) if sheet is not None else []),
        *(remarked(note, "charts") for note in charts_unread(data)),
    ]
    if sheet is not None and counted.by is None:
        return ReviewResult(tuple(checked))
    findings: list[Finding] = []
    try:
        tally = count_source(data, counted, opening)
    except AmountError:  # the review says which counts are negative, where counting stops at the first
        below = _negative(data, counted, opening)
        if not below:
            raise
        return ReviewResult(tuple(dict.fromkeys([*checked, *below])))
    except SourceError as error:  # the review tells of the total instead of asking
        if error.hint is None or "keep_totals" not in error.hint or opening.keep_totals is not None:
            raise
        findings = [total_asked(str(error))]
        tally = count_source(data, counted, replace(opening, keep_totals=True))
    try:
        found_findings = review_pareto(pareto(tally))
    except RankError:  # a tally that cannot be ranked is reviewed all the same
        found_findings = review_tally(tally)
    if findings and any(item.code == "total-as-category" for item in found_findings):
        findings = []
    is_told = any(item.code == "repeated-records" for item in found_findings)
    notes = [] if is_told else copied_records(data, opening, counted.by)
    again = [remarked(note, str(counted.by or "records")) for note in notes]
    codes = [remarked(remark, "amounts") for remark in code_amounts(data, opening)]
    found_findings = [finding for finding in found_findings if not _follows(finding, codes)]
    return ReviewResult(tuple(dict.fromkeys([*checked, *findings, *again, *codes, *found_findings])))


def _follows(finding: Finding, codes: Sequence[Finding]) -> bool:
    """Whether one record holds most of an amount since it is a code for what is not known."""
    return finding.code == "one-record" and any(code.message.startswith(f"'{finding.where}' ") for code in codes)


def _sheet_review(
    data: Any, table: StatedSheet, counted: CountSettings, opening: ReadSettings, base: float | None
) -> list[Finding]:
    """Return what is wrong in a sheet: it is never counted row by row."""
    sheet, relations = _sheet_beside(data, counted, opening), check_relations(table)
    if sheet is not None and is_explained(sheet, relations):
        sheet = None
    checked = [
        *(check_sheet(with_base(sheet.table, base)) if sheet is not None else []),
        *(remarked(note, "charts") for note in charts_unread(data)),
    ]
    if sheet is None and not relations.findings:
        checked += _ranked_findings(data, table, opening)
    return sheet_findings(table, relations, checked, is_checked=sheet is not None)


def stated_of(data: Any, counted: CountSettings, opening: ReadSettings) -> StatedSheet | None:
    """Return a source that is a sheet of a row a label; None of a log, and where columns are named."""
    odd = counted.weight or counted.unique or counted.separator or counted.by_columns or counted.added or opening.where
    if odd or counted.by is not None or counted.count is not None:
        return None
    try:
        return stated_sheet(data, opening)
    except VantricError:
        return None  # what is wrong with the source is said when it is counted


#: Of a sheet of one column of counts: what is wrong in it, and no more.
_OF_COUNTS = frozenset(
    (
        *("total-as-category", "possible-total", "similar-labels", "near-labels"),
        *("several-labels", "good-as-defect", "test-entries"),
    )
)
#: What a count of cells calls itself and its records, which a workbook calls by their sheet and rows.
_THE_DATA, _RECORD = compiled(r"^the data[,:] "), compiled(r"\brecord (\d+)(?=[:,]| \()")


def _ranked_findings(data: Any, table: StatedSheet, opening: ReadSettings) -> list[Finding]:
    """Return what is wrong in the counts of a sheet of one column: parts beside their sum, labels that are one."""
    if len(table.columns) != 1 or table.columns[0].percents:
        return []
    counted = CountSettings(by=table.by, count=table.columns[0].name)
    try:
        findings = review_tally(count_source(data, counted, opening))
    except SourceError as error:
        return [total_asked(str(error))] if error.hint is not None and "keep_totals" in error.hint else []
    except AmountError:
        return _negative(data, counted, opening) if counts_things(table.columns[0].name) else []
    except VantricError:
        return []
    return [
        finding
        for finding in findings
        if (finding.code in _OF_COUNTS and not _is_first_half(table, finding)) or "nothing is known" in finding.message
    ]


def _is_first_half(table: StatedSheet, finding: Finding) -> bool:
    """Whether a category is suspected only since it has half of all; it stands first in descending order."""
    values = [value for value in table.columns[0].values if value is not None]
    descending = all(later <= value for value, later in pairwise(values[: len(table.labels) - 1]))
    first = f"('{one_line(table.labels[0], longest=40)}') adds up the others"
    return finding.code == "possible-total" and descending and first in finding.message


def _ranked_cells(table: StatedSheet) -> list[Finding]:
    """Return the same of a sheet of a workbook, of which the cells are known already."""
    if len(table.columns) != 1:
        return []
    values = [
        None if value is None else int(value) if value.denominator == 1 else float(value)
        for value in table.columns[0].values
    ]

    def in_book(message: str) -> str:
        if _THE_DATA.match(message):
            message = _RECORD.sub(lambda record: table.places[int(record[1]) - 1], _THE_DATA.sub("", message))
        return f"{table.where}{message}"

    findings = _ranked_findings({table.by: list(table.labels), table.columns[0].name: values}, table, ReadSettings())
    return [replace(finding, message=in_book(finding.message)) for finding in findings]


def is_explained(sheet: RawSheet, relations: CheckedRelations) -> bool:
    """Whether percents are of other columns than the counts: of their row, as a rate."""
    names = dict(sheet.columns)
    return any(names.get(kind) in relations.explained for kind in ("percent", "cumulative"))


def sheet_findings(
    table: StatedSheet, relations: CheckedRelations, checked: Sequence[Finding], *, is_checked: bool
) -> list[Finding]:
    """Return what is wrong in a sheet, each cell once; that nothing could be checked is said once, as a note."""
    is_told = {(cell.place, cell.column) for finding in checked for cell in finding.cells}
    fresh = [
        finding
        for finding in relations.findings
        if not finding.cells or any((cell.place, cell.column) not in is_told for cell in finding.cells)
    ]
    totals = {_row_and_right(cell) for finding in checked if finding.code == "wrong-total" for cell in finding.cells}
    fresh = [
        finding
        for finding in fresh
        if finding.code != "wrong-total" or totals.isdisjoint(map(_row_and_right, finding.cells))
    ]
    sums = {_digits(cell.place) for finding in checked if finding.code == "wrong-cumulative" for cell in finding.cells}
    fresh = [finding for finding in fresh if finding.code != "wrong-class" or _digits(finding.where) not in sums]
    findings = [*checked, *fresh]
    if not findings and not is_checked and not relations.checked:
        named = quoted([one_line(column.name) for column in table.columns][:3])
        remark = Note(
            "nothing-to-check",
            f"{table.where}no column is worked out from others: {named} cannot be checked",
            "note",
            "say what is counted, to have it reviewed as a tally (--by, --count)",
        )
        findings.append(remarked(remark, "the sheet"))
    return findings


def _row_and_right(cell: WrongCell) -> tuple[str, str]:
    """Return what a total and the cell that states it have in common: one is called row 6, the other C6."""
    return _digits(cell.place), cell.should


def _digits(place: str) -> str:
    return "".join(sign for sign in place if sign.isdigit())


def _negative(data: Any, counted: CountSettings, opening: ReadSettings) -> list[Finding]:
    """Return the records whose count is below zero as a finding; nothing where something else is wrong."""
    if counted.by is None or not isinstance(counted.count, str):
        return []
    try:
        sheet = sheet_of(data, counted.by, counted.count, None, None, opening)
    except VantricError:  # what cannot be read here is reported by the count itself
        return []
    return [finding for finding in check_sheet(sheet.table) if finding.code == "negative-count"]


def _sheet_beside(data: Any, counted: CountSettings, opening: ReadSettings) -> RawSheet | None:
    """Return the sheet that a source is, if percents or running sums stand beside its counts."""
    odd = counted.weight or counted.unique or counted.separator or counted.by_columns or counted.added or opening.where
    if odd or (counted.by is not None and counted.count is None):
        return None
    try:
        return found_sheet(data, opening, counted.by, None if counted.count is None else str(counted.count))
    except VantricError:
        return None  # what is wrong with the source is said when it is counted


def is_book(source: Any) -> bool:
    """Whether a source is a workbook whose charts can be read."""
    from vantric.audit.books import BOOKS

    return isinstance(source, str | Path) and Path(str(source)).suffix.casefold() in BOOKS


def review_path(path: Path) -> ReviewResult:
    """Review a file by itself: a chart file, or a sheet with percents beside its counts."""
    if path.suffix.casefold() == ".toml":
        return review_file(path, AccessPolicy(path.parent))
    return review_source(path, CountSettings(), ReadSettings())


def review_book(path: Path, opening: ReadSettings, base: float | None = None) -> ReviewResult:
    """Review a finished workbook: the tables of its sheets, and its charts."""
    audited_book = audit_book(path, opening)
    checked = {index: _book_findings(table, base) for index, table in enumerate(audited_book.found)}
    drawn: list[Finding] = []
    for chart in audited_book.charts:  # what is wrong in the cells that it draws is said once
        of_cells = [index for index, table in enumerate(audited_book.found) if chart.draws(table.sheet)]
        names = frozenset(finding.code for index in of_cells for finding in checked[index])
        drawn += review_drawn(replace(chart, told=names))
    findings = [finding for index in checked for finding in checked[index]]
    findings = [finding for finding in findings if not _is_drawn(finding, drawn)]
    idle = [finding for finding in findings if finding.code == "nothing-to-check"]
    if len(idle) < len(findings) or audited_book.charts:  # said once, and of a whole workbook
        findings = [finding for finding in findings if finding not in idle]
    findings = findings[:1] if findings and findings == idle else findings
    logs = [column for table in audited_book.found for column in table.log]
    summaries = [table.stated for table in audited_book.found if table.stated is not None]
    findings += [item for sheet in summaries for column in logs for item in summary_differs(sheet, *column)]
    notes_found = [remarked(remark, path.name) for remark in audited_book.remarks]
    return ReviewResult(tuple(dict.fromkeys([*findings, *drawn, *notes_found])))


def _is_drawn(finding: Finding, drawn: Sequence[Finding]) -> bool:
    """Whether a row that may be a sum is said to be drawn beside its parts: that says more."""
    label = re.search(r"\('(.+?)'\)", finding.message)
    return finding.code == "possible-total" and any(f"'{label[1]}' in it" in item.message for item in drawn if label)


def _book_findings(table: BookTable, base: float | None) -> list[Finding]:
    """Return what is wrong in a table of a workbook: in its percents, and in what its columns are of others."""
    if table.stated is None:
        return check_sheet(with_base(table.table, base))
    relations = check_relations(table.stated)
    explained = any(heading in relations.explained for _, heading in table.table.headings)
    checked = [] if explained else check_sheet(with_base(table.table, base))
    if not table.table.rows and not relations.findings:
        checked += _ranked_cells(table.stated)
    return sheet_findings(table.stated, relations, checked, is_checked=bool(table.table.rows))


def review_sheet(
    data: Any,
    by: str,
    count: str,
    percent: str | None,
    cumulative: str | None,
    opening: ReadSettings,
    base: float | None = None,
) -> ReviewResult:
    """Review the arithmetic of a sheet made elsewhere, cell by cell."""
    return ReviewResult(
        tuple(check_sheet(with_base(sheet_of(data, by, count, percent, cumulative, opening).table, base)))
    )


def with_base(table: SheetTable, base: float | None) -> SheetTable:
    """Return a sheet whose percents are of a base that the user says."""
    return table if base is None else replace(table, base=Fraction(repr(float(base))))


def review_file(path: Path, policy: AccessPolicy) -> ReviewResult:
    """Review a chart file: the table under the chart, the chart, and how its series go together."""
    from vantric.api.charts import made_of_file
    from vantric.files.chart_files import read_chart_file

    chart_file = read_chart_file(path)
    result = made_of_file(chart_file, policy)
    chart = result.chart
    plain = chart_file.kind not in ("pareto", "compare")
    return ReviewResult(result.reviewed(), tuple(series_words(chart)) if plain and isinstance(chart, Chart) else ())


def series_words(chart: Chart) -> list[str]:
    """Return the gap of what was planned and what was achieved, and the relation of every pair."""
    texts: list[str] = []
    plain = [item for item in chart.series if "cumulative" not in item.name.casefold()]  # a sum goes with its bars
    pairs = [(item, other) for index, item in enumerate(plain) for other in plain[index + 1 :]]
    if len(pairs) > _MOST_PAIRS:
        return []
    for series, other in pairs:
        if series.unit == other.unit and is_planned(series.name) != is_planned(other.name):
            planned, achieved = (series, other) if is_planned(series.name) else (other, series)
            names = planned.name, achieved.name
            with suppress(VantricError):
                texts.append(gap_of(chart.categories, planned.values, achieved.values, names).sentence())
    return [*texts, *relations_of_all(chart, pairs)]


def data(result: ReviewResult, look: Any, findings: Any, *, source: str = "") -> dict[str, Any]:
    """Return its JSON object."""
    return {
        "format": "vantric/review",
        "version": 1,
        "source": masked(source),
        "relations": list(result.relations),
        "findings": [finding.to_dict() for finding in findings],
    }


def view(result: ReviewResult, look: Any, *, findings: Any, width: int) -> list[str]:
    """Return it for a terminal."""
    lines = list(findings_lines(findings, width))
    return [headline(findings), *lines, *([""] if lines else []), *wrapped(result.relations, width)]


def markdown(result: ReviewResult, findings: Any) -> str:
    """Return it as Markdown."""
    return findings_markdown(findings, result.relations)


KIND = Kind(
    name="review",
    origin=lambda result: None,
    sources=lambda result: [],
    review=lambda result: result.findings,
    sentence=lambda result: headline(result.findings),
    tables=lambda result, *_: findings_tables(result.findings),
    data=data,
    view=view,
    verbs={"markdown": markdown},
)
