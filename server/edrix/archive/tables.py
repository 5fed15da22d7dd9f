"""What belongs to a class, table by table, each after those that it refers to.

Rows are moved as they are, through Django's own knowledge of fields; no app's rules are used, so
no app's models are imported. A test holds this list against every model there is.
"""

from typing import Any, NamedTuple

from django.apps import apps
from django.db.models import DateTimeField, Field, ForeignKey, Model


class ArchivePart(NamedTuple):
    """label as Django names the model; of_class is the way from a row to its class. also is a
    second way: a stand is used by other classes, too, and what their people did is not this one's.
    """

    label: str
    of_class: str
    also: str = ""

    @property
    def model(self) -> type[Model]:
        app, name = self.label.split(".")
        return apps.all_models[app][name.lower()]


PARTS = (
    ArchivePart("classes.TeachingClass", "id"),
    ArchivePart("classes.Membership", "teaching_class"),
    ArchivePart("stands.Stand", "uses__teaching_class"),
    ArchivePart("stands.ClassStand", "teaching_class"),
    ArchivePart("stands.Key", "stand__uses__teaching_class"),
    ArchivePart("stands.KeyGap", "key__stand__uses__teaching_class"),
    ArchivePart(
        "safety.Opening", "stand__uses__teaching_class", "person__memberships__teaching_class"
    ),
    ArchivePart("practice.PracticeEngine", "teaching_class"),
    ArchivePart("practice.RunRubric", "practice__teaching_class"),
    ArchivePart("practice.PracticeRun", "practice__teaching_class"),
    ArchivePart("practice.PracticeEvent", "run__practice__teaching_class"),
    ArchivePart("practice.BlindTry", "teaching_class"),
    ArchivePart("sheets.Sheet", "teaching_class"),
    ArchivePart("marking.Rubric", "sheet__teaching_class"),
    ArchivePart("sheets.Draft", "sheet__teaching_class"),
    ArchivePart("sheets.HandIn", "sheet__teaching_class"),
    ArchivePart("sheets.Reading", "hand_in__sheet__teaching_class"),
    ArchivePart(
        "logbook.LogEntry", "stand__uses__teaching_class", "written_by__memberships__teaching_class"
    ),
    ArchivePart(
        "logbook.LogGap",
        "entry__stand__uses__teaching_class",
        "entry__written_by__memberships__teaching_class",
    ),
    ArchivePart("marking.Marking", "hand_in__sheet__teaching_class"),
    ArchivePart("marking.ReMarking", "sheet__teaching_class"),
    ArchivePart("marking.Decision", "hand_in__sheet__teaching_class"),
    ArchivePart("marking.Answer", "hand_in__sheet__teaching_class"),
    ArchivePart("progress.SignOff", "teaching_class"),
    ArchivePart("rota.Rota", "teaching_class"),
    ArchivePart("rota.RotaBooking", "rota__teaching_class"),
    ArchivePart("rota.RotaSeat", "booking__rota__teaching_class"),
    ArchivePart("drills.Drill", "teaching_class"),
    ArchivePart("drills.DrillAnswer", "drill__teaching_class"),
    ArchivePart("asking.ClassQuestion", "teaching_class"),
    ArchivePart("asking.ClassAnswer", "question__teaching_class"),
)
FORMER_LABELS = {
    "marking.Rubric": "sheets.Rubric",
    "marking.Marking": "sheets.Marking",
    "marking.Decision": "sheets.Decision",
    "marking.Answer": "sheets.Answer",
}
"""What archives of an older Edrix call tables that have moved since."""
ADDED_SINCE = {
    "marking.ReMarking",
    "practice.RunRubric",
    "practice.BlindTry",
    "stands.ClassStand",
    "logbook.LogEntry",
    "logbook.LogGap",
    "rota.Rota",
    "rota.RotaBooking",
    "rota.RotaSeat",
    "asking.ClassQuestion",
    "asking.ClassAnswer",
}
"""What archives of an older Edrix have no table for."""
ENGINE, VERSION, PERSON = "engines.Engine", "engines.EngineVersion", "accounts.User"
PERSON_FIELDS = ("id", "sign_in_name", "display_name", "unit", "created_at")
"""Of people only what others see of them: no passcode, and no right to anything."""


def fields_of(model: type[Model]) -> list["Field[Any, Any]"]:
    return list(model._meta.concrete_fields)


def refers_to(field: "Field[Any, Any]") -> str | None:
    """The label of what a field refers to."""
    if isinstance(field, ForeignKey):
        return str(field.related_model._meta.label)
    return None


def own_times(model: type[Model]) -> list[str]:
    """Fields that Django would set to now, and that keep what the archive says."""
    return [
        field.name
        for field in fields_of(model)
        if isinstance(field, DateTimeField) and (field.auto_now_add or field.auto_now)
    ]
