"""Reading sheets as files: `edrix-sheet/1`, one student's sheet with engine and key.

Everything that is wrong is found at once, each with its JSONPath. docs/sheet-file.md describes
the fields.
"""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from valvetrain.document import DocumentError, Node, read_inside
from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine, write_engine
from valvetrain.grading.columns import ASKS, CLOSING, COLUMNS, FURTHER, READING, STOP, VERDICT
from valvetrain.grading.constants import LEAST_KEY_U_MM, MOST_LENGTH, MOST_LINES, USUAL_TOLERANCE_MM
from valvetrain.grading.findings import Case, KeyGap, Reference
from valvetrain.grading.mark import Terms
from valvetrain.grading.sheet import Entry, EntryError, read_entry

SHEET_FORMAT = "edrix-sheet/1"
_BASIC_WORDS = {"reading": READING, "stop": STOP, "verdict": VERDICT}
_ASK_WORDS = {"set": "nut", "after": "nut"} | {name: name for name in ASKS if name != "nut"}
"""What a file calls what it asks for; `set` and `after` are the two columns of one ask."""


@dataclass(frozen=True, slots=True)
class SheetFile:
    """entries are what is marked, case is what findings explain."""

    student: str
    title: str
    engine: Engine
    tolerance_mm: Decimal
    key_mm: dict[int, Decimal]
    entries: tuple[Entry, ...]
    case: Case
    closing_mm: dict[int, Decimal]
    """The key of the closing gaps that it gives."""
    asks: frozenset[str] = frozenset()
    not_asked: frozenset[str] = frozenset()

    @property
    def terms(self) -> Terms:
        """What it is marked by, besides its key."""
        return Terms(
            self.tolerance_mm,
            asks=self.asks,
            not_asked=self.not_asked,
            closing_mm=self.closing_mm,
        )


def read_sheet(document: Any) -> SheetFile:
    """Raises DocumentError with every fault that was found."""
    root = Node(document)
    if not root.is_object("an object, as edrix-sheet/1 describes it"):
        raise DocumentError(root.faults)
    root["format"].choice(SHEET_FORMAT)
    engine = _engine(root["engine"])
    student = "" if root["student"].missing else root["student"].text("who wrote it", empty=True)
    title = "" if root["title"].missing else root["title"].text("its title", empty=True)
    node = root["tolerance_mm"]
    tolerance = (
        USUAL_TOLERANCE_MM if node.missing else node.decimal("millimetres", high=1, above=True)
    )
    key, u_mm, closing = _key(root["key"], engine)
    lines = _lines(root["lines"], engine)
    asks, not_asked = _asks(root["asks"])
    if root.faults:
        raise DocumentError(root.faults)
    gaps = {valve: KeyGap(float(gap), u_mm[valve]) for valve, gap in key.items()}
    reference = Reference(engine, gaps, closing_mm=closing)
    case = Case.of(reference, lines)
    entries = tuple(lines)
    return SheetFile(
        student, title, engine, tolerance, key, entries, case, closing, asks, not_asked
    )


def write_sheet(
    engine: Engine,
    *,
    student: str,
    title: str,
    tolerance_mm: Decimal,
    key_mm: Mapping[int, Decimal],
    u_mm: Mapping[int, float],
    entries: Iterable[Entry],
    asks: Collection[str] = (),
    not_asked: Collection[str] = (),
    closing_mm: Mapping[int, Decimal] | None = None,
) -> dict[str, Any]:
    """One student's sheet with its engine and key, as JSON values; `read_sheet` reads it back."""
    return {
        "format": SHEET_FORMAT,
        "student": student,
        "title": title,
        "engine": write_engine(engine),
        "tolerance_mm": float(tolerance_mm),
        "asks": [
            *(word for word, column in _BASIC_WORDS.items() if column.name not in not_asked),
            *(word for word, ask in _ASK_WORDS.items() if ask in asks),
        ],
        "key": [
            {"valve": valve, "gap": f"{gap:f}", "unit": "mm", "u_mm": u_mm[valve]}
            | ({"closing": f"{closing_mm[valve]:f}"} if closing_mm and valve in closing_mm else {})
            for valve, gap in key_mm.items()
        ],
        "lines": [write_line(entry) for entry in entries],
    }


def write_line(entry: Entry) -> dict[str, Any]:
    """A line as the file holds it: lengths as they were typed."""
    return {
        "valve": entry.valve,
        "unit": entry.unit.value,
        "reading": entry.reading_text,
        "crank_deg": entry.crank_deg,
        "verdict": entry.verdict.value if entry.verdict else None,
        **{
            column.json_name: written.text
            if column.holds != "shim" or written.mm is None
            else float(written.mm)
            for column in FURTHER.values()
            if (written := entry.further.get(column.name)) is not None
        },
    }


def _asks(node: Node) -> tuple[frozenset[str], frozenset[str]]:
    """What is asked besides reading, stop and verdict, and which columns of those three are not.
    Without the field it is those three."""
    if node.missing:
        return frozenset(), frozenset()
    words = (*_BASIC_WORDS, *_ASK_WORDS)
    given = [item.choice(*words) for item in node.items("what the sheet asks for", most=20)]
    return (
        frozenset(ask for word, ask in _ASK_WORDS.items() if word in given),
        frozenset(column.name for word, column in _BASIC_WORDS.items() if word not in given),
    )


def _engine(node: Node) -> Engine:
    """The engine inside. Without it nothing else can be read, so its faults are raised at once."""
    engine = read_inside(node, read_engine, "an edrix-engine/1 object")
    if engine is None:
        raise DocumentError(node.faults)
    return engine


def _key(
    node: Node, engine: Engine
) -> tuple[dict[int, Decimal], dict[int, float], dict[int, Decimal]]:
    """Gaps, their standard uncertainties, and the closing gaps that are given."""
    gaps: dict[int, Decimal] = {}
    closing: dict[int, Decimal] = {}
    u_mm: dict[int, float] = {}
    for item in node.items("the key, one gap for every valve", most=MOST_LINES):
        entry = _entry(item, engine, "gap")
        if entry is None:
            continue
        if entry.reading_mm is None:
            item["gap"].fault("is empty; a key has a gap for every valve")
        elif entry.valve in gaps:
            item["valve"].fault(f"valve {entry.valve} is given twice")
        else:
            gaps[entry.valve] = entry.reading_mm
            closing_mm = entry.length_mm(CLOSING)
            if closing_mm is not None:
                closing[entry.valve] = closing_mm
            u = item["u_mm"]
            u_mm[entry.valve] = (
                LEAST_KEY_U_MM if u.missing else float(u.decimal("millimetres", high=1))
            )
    missing = [number for number in engine.valve if number not in gaps]
    if missing and not node.faults:
        node.fault(f"has no gap for valve {missing[0]}; give one for every valve")
    return gaps, u_mm, closing


def _lines(node: Node, engine: Engine) -> list[Entry]:
    lines: dict[int, Entry] = {}
    for item in node.items("what was written, one object for a valve", most=MOST_LINES):
        entry = _entry(item, engine, "reading")
        if entry is None:
            continue
        if entry.valve in lines:
            item["valve"].fault(f"valve {entry.valve} is given twice")
        lines[entry.valve] = entry
    return list(lines.values())


def _entry(item: Node, engine: Engine, length: str) -> Entry | None:
    """One line as the sheet's own rules read it; faults are noted where they are."""
    before = len(item.faults)
    if not item.is_object("an object for one valve"):
        return None
    valve = item["valve"].whole("the valve's number", low=1, high=9999)
    text = _text(item[length])
    unit = "mm" if item["unit"].missing else item["unit"].choice("mm", "thou")
    crank = item["crank_deg"]
    crank_deg = (
        None
        if crank.missing or crank.value is None
        else crank.number("crank degrees", low=-720, high=1440)
    )
    verdict = item["verdict"]
    said = (
        None
        if verdict.missing or verdict.value in (None, "")
        else verdict.choice("tight", "within", "loose", "cannot-tell")
    )
    further = {name: _text(item[column.json_name]) for name, column in FURTHER.items()}
    if len(item.faults) > before:
        return None
    try:
        return read_entry(
            engine,
            valve=valve,
            reading=text,
            unit=unit,
            crank_deg=crank_deg,
            verdict=said,
            further=further,
        )
    except EntryError as fault:
        column = COLUMNS.get(fault.field)
        name = length if fault.field == "reading" else column.json_name if column else fault.field
        item[name].fault(fault.problem)
        return None


def _text(node: Node) -> str:
    """A length as typed, or as a JSON number; one with a unit of its own as `{"text", "unit"}`."""
    if isinstance(node.value, dict):
        node.is_object("text and unit")
        unit = node["unit"].choice("mm", "thou")
        return f"{_text(node['text'])} {unit}"
    if node.missing or node.value is None:
        return ""
    if isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return f"{node.value!r}"
    return node.text("a length as it was written", most=MOST_LENGTH, empty=True)
