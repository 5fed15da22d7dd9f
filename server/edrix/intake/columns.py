"""What the columns of a table of readings mean, told from their titles."""

import re
from dataclasses import dataclass

from edrix.errors import FieldFault, InvalidError
from valvetrain.engine import Engine
from valvetrain.grading import COLUMNS

OTHERS: dict[str, tuple[str, tuple[str, ...]]] = {
    "student": ("the student's name", ("student", "name", "display name", "trainee", "pupil",
                                       "learner")),
    "sign_in_name": ("the student's sign-in name", ("sign in name", "sign in", "login", "user",
                                                    "user name")),
    "valve": ("the valve's number", ("valve", "valve no", "valve nr", "valve number", "no", "nr")),
    "unit": ("the unit of the row", ("unit", "units")),
    "stop": ("the stop: its number or its crank degrees", ("stop", "at stop", "stop no")),
    "engine": ("the engine, compared with the sheet's", ("engine",)),
    "engine_version": ("the engine's version, compared with the sheet's", ("engine version",
                                                                           "version")),
}  # fmt: skip
"""What a table has besides the columns of the sheet: in words, and the titles it goes by."""
WORDS = {name: words for name, (words, _) in OTHERS.items()} | {
    column.name: "the stop in crank degrees" if column.holds == "stop" else column.spoken
    for column in COLUMNS.values()
}
"""What a column gives, in words."""
_MEANS = {title: name for name, (_, titles) in OTHERS.items() for title in titles} | {
    title: column.name for column in COLUMNS.values() for title in column.file_titles
}
LENGTHS = frozenset(column.name for column in COLUMNS.values() if column.is_length)
UNITS = {"mm": "mm", "thou": "thou", "thousandths": "thou"}
_VALVE = re.compile(r"(?:v|valve)? ?([0-9]{1,4})")
LEAST_VALVE_COLUMNS = 2


@dataclass(frozen=True, slots=True)
class FileColumn:
    """valve is set where the column is one valve's reading; unit where its title gives it."""

    title: str
    means: str | None
    valve: int | None = None
    unit: str | None = None
    note: str = ""

    @property
    def meaning(self) -> str | None:
        """What it gives, in words; None where it is not used."""
        if self.valve is not None:
            return f"the reading of valve {self.valve}"
        return WORDS[self.means] if self.means else None


def understand(titles: list[str], engine: Engine) -> list[FileColumn]:
    """Raises InvalidError where students, valves or readings cannot be told."""
    columns: list[FileColumn] = []
    valves = {number for title in titles if (number := _valve_of(title, engine)) is not None}
    wide = len(valves) >= LEAST_VALVE_COLUMNS
    seen: set[str] = set()
    for title in titles:
        column = _column(title, engine, wide=wide)
        key = column.means if column.valve is None else f"valve {column.valve}"
        if key is not None and key in seen:
            note = "not used: an earlier column gives the same"
            column = FileColumn(column.title, None, note=note)
        elif key is not None:
            seen.add(key)
        columns.append(column)
    faults = []
    if not {"student", "sign_in_name"} & seen:
        faults.append("has no column with the student: title one “student” or “sign-in name”")
    if not wide:
        for need in ("valve", "reading"):
            if need not in seen:
                faults.append(f"has no column with {WORDS[need]}: title one “{need}”")
    if faults:
        found = ", ".join(f"“{title[:30]}”" for title in titles[:12] if title.strip()) or "none"
        raise InvalidError(
            f"This file {'; it '.join(faults)}. Its columns are {found}.",
            [FieldFault("heading", fault) for fault in faults],
        )
    return columns


def _column(title: str, engine: Engine, *, wide: bool) -> FileColumn:
    shown = " ".join(title.split())[:60]
    plain, unit = _plain(title)
    valve = _valve_of(title, engine)
    if wide and valve is not None:
        return FileColumn(shown, "reading", valve, unit)
    means = _MEANS.get(plain)
    if means is None or (wide and means in {"valve", "reading"}):
        note = "" if not shown else "not used"
        return FileColumn(shown, None, note=note)
    if means not in LENGTHS:
        unit = None
    return FileColumn(shown, means, unit=unit)


def _plain(title: str) -> tuple[str, str | None]:
    """A title in plain words, and the unit that stands in it: `Reading (mm)`, `gap_thou`."""
    words = re.findall(r"[^\W_]+", title.casefold())
    unit = next((UNITS[word] for word in words if word in UNITS), None)
    if unit is not None and len(words) > 1:
        words = [word for word in words if word not in UNITS]
    return " ".join(words), unit


def _valve_of(title: str, engine: Engine) -> int | None:
    match = _VALVE.fullmatch(_plain(title)[0])
    number = int(match[1]) if match else None
    return number if number in engine.valve else None
