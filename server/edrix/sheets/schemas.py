"""What comes in and goes out of reading sheets over HTTP."""

from datetime import datetime
from decimal import Decimal
from typing import Any

from ninja import Schema
from pydantic import Field, model_validator

from edrix.engines.services import core_engine
from edrix.engines.table_schemas import LimitsOut, TrainOut
from edrix.engines.tables import closing_of, limits_of, train_of
from edrix.shapes import Changes, In
from edrix.sheets import services
from edrix.sheets.lines import ShortText, TypedLine
from edrix.sheets.models import Sheet
from valvetrain.grading import ASKS, Column, asked_columns, columns_at

MOST_LINES = 200


class DraftChange(In):
    """A valve's line as it is now on this device, and as the device last had it from here."""

    line: TypedLine
    based_on: TypedLine

    @model_validator(mode="after")
    def _of_one_valve(self) -> "DraftChange":
        if self.line.valve != self.based_on.valve:
            raise ValueError("line and based_on are of two valves; send each with its own")
        return self


class DraftIn(In):
    """Without changes the answer tells what stands."""

    changes: list[DraftChange] = Field(max_length=MOST_LINES)


class ClashOut(Schema):
    """Another device wrote theirs meanwhile, which is kept; mine is what this one sent."""

    valve: int
    field: str
    mine: str
    theirs: str


class DraftOut(Schema):
    """Every line as it stands now."""

    lines: list[TypedLine]
    clashes: list[ClashOut]


class SheetChanges(Changes):
    """A time without a zone is the school's; null is at once, or never."""

    opens_at: datetime | None = None
    closes_at: datetime | None = None

    def times(self) -> dict[str, datetime | None]:
        """Those that were given at all."""
        given = {"opens_at": self.opens_at, "closes_at": self.closes_at}
        return {name: at for name, at in given.items() if name in self.model_fields_set}


class NewSheetIn(In):
    stand_id: int
    title: str = Field(max_length=120)
    method: str = Field(max_length=40)
    tolerance: str = Field(max_length=20)
    tolerance_unit: str = Field("mm", max_length=10)
    gauge: str = Field("", max_length=20)
    asks: list[ShortText] = Field(default_factory=list, max_length=len(ASKS))


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
    opens_at: datetime | None
    closes_at: datetime | None
    not_open_yet: bool
    closed: bool
    away: bool

    @staticmethod
    def of(sheet: Sheet) -> dict[str, Any]:
        version = sheet.stand.engine_version
        return {
            "id": sheet.id,
            "title": sheet.title,
            "stand": sheet.stand.name,
            "engine": version.engine.name,
            "engine_id": version.engine_id,
            "engine_version": version.number,
            "method": sheet.method,
            "tolerance_mm": sheet.tolerance_mm,
            "gauge_mm": sheet.gauge_mm,
            "asks": sheet.asks,
            "key_number": sheet.key.number,
            "set_at": sheet.set_at,
            "handed_in": getattr(sheet, "handed_in", 0),
            "opens_at": sheet.opens_at,
            "closes_at": sheet.closes_at,
            "not_open_yet": services.not_open_yet(sheet),
            "closed": services.closed(sheet),
            "away": sheet.put_away_at is not None,
        }


class ColumnOption(Schema):
    value: str
    title: str


class ColumnOut(Schema):
    """A further column of a sheet: title stands over its field, spoken is said of it. holds is
    gap (in the line's unit), shim (in mm) or choice (one of the options)."""

    name: str
    title: str
    spoken: str
    holds: str
    options: list[ColumnOption]
    nothing: str
    """What it means that none of the options is chosen."""

    @staticmethod
    def all_of(sheet: Sheet) -> tuple[Column, ...]:
        """Those that a sheet asks for, in order."""
        return asked_columns(sheet.asks)


class AskOut(Schema):
    """Something that a sheet may ask for besides reading, stop and verdict."""

    name: str
    title: str
    needs: str
    """What it needs: nothing, a screw, a shim, a closing rocker, a brake rocker of the engine; or
    that nut or shims are asked for too."""


class StopChoice(Schema):
    stop: int
    crank_deg: float

    @staticmethod
    def all_of(sheet: Sheet) -> list[dict[str, Any]]:
        return [{"stop": n, "crank_deg": deg} for n, deg in services.stops_of(sheet)]


class SheetValve(LimitsOut):
    number: int
    cylinder: int
    role: str
    closing: LimitsOut | None = None
    """Of a valve that is pulled shut."""
    label: str
    train: TrainOut
    columns: list[str]
    """The further columns that this valve has, by their names."""

    @staticmethod
    def all_of(sheet: Sheet) -> list[dict[str, Any]]:
        """The valves of the sheet's engine with their spec, in physical order."""
        engine = core_engine(sheet.stand.engine_version)
        rows = []
        for valve in engine.valves:
            rows.append(
                {
                    "number": valve.number,
                    "cylinder": valve.cylinder,
                    "role": valve.role.value,
                    **limits_of(engine.clearance[valve.role]),
                    "closing": closing_of(engine, valve.role),
                    "label": valve.label,
                    "train": train_of(engine, valve.role),
                    "columns": [one.name for one in columns_at(engine, valve.role, sheet.asks)],
                }
            )
        return rows
