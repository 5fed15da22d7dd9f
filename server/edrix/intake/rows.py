"""Rows of a table as students' lines, each read by the core or refused with its reasons."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from edrix.intake.columns import FileColumn
from edrix.names import folded
from edrix.table_file import Table
from valvetrain.engine import Engine
from valvetrain.grading import FURTHER, STOP, VERDICT, Entry, EntryError, read_entry

VERDICTS = {
    "tight": "tight", "t": "tight", "too tight": "tight",
    "within": "within", "w": "within", "ok": "within", "in spec": "within", "in": "within",
    "loose": "loose", "l": "loose", "too loose": "loose",
    "cannot-tell": "cannot-tell", "can't tell": "cannot-tell", "cannot tell": "cannot-tell",
    "?": "cannot-tell",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class ListedStudent:
    id: int
    name: str
    sign_in_name: str


@dataclass(frozen=True, slots=True)
class Target:
    """The sheet that rows are read for."""

    engine: Engine
    engine_version: int
    students: tuple[ListedStudent, ...]
    stops: Mapping[int, float]


@dataclass(frozen=True, slots=True)
class RefusedRow:
    """row counts as the file does: its heading is row 1."""

    row: int
    who: str
    problems: list[str]


@dataclass(slots=True)
class Lines:
    """What the rows gave one student."""

    entries: dict[int, Entry] = field(default_factory=dict)
    refused: int = 0
    not_asked: frozenset[str] = frozenset()
    """Columns that the file leaves out as a whole: by their names."""


@dataclass(slots=True)
class Understood:
    lines: dict[int, Lines]
    """By student id."""
    refused: list[RefusedRow]


class Read(NamedTuple):
    """What one row says, whoever wrote it; entries is empty where there are problems."""

    entries: list[tuple[int, Entry]]
    problems: list[str]


class _RowError(Exception):
    """What is wrong with a row."""


def read_rows(table: Table, columns: list[FileColumn], target: Target) -> Understood:
    degrees = _numbers_are_degrees(table, columns, target)
    people, reader = People(target.students), _Reader(columns, target, numbers_are_degrees=degrees)
    found: dict[tuple[str, str], ListedStudent | str] = {}
    made = Understood({}, [])
    for row, cells in enumerate(table.rows[1:], start=1):
        called = reader.called(cells)
        student = found.get(called)
        if student is None:
            student = found[called] = people.called(*called)
        problems = list(_cell_faults(table, columns, row)) if table.faults else []
        if len(cells) > len(columns) and any(map(str.strip, cells[len(columns) :])):
            problems.append(
                f"has {len(cells)} cells where the heading has {len(columns)}; with decimal "
                "commas, put ; between the columns"
            )
        if isinstance(student, str):
            problems.append(student)
        else:
            lines = made.lines.setdefault(student.id, Lines())
            if not problems:
                problems = _add(lines, reader.read(cells))
            lines.refused += bool(problems)
        if problems:
            who = called[0] or called[1]
            made.refused.append(RefusedRow(row + 1, who[:80], problems))
    left_out = _left_out(made)
    for lines in made.lines.values():
        lines.not_asked = left_out
    return made


def _left_out(made: Understood) -> frozenset[str]:
    """Stops or verdicts of which the table has none at all: nobody was asked for them."""
    entries = [entry for lines in made.lines.values() for entry in lines.entries.values()]
    has = {
        STOP.name: any(entry.crank_deg is not None for entry in entries),
        VERDICT.name: any(entry.verdict is not None for entry in entries),
    }
    return frozenset(name for name, there in has.items() if not there)


def _add(lines: Lines, read: Read) -> list[str]:
    """Adds what a row gave to a student's lines; what is wrong with it comes back."""
    problems = list(read.problems)
    for valve, entry in read.entries:
        if valve in lines.entries:
            problems.append(f"valve {valve} stands twice for this student")
        else:
            lines.entries[valve] = entry
    return problems


def _cell_faults(table: Table, columns: list[FileColumn], row: int) -> Iterator[str]:
    for place, column in enumerate(columns):
        if column.means and (row, place) in table.faults:
            yield f"“{column.title}” {table.faults[row, place]}"


def student_called(name: str, students: tuple[ListedStudent, ...]) -> ListedStudent | str:
    """The student of this name or sign-in name, or why there is none."""
    return People(students).called(name)


class People:
    """A class's students by what a file may call them."""

    def __init__(self, students: tuple[ListedStudent, ...]):
        self._by_sign_in = {folded(student.sign_in_name): student for student in students}
        self._by_name: dict[str, list[ListedStudent]] = {}
        for student in students:
            self._by_name.setdefault(_name(student.name), []).append(student)

    def called(self, name: str, sign_in: str = "") -> ListedStudent | str:
        if not sign_in and not name:
            return "names no student"
        found = self._by_sign_in.get(folded(sign_in or name))
        if found is not None:
            return found
        if sign_in:
            return f"“{sign_in[:40]}” is no sign-in name of a student of this class"
        namesakes = self._by_name.get(_name(name), [])
        if len(namesakes) == 1:
            return namesakes[0]
        if namesakes:
            return f"{len(namesakes)} students are called “{name[:40]}”; use sign-in names"
        return f"“{name[:40]}” is no student of this class"


def _name(name: str) -> str:
    """So that case, blanks, accents' ways of writing and “Falkner, Ines” do not matter."""
    return " ".join(sorted(folded(name.replace(",", " ")).split()))


class _Reader:
    """Reads rows of one table; rows that say the same of a valve are read once."""

    def __init__(self, columns: list[FileColumn], target: Target, *, numbers_are_degrees: bool):
        self._target = target
        self._numbers_are_degrees = numbers_are_degrees
        self._means = {
            column.means: place
            for place, column in enumerate(columns)
            if column.means and column.valve is None
        }
        self._valves = {c.valve: place for place, c in enumerate(columns) if c.valve is not None}
        self._units = {c.means: c.unit for c in columns if c.means and c.unit and c.valve is None}
        self._units_of_valves = {c.valve: c.unit for c in columns if c.valve is not None and c.unit}
        self._width = len(columns)
        who = ("student", "sign_in_name")
        self._who = [self._means.pop(name, None) for name in who]
        self._places = [*self._means.values(), *self._valves.values()]
        self._known: dict[tuple[str, ...], Read] = {}

    def called(self, cells: list[str]) -> tuple[str, str]:
        """A student's name and sign-in name as a row gives them."""
        name, sign_in = (
            cells[place].strip() if place is not None and place < len(cells) else ""
            for place in self._who
        )
        return name, sign_in

    def read(self, cells: list[str]) -> Read:
        if len(cells) < self._width:
            cells = cells + [""] * (self._width - len(cells))
        told = tuple([cells[place] for place in self._places])
        known = self._known.get(told)
        if known is None:
            known = self._known[told] = self._read(cells)
        return known

    def _read(self, cells: list[str]) -> Read:
        values = {means: cells[place].strip() for means, place in self._means.items()}
        read = Read([], list(_same_engine(values, self._target)))
        for row, units in self._rows(values, cells):
            try:
                crank_deg = _crank_deg(
                    row, self._target, numbers_are_degrees=self._numbers_are_degrees
                )
                entry = _entry(row, units, self._target, crank_deg)
                read.entries.append((entry.valve, entry))
            except _RowError as fault:
                read.problems.append(str(fault))
        return Read([], read.problems) if read.problems else read

    def _rows(
        self, values: dict[str, str], cells: list[str]
    ) -> Iterator[tuple[dict[str, str], dict[str, str]]]:
        """The row itself, or one for each valve of a wide table."""
        if not self._valves:
            yield values, self._units
        for valve, place in self._valves.items():
            text = cells[place].strip()
            if text:
                unit = self._units_of_valves.get(valve)
                row = {**values, "valve": str(valve), "reading": text}
                yield row, {"reading": unit} if unit else {}


def _same_engine(values: Mapping[str, str], target: Target) -> Iterator[str]:
    engine, version = values.get("engine"), values.get("engine_version")
    if engine and engine.casefold() != target.engine.name.casefold():
        yield f"is of the engine “{engine[:60]}”; the sheet's is {target.engine.name}"
    if version and version != str(target.engine_version):
        yield f"is of version {version[:10]} of the engine; the sheet's is {target.engine_version}"


def _entry(
    values: Mapping[str, str], units: Mapping[str, str], target: Target, crank_deg: float | None
) -> Entry:
    # A spreadsheet writes 1.0 where its column holds figures.
    number = re.sub(r"\.0+$", "", values.get("valve", ""))
    if not re.fullmatch(r"[0-9]{1,4}", number):
        raise _RowError(f"“{number[:20]}” is no valve's number")
    verdict = values.get("verdict", "").casefold()
    unit = values.get("unit", "").casefold() or units.get("reading", "mm")
    try:
        return read_entry(
            target.engine,
            valve=int(number),
            reading=_with_unit(values.get("reading", ""), units.get("reading"), unit),
            unit=unit,
            crank_deg=crank_deg,
            verdict=VERDICTS.get(verdict, verdict) or None,
            further={
                name: _with_unit(values[name], units.get(name), unit)
                for name in FURTHER
                if name in values
            },
        )
    except EntryError as fault:
        raise _RowError(str(fault)) from None


def _with_unit(text: str, of_column: str | None, of_row: str) -> str:
    """A column whose title gives another unit than the row's keeps its own."""
    if of_column is None or of_column == of_row or not text or text[-1].isalpha():
        return text
    return f"{text} {of_column}"


def _crank_deg(
    values: Mapping[str, str], target: Target, *, numbers_are_degrees: bool
) -> float | None:
    """Of the column with crank degrees, or of the one with stops, whose figures are numbers of
    stops unless none of them in the whole file is one."""
    if values.get("crank_deg"):
        return _figure(values["crank_deg"])
    text = values.get("stop", "")
    if not text:
        return None
    figure = _figure(text)
    if _IN_DEGREES.search(text) or numbers_are_degrees:
        return figure
    if figure not in target.stops:
        known = ", ".join(map(str, target.stops))
        raise _RowError(
            f"“{text[:20]}” is no stop of this sheet, which has {known}; crank degrees are written "
            "like 90°"
        )
    return target.stops[int(figure)]


_IN_DEGREES = re.compile(r"(°|deg|degrees)$", re.IGNORECASE)


def _figure(text: str) -> float:
    plain = re.sub(r"^stop\s*|\s*(°|deg|degrees)$", "", text.casefold()).replace(",", ".")
    try:
        return float(plain)
    except ValueError:
        raise _RowError(f"“{text[:20]}” is no stop; give its number or crank degrees") from None


def _numbers_are_degrees(table: Table, columns: list[FileColumn], target: Target) -> bool:
    """Whether the column with stops holds angles: figures of which none is a stop's number."""
    place = next((at for at, column in enumerate(columns) if column.means == "stop"), None)
    if place is None:
        return False
    texts = {cells[place].strip() for cells in table.rows[1:] if place < len(cells)}
    figures = []
    for text in texts:
        if text and not _IN_DEGREES.search(text):
            try:
                figures.append(_figure(text))
            except _RowError:
                continue
    return bool(figures) and not any(figure in target.stops for figure in figures)
