"""What comes in and goes out of reading sheets over HTTP."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from edrix.edge import In
from edrix.sheets.lines import TypedLine
from valvetrain.grading import FURTHER

ShortText = Annotated[str, Field(max_length=40)]


class LineIn(In):
    valve: int
    reading: str = Field("", max_length=40)
    unit: str = Field("mm", max_length=10)
    crank_deg: float | None = Field(None, allow_inf_nan=False)
    verdict: str | None = Field(None, max_length=20)
    further: dict[ShortText, ShortText] = Field(default_factory=dict, max_length=len(FURTHER))
    """What was typed into the further columns: second, set, after, shim_fitted, shim_chosen."""

    def typed(self) -> TypedLine:
        further = {name: text for name, text in self.further.items() if text.strip()}
        return TypedLine(
            self.valve, self.reading, self.unit, self.crank_deg, self.verdict or None, further
        )


class DraftIn(In):
    lines: list[LineIn] = Field(max_length=200)


class HandInIn(In):
    lines: list[LineIn] = Field(max_length=200)
    request_key: str = Field(min_length=8, max_length=64)
    confirmed: bool = False


class MarkAnswerIn(In):
    valve: int
    part: Literal["reading", "verdict", "position", "adjusted", "shim"]
    text: str = Field(max_length=400)


class NewSheetIn(In):
    stand_id: int
    title: str = Field(max_length=120)
    method: str = Field(max_length=40)
    tolerance: str = Field(max_length=20)
    tolerance_unit: str = Field("mm", max_length=10)
    gauge: str = Field("", max_length=20)
    asks: list[ShortText] = Field(default_factory=list, max_length=len(FURTHER))


class SheetRow(Schema):
    id: int
    title: str
    stand: str
    engine: str
    engine_id: int
    engine_version: int
    method: str
    tolerance_mm: Decimal
    gauge_mm: Decimal
    asks: list[str]
    key_number: int
    set_at: datetime
    handed_in: int


class WorkRow(Schema):
    """One sheet in a student's list; points are null until it is handed in."""

    id: int
    title: str
    class_name: str
    stand: str
    engine: str
    set_at: datetime
    handed_in_at: datetime | None
    points: int | None
    out_of: int | None


class StopChoice(Schema):
    stop: int
    crank_deg: float


class SheetValve(Schema):
    number: int
    cylinder: int
    role: str
    low_mm: float
    high_mm: float
    low_thou: float
    high_thou: float


class LineOut(Schema):
    valve: int
    reading: str
    unit: str
    crank_deg: float | None
    verdict: str | None
    further: dict[str, str]


class DecidedOut(Schema):
    by: str
    at: datetime
    reason: str


class AnsweredOut(Schema):
    text: str
    at: datetime


class MarkSays(Schema):
    """decided is set where an instructor counted it otherwise than the rules did, answer where
    the student said something to it."""

    right: bool
    says: str
    answer: AnsweredOut | None
    decided: DecidedOut | None


class ValveMarksOut(Schema):
    valve: int
    points: int
    reading: MarkSays
    verdict: MarkSays
    position: MarkSays
    adjusted: MarkSays | None = None
    shim: MarkSays | None = None


class ItemGradeOut(Schema):
    """percent is of the whole sheet; says is the arithmetic of the share."""

    part: str
    weight: float
    share: float
    percent: float
    must_be_whole: bool
    says: str


class GradeOut(Schema):
    """fails holds the parts that had to be whole and are not."""

    percent: float
    passed: bool
    pass_percent: float
    items: list[ItemGradeOut]
    fails: list[str]


class ResultOut(Schema):
    """grade is null for a student while it waits to be given back."""

    handed_in_at: datetime
    points: int
    out_of: int
    grade: GradeOut | None
    lines: list[LineOut]
    valves: list[ValveMarksOut]


class OwnResultOut(ResultOut):
    hints: list[str]
    """Where to look again; no figure of the key is in them."""


class FindingOut(Schema):
    """with_student is whose sheet is equal, for copied ones."""

    kind: str
    valves: list[int]
    log_odds: float
    says: str
    arithmetic: list[str]
    with_student: str | None = None
    with_hand_in: int | None = None


class ExplainedOut(Schema):
    hand_in_id: int
    student: str
    findings: list[FindingOut]


class KindOut(Schema):
    kind: str
    students: int


class FindingsOut(Schema):
    """Likeliest first for each student; kinds tells the class at a glance."""

    sheet_id: int
    title: str
    rows: list[ExplainedOut]
    kinds: list[KindOut]


class SheetOut(Schema):
    """A student's own sheet: what to do, what was written, and once handed in the marks."""

    id: int
    title: str
    class_name: str
    stand: str
    stand_id: int
    engine: str
    engine_id: int
    engine_version: int
    measured: str
    method: str
    tolerance_mm: Decimal
    gauge_mm: Decimal
    asks: list[str]
    stops: list[StopChoice]
    valves: list[SheetValve]
    draft: list[LineOut]
    result: OwnResultOut | None


class BoardRowOut(Schema):
    student_id: int
    display_name: str
    lines_begun: int
    hand_in_id: int | None
    handed_in_at: datetime | None
    points: int | None
    out_of: int | None
    percent: float | None
    passed: bool | None
    open_answers: int
    """Answers of the student that no decision has followed yet."""


class BoardOut(Schema):
    """waits says that students' grades are not shown to them yet."""

    id: int
    rubric_number: int
    pass_percent: float
    waits: bool
    title: str
    class_id: int
    class_name: str
    stand: str
    engine: str
    tolerance_mm: Decimal
    valves: int
    valve_numbers: list[int]
    stops: list[StopChoice]
    rows: list[BoardRowOut]


class RecordOut(Schema):
    start: str
    opened_at: datetime
    closed_at: datetime | None


class HandInOut(Schema):
    """One student's sheet as its instructor sees it, with all figures.

    entered_by is the instructor who took it in from a file or from paper.
    """

    id: int
    sheet_id: int
    sheet_title: str
    student: str
    entered_by: str | None
    valves_of_engine: list[SheetValve]
    record: RecordOut | None
    """The isolation and closing lists that this student ticked for the stand."""
    result: ResultOut
    findings: list[FindingOut]
