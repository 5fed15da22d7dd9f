"""What of a hand-in's marks its student may read by now: nobody works a key out from answers.

A mark by the key says of a reading: near enough, too large, too small. One such answer narrows the
key to twice the tolerance, no less. A second sheet on the same gaps would halve that, a third once
more. So marks by the key are told at once for the first sheet that a student measures there; those
of every further one wait until its instructor releases them.

Example: Ines measures stand 3 for the first sheet, reads her marks, and measures it again for the
second. Its stops are marked at once; its readings and verdicts when Tove releases them.
"""

from collections.abc import Collection, Iterable

from edrix.marking.standing import Standing
from edrix.sheets.services import HandIn, hand_ins_on_stands
from valvetrain.grading import PARTS

BY_KEY = {name: kind for name, kind in PARTS.items() if kind.by_key is not None}


def waiting_parts(made: Iterable[HandIn]) -> dict[int, frozenset[str]]:
    """By hand-in: the parts whose marks wait. One query, however many hand-ins."""
    asked = list(made)
    before: dict[tuple[int, int], list[HandIn]] = {}
    students = {hand_in.student_id for hand_in in asked}
    for one in hand_ins_on_stands({h.key.stand_id for h in asked}, students):
        before.setdefault((one.student_id, one.key.stand_id), []).append(one)
    return {
        hand_in.id: frozenset(n for n, k in BY_KEY.items() if k.is_asked(hand_in.sheet.asks))
        if hand_in.sheet.given_back_at is None
        and any(
            one.id < hand_in.id and _same_gaps(one, hand_in)
            for one in before.get((hand_in.student_id, hand_in.key.stand_id), ())
        )
        else frozenset()
        for hand_in in asked
    }


def _same_gaps(one: HandIn, other: HandIn) -> bool:
    """Keys that were measured again are of the same gaps; one that somebody's adjusting left is of
    others."""
    if one.key_id == other.key_id:
        return True
    later = max(one.key, other.key, key=lambda key: key.number)
    return later.origin != "adjusted"


def told(standing: Standing, waits: Collection[str]) -> Standing:
    """Marks without those that wait; points count what is left."""
    if not waits:
        return standing
    valves = [valve.without(waits) for valve in standing.valves]
    return Standing(
        sum(valve.points for valve in valves), sum(len(valve.parts) for valve in valves), valves
    )
