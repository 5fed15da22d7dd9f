"""What explains the figures of a sheet, and its class at a glance, as they go out over HTTP."""

from collections import Counter
from typing import Any

from ninja import Schema

from edrix.engines.services import core_engine
from edrix.marking.class_view import SheetView, view_of
from edrix.marking.findings import SheetFindings
from edrix.sheets.services import HandIn, Sheet
from valvetrain.grading.class_view import Group
from valvetrain.grading.findings import Finding


class FindingOut(Schema):
    """label is what people call its kind, about what that means. with_student is whose sheet is
    equal, for copied ones."""

    kind: str
    label: str
    about: str
    valves: list[int]
    log_odds: float
    says: str
    rival: str | None = None
    """Another explanation of the same figures, nearly as likely."""
    arithmetic: list[str]
    with_student: str | None = None
    with_hand_in: int | None = None

    @staticmethod
    def of(finding: Finding, twin: HandIn | None = None) -> dict[str, Any]:
        words = finding.kind.words
        return {
            "kind": finding.kind.value,
            "label": words.label,
            "about": words.about,
            "valves": list(finding.valves),
            "log_odds": finding.log_odds,
            "says": finding.says,
            "rival": finding.rival and finding.rival.words.label,
            "arithmetic": list(finding.arithmetic),
            "with_student": twin and twin.student.display_name,
            "with_hand_in": twin and twin.id,
        }

    @staticmethod
    def all_of(hand_in: HandIn, told: SheetFindings) -> list[dict[str, Any]]:
        """A hand-in's own findings, then whose sheet it equals."""
        rows = [FindingOut.of(finding) for finding in told.of[hand_in.id]]
        for one, other, finding in told.copied:
            if hand_in.id in (one.id, other.id):
                rows.append(FindingOut.of(finding, other if hand_in.id == one.id else one))
        return rows


class ExplainedOut(Schema):
    hand_in_id: int
    student: str
    findings: list[FindingOut]


class KindOut(Schema):
    kind: str
    label: str
    students: int


class FindingsOut(Schema):
    """Likeliest first for each student; kinds tells the class at a glance. doubts: what most of a
    class contradict in the key."""

    sheet_id: int
    title: str
    rows: list[ExplainedOut]
    kinds: list[KindOut]
    doubts: list[str]

    @staticmethod
    def of(sheet: Sheet, made: list[HandIn], told: SheetFindings) -> dict[str, Any]:
        rows: list[dict[str, Any]] = [
            {
                "hand_in_id": hand_in.id,
                "student": hand_in.student.display_name,
                "findings": FindingOut.all_of(hand_in, told),
            }
            for hand_in in made
        ]
        kinds = Counter(
            kind
            for row in rows
            for kind in {(one["kind"], one["label"]) for one in row["findings"]}
        )
        return {
            "sheet_id": sheet.id,
            "title": sheet.title,
            "rows": rows,
            "kinds": [
                {"kind": kind, "label": label, "students": count}
                for (kind, label), count in kinds.most_common()
            ],
            "doubts": view_of(sheet, made, told).view.says,
        }


class ViewValve(Schema):
    number: int
    cylinder: int
    role: str
    key_mm: float
    low_mm: float
    high_mm: float
    written_in: str
    """The unit of its spec."""
    doubted: bool
    """Whether most of the class contradict its key."""


class ViewRow(Schema):
    """cells: of each valve of the head what it came to, one of blank, larger, smaller, place,
    verdict, work, right; errors_mm: how far off each reading is, null where there is none."""

    hand_in_id: int
    student: str
    cells: list[str]
    gaps_mm: list[float | None]
    errors_mm: list[float | None]


class ViewGroupMember(Schema):
    hand_in_id: int
    valves: list[int]


class ViewGroup(Schema):
    """Students whose figures one kind of mistake explains."""

    kind: str
    label: str
    about: str
    valves: list[int]
    of: list[ViewGroupMember]


class ClassViewOut(Schema):
    """Students by valves, in the order in which they handed in."""

    sheet_id: int
    title: str
    class_id: int
    waits: int
    """How many students of the class have not handed in."""
    valves: list[ViewValve]
    rows: list[ViewRow]
    groups: list[ViewGroup]
    doubts: list[str]

    @staticmethod
    def of(sheet: Sheet, seen: SheetView, waits: int) -> dict[str, Any]:
        engine = core_engine(sheet.stand.engine_version)
        doubted = {doubt.valve for doubt in seen.view.doubts}
        return {
            "sheet_id": sheet.id,
            "title": sheet.title,
            "class_id": sheet.teaching_class_id,
            "waits": waits,
            "valves": [
                {
                    "number": valve.number,
                    "cylinder": valve.cylinder,
                    "role": valve.role.value,
                    "key_mm": seen.key[valve.number].gap_mm,
                    "low_mm": float(engine.clearance[valve.role].low_mm),
                    "high_mm": float(engine.clearance[valve.role].high_mm),
                    "written_in": engine.clearance[valve.role].unit.value,
                    "doubted": valve.number in doubted,
                }
                for valve in engine.valves
            ],
            "rows": [ClassViewOut._row(seen, at) for at in range(len(seen.hand_ins))],
            "groups": [ClassViewOut._group(seen, group) for group in seen.view.groups],
            "doubts": seen.view.says,
        }

    @staticmethod
    def _row(seen: SheetView, at: int) -> dict[str, Any]:
        hand_in, valves = seen.hand_ins[at], seen.sheets[at].valves
        return {
            "hand_in_id": hand_in.id,
            "student": hand_in.student.display_name,
            "cells": [state.value for state in seen.view.cells[at]],
            "gaps_mm": [valves[v].gap_mm if v in valves else None for v in seen.view.valves],
            "errors_mm": [valves[v].error_mm if v in valves else None for v in seen.view.valves],
        }

    @staticmethod
    def _group(seen: SheetView, group: Group) -> dict[str, Any]:
        members = []
        for at in group.students:
            own = {
                v for one in seen.sheets[at].findings if one.kind is group.kind for v in one.valves
            }
            members.append({"hand_in_id": seen.hand_ins[at].id, "valves": sorted(own)})
        return {
            "kind": group.kind.value,
            "label": group.kind.words.label,
            "about": group.kind.words.about,
            "valves": list(group.valves),
            "of": members,
        }
