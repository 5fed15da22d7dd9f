"""The gauge study of a stand: its sheets are the trials, the class is the instrument."""

import math
from collections import Counter
from collections.abc import Collection
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal, NamedTuple

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, NotFoundError
from edrix.marking.findings import findings_of
from edrix.practice import blind
from edrix.sheets import services as sheets
from edrix.sheets.services import HandIn, Reading, Sheet
from edrix.stands import hall
from edrix.stands import services as stands
from edrix.stands.services import Key, Stand
from valvetrain.grading import SpecVerdict, spec_verdict
from valvetrain.grading.columns import CLOSING
from valvetrain.grading.findings import WRITING_SLIPS
from valvetrain.practice.blind import Threshold
from valvetrain.study import Measured, Study, cells_of, fleiss_kappa, kappa, study

LEAST = 2
Verdicts = dict[tuple[str, int, int], str]

Gap = Literal["opening", "closing"]
"""What is studied. The second gap of a valve that is pulled shut is an instrument's own job: the
two differ far more than the valves of one of them do, and would lend the study parts it has not."""

DOUBT = SpecVerdict.CANNOT_TELL
"""Who says that it cannot be told agrees and disagrees with nobody."""


class Agreed(NamedTuple):
    """kappa is agreement beyond chance; it rests on so many verdicts, of which so many are alike
    (of all together: on so many valves, judged by everybody)."""

    kappa: float
    judged: int
    alike: int


@dataclass(frozen=True, slots=True)
class Agreement:
    """Each student with the key, and all with each other (None where not everybody judged every
    valve)."""

    with_key: dict[str, Agreed]
    together: Agreed | None


@dataclass(frozen=True, slots=True)
class StandStudy:
    """left_out are students whose sheets cannot be in it, and why."""

    gap: Gap
    stand: Stand
    class_id: int
    sheets: list[Sheet]
    left_out: list[tuple[str, str]]
    found: Study
    agreement: Agreement
    feel: list[tuple[str, Threshold]]
    """What students of the class tell apart, felt blind; the finest hand first."""

    @property
    def roles(self) -> dict[int, str]:
        """The role of every valve of the stand's engine."""
        engine = engines.core_engine(self.stand.engine_version)
        return {valve.number: valve.role.value for valve in engine.valves}


@dataclass(frozen=True, slots=True)
class Trial:
    """A sheet that may be a trial of the study; proposed: it is one unless others are chosen."""

    sheet: Sheet
    handed_in: int
    proposed: bool


@dataclass(frozen=True, slots=True)
class Trials:
    """gaps: which of them can be studied."""

    stand: Stand
    class_id: int
    gaps: list[Gap]
    trials: list[Trial]


def trials_of(
    user: User, stand_id: int, gap: Gap = "opening", class_id: int | None = None
) -> Trials:
    """For instructors: a class's sheets on a stand's newest key, in the order in which they were
    set. Without class_id, of that of the user's classes which measured it last.

    Proposed are those that at least half of the students who measured the stand have handed in: a
    sheet that was set this morning empties no study, and is in it once most are through.
    """
    studied, trials = _trials(user, stand_id, gap, class_id)
    both = len(_asking(studied.sheets, "closing")) >= LEAST
    gaps: list[Gap] = ["opening", "closing"] if both else ["opening"]
    return Trials(studied.stand, studied.class_id, gaps, trials)


def _asking(of: list[Sheet], gap: Gap) -> list[Sheet]:
    return of if gap == "opening" else [sheet for sheet in of if gap in sheet.asks]


class _Studied(NamedTuple):
    """What one class set on a stand's newest key."""

    stand: Stand
    key: Key
    class_id: int
    sheets: list[Sheet]


def _studied(user: User, stand_id: int, class_id: int | None) -> _Studied:
    stand = stands.get_stand(user, stand_id)
    key = stands.newest_key(stand)
    taught = hall.classes_using(user, stand)
    if class_id is not None and class_id not in taught:
        raise NotFoundError(f"There is no class {class_id} of yours on {stand.name}.")
    known = [
        sheet
        for sheet in sheets.sheets_on_key(stand, key.id)
        if sheet.teaching_class_id in (taught if class_id is None else [class_id])
    ]
    last = class_id or (known[-1].teaching_class_id if known else next(iter(taught), 0))
    return _Studied(stand, key, last, [one for one in known if one.teaching_class_id == last])


def _trials(
    user: User, stand_id: int, gap: Gap, class_id: int | None
) -> tuple[_Studied, list[Trial]]:
    studied = _studied(user, stand_id, class_id)
    found, key = _asking(studied.sheets, gap), studied.key
    who: dict[int, set[int]] = {sheet.id: set() for sheet in found}
    done = HandIn.objects.filter(sheet__in=found, key=key).values_list("sheet_id", "student_id")
    for sheet_id, student_id in done:
        who[sheet_id].add(student_id)
    everybody = set().union(*who.values())
    return (
        studied,
        [
            Trial(sheet, len(who[sheet.id]), 2 * len(who[sheet.id]) >= max(2, len(everybody)))
            for sheet in found
        ],
    )


def _chosen(
    user: User, stand_id: int, wanted: Collection[int], gap: Gap, class_id: int | None
) -> tuple[_Studied, list[Sheet]]:
    """The trials that are asked for, or those proposed. Raises ConflictError for fewer than two."""
    studied, known = _trials(user, stand_id, gap, class_id)
    stand = studied.stand
    if len(known) < LEAST:
        asking = "" if gap == "opening" else " that asks for the closing gap"
        raise ConflictError(
            f"{stand.name} has {len(known) or 'no'} sheet{asking} on its newest key. A study "
            "compares trials: set the same stand again, without adjusting it in between."
        )
    if unknown := set(wanted) - {one.sheet.id for one in known}:
        raise NotFoundError(f"There is no sheet {min(unknown)} on the newest key of {stand.name}.")
    trials = [one.sheet for one in known if (one.sheet.id in wanted if wanted else one.proposed)]
    if len(trials) < LEAST:
        raise ConflictError(
            f"A study compares trials, and {len(trials)} of {len(known)} sheets on the newest key "
            f"of {stand.name} {'is' if len(trials) == 1 else 'are'} in it; choose two at least."
        )
    return studied, trials


def of_stand(
    user: User,
    stand_id: int,
    wanted: Collection[int] = (),
    gap: Gap = "opening",
    class_id: int | None = None,
) -> StandStudy:
    """For instructors: the class as an instrument, from the sheets set on a stand's newest key.

    wanted: the sheets that are its trials; without any, those that are proposed. Raises
    ConflictError where those make no study yet.
    """
    studied, trials = _chosen(user, stand_id, wanted, gap, class_id)
    stand, key = studied.stand, studied.key
    gaps = stands.key_gaps_mm(key.id) if gap == "opening" else stands.closing_gaps_mm(key.id)
    made: dict[int, list[HandIn]] = {sheet.id: [] for sheet in trials}
    hand_ins = HandIn.objects.filter(sheet__in=trials, key=key)
    for hand_in in hand_ins.select_related("student").prefetch_related("readings"):
        made[hand_in.sheet_id].append(hand_in)
    left_out = _left_out(gap, gaps, trials, made)
    kept = sorted({h.student_id for of in made.values() for h in of} - left_out.keys())
    if len(kept) < LEAST:
        raise ConflictError(
            f"{len(kept)} of the students who handed in have every valve on all {len(trials)} "
            f"sheets of {stand.name}, without a slip of the pen; a study needs two."
        )
    names = _names({h.student_id: h.student.display_name for of in made.values() for h in of})
    hands = {pk: names[pk] for pk in kept}
    cells = cells_of(_measured(gap, gaps, trials, made, hands))
    return StandStudy(
        gap,
        stand,
        studied.class_id,
        trials,
        sorted((names[student_id], why) for student_id, why in left_out.items()),
        study(cells, [float(gaps[valve]) for valve in cells.valves]),
        _verdicts_agree(stand, gaps, trials, made, hands)
        if gap == "opening"
        else Agreement({}, None),
        _felt_blind(studied.class_id),
    )


def _felt_blind(class_id: int) -> list[tuple[str, Threshold]]:
    names = {one.id: one.display_name for one in classes.students_of(class_id)}
    found = blind.thresholds(class_id, names)
    told = [(names[who], hand) for who, hand in found.items()]
    return sorted(
        told, key=lambda one: math.inf if one[1].threshold_mm is None else one[1].threshold_mm
    )


def _read_mm(reading: Reading, gap: Gap) -> float | None:
    if gap == "opening":
        return None if reading.reading_mm is None else float(reading.reading_mm)
    typed = reading.further.get(CLOSING.name)
    return None if typed is None or typed["mm"] is None else float(typed["mm"])


def _measured(
    gap: Gap,
    key_mm: dict[int, Decimal],
    trials: list[Sheet],
    made: dict[int, list[HandIn]],
    names: dict[int, str],
) -> list[Measured]:
    """The readings of those who are named, of the valves that the key knows."""
    return [
        Measured(names[hand_in.student_id], reading.valve, trial, gap_mm)
        for trial, sheet in enumerate(trials, start=1)
        for hand_in in made[sheet.id]
        if hand_in.student_id in names
        for reading in hand_in.readings.all()
        if reading.valve in key_mm and (gap_mm := _read_mm(reading, gap)) is not None
    ]


def _left_out(
    gap: Gap, key_mm: dict[int, Decimal], trials: list[Sheet], made: dict[int, list[HandIn]]
) -> dict[int, str]:
    """Students who miss a valve on a sheet, or whose figures have a slip of the pen: one of those
    would drown the whole study."""
    why: dict[int, str] = {}
    everybody = {hand_in.student_id for of in made.values() for hand_in in of}
    for sheet in trials:
        by_student = {hand_in.student_id: hand_in for hand_in in made[sheet.id]}
        told = findings_of(sheet, made[sheet.id]).of
        for student_id in everybody - why.keys():
            hand_in = by_student.get(student_id)
            if hand_in is None:
                why[student_id] = f"no sheet “{sheet.title}”"
                continue
            written = {r.valve for r in hand_in.readings.all() if _read_mm(r, gap) is not None}
            blank = [number for number in key_mm if number not in written]
            slips = [one for one in told[hand_in.id] if one.kind in WRITING_SLIPS]
            if blank:
                what = "reading" if gap == "opening" else "closing gap"
                why[student_id] = f"no {what} of valve {blank[0]} on “{sheet.title}”"
            elif slips:
                why[student_id] = f"a slip of the pen on “{sheet.title}”"
    return why


def _names(of: dict[int, str]) -> dict[int, str]:
    """Names as they are shown; those who share one are told apart by their number."""
    twice = {name for name, count in Counter(of.values()).items() if count > 1}
    return {pk: f"{name} ({pk})" if name in twice else name for pk, name in of.items()}


def _verdicts_agree(
    stand: Stand,
    key_mm: dict[int, Decimal],
    trials: list[Sheet],
    made: dict[int, list[HandIn]],
    names: dict[int, str],
) -> Agreement:
    engine = engines.core_engine(stand.engine_version)
    by_key = {valve: spec_verdict(engine, valve, gap).value for valve, gap in key_mm.items()}
    verdicts = {
        (names[hand_in.student_id], sheet.id, reading.valve): reading.verdict
        for sheet in trials
        for hand_in in made[sheet.id]
        if hand_in.student_id in names
        for reading in hand_in.readings.all()
    }
    return _agreement([sheet.id for sheet in trials], verdicts, by_key)


def _agreement(sheet_ids: list[int], verdicts: Verdicts, by_key: dict[int, str]) -> Agreement:
    students = sorted({student for student, _, _ in verdicts})
    places = [(sheet_id, valve) for sheet_id in sheet_ids for valve in by_key]
    with_key = {}
    for student in students:
        said = [(verdicts[student, *place], by_key[place[1]]) for place in places]
        judged = [(own, key) for own, key in said if own not in ("", DOUBT)]
        if judged:
            with_key[student] = Agreed(
                kappa([own for own, _ in judged], [key for _, key in judged]),
                len(judged),
                sum(own == key for own, key in judged),
            )
    table = []
    for place in places:
        counts = Counter(verdicts[student, *place] for student in students)
        if counts[""]:
            return Agreement(with_key, None)
        if counts[DOUBT]:
            continue
        table.append([counts[kind] for kind in ("tight", "within", "loose")])
    if not table:
        return Agreement(with_key, None)
    alike = sum(max(row) == len(students) for row in table)
    return Agreement(with_key, Agreed(fleiss_kappa(table), len(table), alike))
