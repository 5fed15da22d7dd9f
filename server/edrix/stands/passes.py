"""A key from several passes, of one person or several: pooled, with how well gaps are known."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from django.db import transaction

from edrix.accounts.models import User
from edrix.errors import FieldFault, InvalidError, QuestionsError
from edrix.stands.models import Key, KeyGap
from edrix.stands.services import TypedGap, figure_doubts, get_stand, new_key, read_gaps
from valvetrain.errors import RefusedError
from valvetrain.grading.keys import Pooled, mean_mm, pool_passes


@dataclass(frozen=True, slots=True)
class TypedPass:
    """One time through all valves, by whom."""

    by: str
    gaps: list[TypedGap]


def pool(user: User, stand_id: int, passes: list[TypedPass]) -> tuple[Pooled, list[KeyGap]]:
    """What a key of several passes would be; keeps nothing. Raises InvalidError."""
    stand = get_stand(user, stand_id)
    if not passes:
        raise InvalidError("There is no pass yet.", [FieldFault("passes", "measure once at least")])
    read, faults = [], []
    for number, one in enumerate(passes, start=1):
        try:
            read.append(read_gaps(stand, one.gaps))
        except InvalidError as fault:
            faults += [FieldFault(f"pass {number}.{f.path}", f.problem) for f in fault.faults]
    if faults:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"The key was not saved: {told}.", faults)
    by_valve = {
        gap.valve: [next(g for g in one if g.valve == gap.valve) for one in read] for gap in read[0]
    }
    try:
        pooled = pool_passes({valve: [g.gap_mm for g in gaps] for valve, gaps in by_valve.items()})
    except RefusedError as fault:
        raise InvalidError(f"{fault}.", [FieldFault("passes", str(fault))]) from None
    rows = [
        KeyGap(
            valve=valve,
            typed=f"{pooled.gaps[valve].gap_mm:f}",
            unit="mm",
            gap_mm=pooled.gaps[valve].gap_mm,
            uncertainty_mm=pooled.gaps[valve].uncertainty_mm,
            passes=[f"{gap.typed} {gap.unit}" for gap in gaps],
            **_pooled_closing([gap.closing_mm for gap in gaps]),
        )
        for valve, gaps in by_valve.items()
    ]
    return pooled, rows


def _pooled_closing(gaps_mm: list[Decimal | None]) -> dict[str, Any]:
    """The mean of the passes that have it; nothing where none has."""
    given = [gap for gap in gaps_mm if gap is not None]
    if not given:
        return {}
    gap_mm = mean_mm(given)
    return {"closing_mm": gap_mm, "closing_typed": f"{gap_mm:f}"}


@transaction.atomic
def enter_passes(
    user: User,
    stand_id: int,
    passes: list[TypedPass],
    *,
    confirmed: bool = False,
    meter: str = "",
) -> Key:
    """A new key from several passes, of one person or of several. Raises QuestionsError while
    valves whose passes lie apart, or whose mean looks like a slip, are not confirmed."""
    pooled, rows = pool(user, stand_id, passes)
    stand = get_stand(user, stand_id)
    apart = [
        FieldFault(
            f"valve {valve}",
            f"its passes lie {pooled.gaps[valve].range_mm:.2f} mm apart: measure it again",
        )
        for valve in pooled.apart
    ]
    doubts = [*apart, *figure_doubts(stand, rows)]
    if doubts and not confirmed:
        raise QuestionsError("A slip would go into this key.", doubts)
    largest = max(gap.uncertainty_mm for gap in pooled.gaps.values())
    people = list(dict.fromkeys(" ".join(one.by.split()) or user.display_name for one in passes))
    note = ", ".join(people)[:200]
    return new_key(user, stand, rows, largest, "passes", note, meter=meter)
