"""A student's way through a class: hands, slips and skills over sheets and runs, signed off.

Bias and repeatability are worked out from the key, so instructors see them and students do not; nor
is a student told anything that follows from them, or from marks that wait.
"""

from collections.abc import Collection
from dataclasses import dataclass

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.drills import services as drills
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotFoundError
from edrix.marking import rubrics
from edrix.marking import services as marking
from edrix.marking.findings import explanations_of
from edrix.marking.standing import standing_of
from edrix.marking.telling import told, waiting_parts
from edrix.practice import blind, weighing
from edrix.practice import services as practice
from edrix.progress.models import SignOff
from edrix.sheets import services as sheets
from edrix.sheets.services import HandIn
from valvetrain.grading import PARTS
from valvetrain.grading.findings import NOT_THE_HAND, Finding
from valvetrain.grading.progress import (
    DrillWork,
    Progress,
    RunWork,
    SheetWork,
    Skill,
    Train,
    progress,
)
from valvetrain.practice import what_it_shows
from valvetrain.practice.blind import Threshold


@dataclass(frozen=True, slots=True)
class Way:
    """Where a skill is trained in this class, as an address of the application; None where the
    class has nothing for it yet."""

    title: str
    path: str


@dataclass(frozen=True, slots=True)
class StudentProgress:
    """signed: the newest record of each skill that has one."""

    class_id: int
    class_name: str
    student: User
    found: Progress
    signed: dict[str, SignOff]
    feel: Threshold | None
    """What their hand tells apart, felt blind."""
    ways: dict[str, Way | None]


def of_student(user: User, class_id: int, student_id: int) -> StudentProgress:
    """For instructors of the class."""
    classes.require_instructor(user, class_id)
    return _progress(class_id, _student(class_id, student_id), for_student=False)


def own(user: User, class_id: int) -> StudentProgress:
    """For a student of the class."""
    classes.require_student(user, class_id)
    return _progress(class_id, user, for_student=True)


def sign_off(
    user: User, class_id: int, student_id: int, *, skill: str, signed: bool, note: str
) -> StudentProgress:
    """An instructor signs a skill off, or takes it back; both stay on record."""
    teaching_class = classes.require_instructor(user, class_id)
    student = _student(class_id, student_id)
    if skill not in set(Skill):
        known = ", ".join(Skill)
        raise InvalidError(
            f"“{skill}” is no skill; there are {known}.",
            [FieldFault("skill", f"give one of {known}")],
        )
    SignOff.objects.create(
        teaching_class=teaching_class,
        student=student,
        skill=skill,
        signed=signed,
        note=" ".join(note.split()),
        made_by=user,
    )
    return of_student(user, class_id, student_id)


def remove_student(user: User, class_id: int, student_id: int) -> None:
    """Takes out of a class who was added by mistake. Raises ConflictError where they have done
    anything there: then they leave, and their record stays."""
    classes.require_instructor(user, class_id)
    done = [
        said
        for said, there in (
            ("sheets", sheets.has_written(class_id, student_id)),
            ("practice runs", practice.has_run(class_id, student_id)),
            ("gaps felt blind", blind.has_felt(class_id, student_id)),
            ("drills", drills.has_drilled(class_id, student_id)),
            (
                "skills signed off",
                SignOff.objects.filter(teaching_class_id=class_id, student_id=student_id).exists(),
            ),
        )
        if there
    ]
    if done:
        raise ConflictError(
            f"They can't be taken out: this class has {' and '.join(done)} of theirs. Let them "
            "leave instead; their record stays."
        )
    classes.remove_student(user, class_id, student_id)


def _student(class_id: int, student_id: int) -> User:
    found = classes.students_of(class_id, and_left=[student_id])
    student = found.filter(id=student_id).first()
    if student is None:
        raise NotFoundError("There is no such student in this class.")
    return student


def _progress(class_id: int, student: User, *, for_student: bool) -> StudentProgress:
    made = list(marking.hand_ins_of(class_id, student.id))
    found = progress(
        _sheets(made, for_student=for_student),
        _runs(class_id, student, for_student=for_student),
        _drills(class_id, student),
    )
    records = SignOff.objects.filter(teaching_class_id=class_id, student=student)
    signed = {one.skill: one for one in records.select_related("made_by").order_by("id")}
    ways = {
        skill.skill.value: _way(class_id, skill.skill, skill.train, for_student)
        for skill in found.skills
    }
    name = classes.class_name(class_id)
    feel = blind.thresholds(class_id, [student.id]).get(student.id)
    return StudentProgress(class_id, name, student, found, signed, feel, ways)


def _sheets(made: list[HandIn], *, for_student: bool) -> list[SheetWork]:
    """Stand by stand, so that what is asked of the database grows with stands, not with sheets."""
    by_stand: dict[int, list[HandIn]] = {}
    for hand_in in made:
        by_stand.setdefault(hand_in.sheet.stand_id, []).append(hand_in)
    hidden = waiting_parts(made) if for_student else {}
    works = []
    for stand_id, of_stand in by_stand.items():
        explained = explanations_of(of_stand[0].sheet, of_stand)
        records = rubrics.records_of(stand_id, of_stand)
        for hand_in, findings, record in zip(of_stand, explained, records, strict=True):
            waits = hidden.get(hand_in.id)
            work = _work(hand_in, findings if not waits else [], waits or ())
            closed = record is not None and record.closed_at is not None
            errors_mm = [] if for_student else work.error_mm
            works.append(work._replace(closed=closed, error_mm=errors_mm))
    return works


def _work(hand_in: HandIn, findings: list[Finding], waits: Collection[str]) -> SheetWork:
    valves = told(standing_of(hand_in), waits).valves
    explained = {n for one in findings if one.kind in NOT_THE_HAND for n in one.valves}
    marks = {part: [v.parts[part].right for v in valves if part in v.parts] for part in PARTS}
    return SheetWork(
        hand_in.id,
        hand_in.sheet.title,
        hand_in.handed_in_at,
        {part: sum(right) for part, right in marks.items()},
        {part: len(right) for part, right in marks.items()},
        [v.error_mm for v in valves if v.error_mm is not None and v.valve not in explained],
        frozenset(finding.kind for finding in findings),
        closed=False,
    )


BY_ONESELF = ("alone", "test")
"""Levels of runs that show a skill: at the others Edrix says what to do."""
NOT_CLOSED = (practice.TIME_UP, practice.RULES_CHANGED)


def _runs(class_id: int, student: User, *, for_student: bool) -> list[RunWork]:
    """A student reads nothing of a test before its debriefs are opened."""
    runs = []
    ended = [
        run
        for run in practice.ended_runs(class_id, student.id)
        if run.practice.level in BY_ONESELF
        and not (for_student and not practice.debriefs_open(run.practice))
    ]
    failed = weighing.failed_by_weights(ended)
    for run in ended:
        adjusters = engines.core_engine(run.practice.engine_version).adjusters.values()
        shims = any(adjuster.has_shims for adjuster in adjusters)
        shown = what_it_shows(run.debrief) if run.debrief else None
        if shown is None:
            continue
        runs.append(
            RunWork(
                run.practice.title,
                run.ended_at or run.began_at,
                shims,
                shown.left_right,
                None if run.outcome in NOT_CLOSED else run.outcome != "damage",
                shown.place,
                proves=shown.measured and shown.passed and run.id not in failed,
            )
        )
    return runs


def _drills(class_id: int, student: User) -> list[DrillWork]:
    answered = drills.answered_alone(class_id, student.id)
    return [DrillWork(one.at, one.right, one.answered) for one in answered]


def _way(class_id: int, skill: Skill, train: Train | None, for_student: bool) -> Way | None:
    """A drill on the class's engine, or a practice engine that has what is to be trained."""
    if train is None:
        return None
    if train is Train.DRILL:
        stand = next(iter(sheets.stands_with_sheets(class_id)), None)
        if stand is None:
            return None
        engine = stand.engine_version.engine
        return Way(f"drill on {engine.name}", f"/drill/{engine.id}")
    for made in practice.engines_of(class_id):
        if made.level == "test":
            continue  # nobody learns in a test, and it may be done once
        adjusters = engines.core_engine(made.engine_version).adjusters.values()
        shims = any(adjuster.has_shims for adjuster in adjusters)
        if skill not in (Skill.SCREW, Skill.SHIM) or shims is (skill is Skill.SHIM):
            # A student begins a run from the list; an instructor sees who has done it.
            path = "/work" if for_student else f"/classes/{class_id}/practice"
            return Way(f"practice run “{made.title}”", path)
    return None
