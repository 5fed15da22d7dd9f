"""Stands and keys, for the instructors of a class. Students never reach a key by any way."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal

from django.db import IntegrityError, transaction
from django.db.models import F, Prefetch, Q, QuerySet

from edrix import life
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import (
    ConflictError,
    FieldFault,
    InvalidError,
    NotAllowedError,
    NotFoundError,
    QuestionsError,
)
from edrix.names import tidy
from edrix.stands.models import ClassStand, KeyGap

# Other apps name the type of what they are given.
from edrix.stands.models import Key as Key
from edrix.stands.models import Stand as Stand
from edrix.stands.signals import key_entered
from valvetrain.grading import EntryError, figure_questions, read_entry
from valvetrain.grading.columns import CLOSING
from valvetrain.grading.findings import KeyGap as StatedGap
from valvetrain.units import LengthError, Unit, parse_figure, to_mm, to_record_mm

MOST_UNCERTAINTY_MM = Decimal("0.2")


@dataclass(frozen=True, slots=True)
class TypedGap:
    valve: int
    gap: str
    unit: str
    closing: str = ""
    """Of a valve that is pulled shut; blank where it was not measured."""


def stands_of(user: User, class_id: int) -> QuerySet[Stand]:
    """The stands that a class uses with their keys, newest key first; `unused` where it has put
    one away."""
    classes.require_instructor(user, class_id)
    newest_first = Prefetch(
        "keys", Key.objects.order_by("-number").select_related("made_by").prefetch_related("gaps")
    )
    stands = Stand.objects.filter(uses__teaching_class_id=class_id)
    return (
        stands.annotate(unused=F("uses__put_away_at"))
        .select_related("engine_version__engine")
        .prefetch_related(newest_first, "uses")
        .order_by("name")
    )


def in_use(class_id: int) -> QuerySet[Stand]:
    """The stands that a class uses now, for rooms that have asked who may see them."""
    used = ClassStand.objects.filter(teaching_class_id=class_id, put_away_at__isnull=True)
    found = Stand.objects.filter(id__in=used.values("stand_id"), put_away_at__isnull=True)
    return found.select_related("engine_version__engine").order_by("name")


@transaction.atomic
def create_stand(user: User, class_id: int, name: str, engine_id: int) -> Stand:
    """A new stand of the newest version of an engine, which this class uses."""
    teaching_class = classes.require_instructor(user, class_id)
    stand = made(user, name, engine_id)
    ClassStand.objects.create(teaching_class=teaching_class, stand=stand)
    return stand


def made(user: User, name: str, engine_id: int) -> Stand:
    """A stand of the newest version of an engine. Raises ConflictError for a name that is taken."""
    version = engines.get_version(engine_id)
    return named(Stand(engine_version=version, created_by=user), name)


def use_of(class_id: int, stand_id: int) -> ClassStand:
    """Raises NotFoundError where the class does not use it."""
    found = ClassStand.objects.filter(teaching_class_id=class_id, stand_id=stand_id).first()
    if found is None:
        raise NotFoundError(f"There is no stand {stand_id} in this class; choose one of its own.")
    return found


def stand_of_class(user: User, class_id: int, stand_id: int) -> Stand:
    """A stand that this class uses, for an instructor of it."""
    stand = get_stand(user, stand_id)
    use_of(class_id, stand_id)
    return stand


def was_adjusted(stand_id: int, at: datetime, by: str) -> None:
    """Keys that were measured before are stale from now on. An older adjusting that becomes known
    late changes nothing."""
    older = Q(adjusted_at__isnull=True) | Q(adjusted_at__lt=at)
    Stand.objects.filter(older, id=stand_id).update(adjusted_at=at, adjusted_by=by[:200])


def warm_from(stand: Stand, at: datetime) -> None:
    """It was run then, and is warm for its cool-down."""
    until = at + timedelta(hours=float(stand.cool_h))
    if stand.warm_until is None or stand.warm_until < until:
        stand.warm_until = until
        stand.save(update_fields=["warm_until"])


def gaps_before(key: Key) -> dict[int, Decimal]:
    """The gaps of the key before this one; empty where it is the first."""
    before = Key.objects.filter(stand_id=key.stand_id, number__lt=key.number).order_by("-number")
    first = before.first()
    return {} if first is None else key_gaps_mm(first.id)


def is_stale(stand: Stand, key: Key) -> bool:
    """Whether the stand was adjusted since this key was measured."""
    return stand.adjusted_at is not None and stand.adjusted_at > key.made_at


def remove(user: User, stand_id: int) -> None:
    """With its keys, where nobody has measured it yet."""
    stand = get_stand(user, stand_id)
    gaps = KeyGap.objects.filter(key__stand=stand)
    life.remove(stand, stand.name, gaps, Key.objects.filter(stand=stand))


def named(stand: Stand, name: str) -> Stand:
    """Saves a stand under a name that no other of the school has. Raises ConflictError."""
    stand.name = tidy(name, "The stand has no name.")
    try:
        with transaction.atomic():
            stand.save()
    except IntegrityError:
        raise ConflictError(
            f"The school has a stand called {stand.name} already; choose another name, or use that "
            "stand in this class."
        ) from None
    return stand


def kept_by(user: User, known: Iterable[Stand]) -> set[int]:
    """The ids of those stands that get_stand gives this person; they come with their uses."""
    using = {stand: [use.teaching_class_id for use in stand.uses.all()] for stand in known}
    taught = set(classes.taught_among(user, {one for some in using.values() for one in some}))
    return {
        stand.id
        for stand, some in using.items()
        if taught & set(some) or (not some and stand.created_by_id == user.id)
    }


def get_stand(user: User, stand_id: int) -> Stand:
    """A stand for an instructor of a class that uses it, or for whoever made it while none does."""
    stand = _known(stand_id)
    using = [use.teaching_class_id for use in stand.uses.all()]
    roles = classes.roles_among(user, using)
    if classes.INSTRUCTOR in roles or (stand.created_by_id == user.id and not using):
        return stand
    if not roles:
        raise no_stand(stand_id)
    raise NotAllowedError(f"Only instructors on {stand.name} may do this; you are a student there.")


def stand_for_member(user: User, stand_id: int) -> Stand:
    """A stand, without its keys, for anybody in a class that uses it."""
    stand = _known(stand_id)
    if not classes.roles_among(user, [use.teaching_class_id for use in stand.uses.all()]):
        raise no_stand(stand_id)
    return stand


def _known(stand_id: int) -> Stand:
    known = Stand.objects.select_related("engine_version__engine").prefetch_related("uses")
    stand = known.filter(id=stand_id).first()
    if stand is None:
        raise no_stand(stand_id)
    return stand


@transaction.atomic
def enter_key(
    user: User,
    stand_id: int,
    gaps: Iterable[TypedGap],
    uncertainty: str = "",
    unit: str = "mm",
    *,
    adjusted_by: str = "",
    meter: str = "",
    confirmed: bool = True,
) -> Key:
    """A new key for a stand: one gap for every valve of its engine, or InvalidError. Raises
    QuestionsError where figures look like slips and nobody has confirmed them.

    uncertainty is how far any of them may be off (95 per cent), as typed; blank is exact.
    adjusted_by says whose work left the stand so, where the gaps are what a sheet gave; meter is
    what the stand's meter read, as typed.

    The old keys stay: sheets that were set with them are marked by them.
    """
    stand = get_stand(user, stand_id)
    rows = read_gaps(stand, list(gaps))
    if not confirmed and (doubts := figure_doubts(stand, rows)):
        raise QuestionsError("Some gaps of this key look like slips.", doubts)
    origin = "adjusted" if adjusted_by else "measured"
    known_to = _uncertainty_mm(uncertainty, unit)
    return new_key(user, stand, rows, known_to, origin, adjusted_by, meter=meter)


def new_key(
    user: User,
    stand: Stand,
    rows: list[KeyGap],
    uncertainty: Decimal,
    origin: str,
    note: str,
    *,
    meter: str,
) -> Key:
    """The stand's next key, told to the rooms that listen; within a transaction."""
    # Two instructors saving at once get two keys with different numbers.
    Stand.objects.select_for_update().get(id=stand.id)
    last = Key.objects.filter(stand=stand).order_by("-number").first()
    key = Key.objects.create(
        stand=stand,
        number=last.number + 1 if last else 1,
        made_by=user,
        uncertainty_mm=uncertainty,
        origin=origin,
        note=note,
    )
    for row in rows:
        row.key = key
    KeyGap.objects.bulk_create(rows)
    key_entered.send(Key, key=key, meter=meter)
    return key


def _uncertainty_mm(typed: str, unit: str) -> Decimal:
    if not typed.strip():
        return Decimal(0)
    try:
        length_mm = to_record_mm(to_mm(parse_figure(typed), Unit(unit)))
    except (LengthError, ValueError) as fault:
        raise InvalidError(
            f"The uncertainty: {fault}.", [FieldFault("uncertainty", str(fault))]
        ) from None
    if not 0 <= length_mm <= MOST_UNCERTAINTY_MM:
        problem = f"is {length_mm} mm; give 0 to {MOST_UNCERTAINTY_MM} mm"
        raise InvalidError(f"The uncertainty {problem}.", [FieldFault("uncertainty", problem)])
    return length_mm


def newest_key(stand: Stand) -> Key:
    """Raises ConflictError where nobody has measured the stand yet."""
    key = Key.objects.filter(stand=stand).order_by("-number").first()
    if key is None:
        raise ConflictError(f"{stand.name} has no key yet; enter its key first.")
    return key


def key_gaps_mm(key_id: int) -> dict[int, Decimal]:
    """Valve number to reference clearance. For marking; never for a student."""
    return dict(KeyGap.objects.filter(key_id=key_id).values_list("valve", "gap_mm"))


def closing_gaps_mm(key_id: int) -> dict[int, Decimal]:
    """The same of the closing gaps that were measured."""
    known = KeyGap.objects.filter(key_id=key_id).values_list("valve", "closing_mm")
    return {valve: gap_mm for valve, gap_mm in known if gap_mm is not None}


@dataclass(frozen=True, slots=True)
class StatedKey:
    """Each valve's reference with its standard uncertainty, and the closing gaps that were
    measured, as findings need them."""

    gaps: dict[int, StatedGap]
    closing_mm: dict[int, Decimal]


def stated_key(key_id: int) -> StatedKey:
    of_key = Key.objects.get(id=key_id).uncertainty_mm
    rows = list(KeyGap.objects.filter(key_id=key_id))
    return StatedKey(
        {
            gap.valve: StatedGap.stated(
                gap.gap_mm, of_key if gap.uncertainty_mm is None else gap.uncertainty_mm
            )
            for gap in rows
        },
        {gap.valve: gap.closing_mm for gap in rows if gap.closing_mm is not None},
    )


@dataclass(frozen=True, slots=True)
class KeyUncertainty:
    """Expanded: of the whole key, and of those valves that have their own."""

    key_id: int
    of_key_mm: Decimal
    of_valve_mm: dict[int, Decimal]
    closing_mm: dict[int, Decimal]
    """The key's closing gaps, which are known as well as the others."""


def key_uncertainties(key_ids: Collection[int]) -> list[KeyUncertainty]:
    keys = Key.objects.filter(id__in=key_ids).prefetch_related("gaps")
    return [
        KeyUncertainty(
            key.id,
            key.uncertainty_mm,
            {g.valve: g.uncertainty_mm for g in key.gaps.all() if g.uncertainty_mm is not None},
            {g.valve: g.closing_mm for g in key.gaps.all() if g.closing_mm is not None},
        )
        for key in keys
    ]


def read_gaps(stand: Stand, gaps: list[TypedGap]) -> list[KeyGap]:
    """One gap for every valve. Raises InvalidError with every fault."""
    engine = engines.core_engine(stand.engine_version)
    faults: list[FieldFault] = []
    rows: dict[int, KeyGap] = {}
    for gap in gaps:
        path = f"valve {gap.valve}"
        try:
            entry = read_entry(
                engine,
                valve=gap.valve,
                reading=gap.gap,
                unit=gap.unit,
                crank_deg=None,
                verdict=None,
                further={CLOSING.name: gap.closing},
            )
        except EntryError as fault:
            faults.append(FieldFault(path, fault.problem))
            continue
        closing = entry.further.get(CLOSING.name)
        if closing is not None and engine.valve[gap.valve].role not in engine.closing:
            faults.append(FieldFault(path, "has no closing rocker; leave its closing gap blank"))
        if gap.valve in rows:
            faults.append(FieldFault(path, "is given twice"))
        if entry.reading_mm is None:
            faults.append(FieldFault(path, "has no gap; measure it and write it down"))
            continue
        rows[gap.valve] = KeyGap(
            valve=gap.valve,
            typed=entry.reading_text,
            unit=gap.unit,
            gap_mm=entry.reading_mm,
            closing_typed=closing.text if closing else "",
            closing_mm=closing.mm if closing else None,
        )
    given = {gap.valve for gap in gaps}
    faults += [
        FieldFault(f"valve {number}", "is missing; a key has every valve")
        for number in engine.valve
        if number not in given
    ]
    if faults:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"The key was not saved: {told}.", faults)
    return list(rows.values())


def figure_doubts(stand: Stand, rows: Iterable[KeyGap]) -> list[FieldFault]:
    """Gaps that look like slips beside the spec, as a sheet's readings are asked about."""
    engine = engines.core_engine(stand.engine_version)
    entries = [
        read_entry(
            engine,
            valve=row.valve,
            reading=row.typed,
            unit=row.unit,
            crank_deg=None,
            verdict=None,
        )
        for row in rows
    ]
    return [FieldFault(f"valve {one.valve}", one.says) for one in figure_questions(engine, entries)]


def no_stand(stand_id: int) -> NotFoundError:
    return NotFoundError(f"There is no stand {stand_id} for you; open one from your class.")
