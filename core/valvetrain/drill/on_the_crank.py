"""Questions about where the crank stands: what may be set, strokes, order, companions, marks.

Places too near to the edge of what is asked are refused: nobody should argue about three degrees.
"""

from collections.abc import Iterator
from random import Random

from valvetrain.angles import (
    STROKE_DEG,
    TURN_DEG,
    Stroke,
    ahead_deg,
    apart_deg,
    normalise_deg,
    stroke_at,
)
from valvetrain.drill import places
from valvetrain.drill.constants import AT_PLACE_DEG, CLEAR_DEG, MOST_OPTIONS
from valvetrain.drill.misconceptions import Misconception
from valvetrain.drill.question import AskedAt, CannotAskError, Option, Question, Wrong
from valvetrain.engine import Engine, TimingMark, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.overlap import overlap_of

NONE = Option("none", "none of them")


def which_valves(ask: AskedAt) -> Question:
    """Which valves may be set now?"""
    engine, crank_deg = ask.engine, ask.crank_deg
    clear = [v for v in engine.valves if abs(valve_margin_deg(engine, v, crank_deg)) >= CLEAR_DEG]
    chosen = clear
    if not ask.whole:
        few = ask.chance.sample(clear, min(MOST_OPTIONS, len(clear)))
        chosen = sorted(few, key=engine.valves.index)
    may = [v for v in chosen if valve_margin_deg(engine, v, crank_deg) > 0]
    if not chosen or (not ask.whole and (not may or (len(may) == len(chosen) > 2))):
        raise CannotAskError(
            "Every valve is too near to the edge of its heel here; turn on a little."
        )
    left_out = [v.number for v in engine.valves if v not in clear]
    options = tuple(places.valve_option(valve) for valve in chosen)
    answer = tuple(str(valve.number) for valve in may)
    if ask.whole:
        options, answer = (*options, NONE), answer or (NONE.id,)
    too_near = f" Leave out {_listed(left_out)}: too near to the edge." if left_out else ""
    return Question(
        "which-valves",
        crank_deg,
        f"Which {'' if ask.whole else 'of these '}valves may be set now?"
        + (too_near if ask.whole else ""),
        options,
        True,
        answer,
        " ".join(places.stands(engine, valve, crank_deg) for valve in chosen),
        places.told(engine, crank_deg),
        (
            places.order_step(engine),
            *(places.heel_step(engine, role) for role in engine.roles),
            *(
                places.cycle_step(engine, c, crank_deg)
                for c in dict.fromkeys(v.cylinder for v in chosen)
            ),
        ),
        tuple(_wrong_valves(engine, crank_deg, chosen)),
    )


def _wrong_valves(engine: Engine, crank_deg: float, chosen: list[Valve]) -> Iterator[Wrong]:
    """Whole answers that a misconception leads to, then every valve that is off its heel."""
    asked = {valve.number for valve in chosen}
    right = places.settable(engine, crank_deg) & asked
    other_turn = places.settable(engine, crank_deg + TURN_DEG) & asked
    if other_turn and other_turn != right and other_turn - right:
        yield _whole(engine, crank_deg, other_turn, right, Misconception.FULL_TURN,
                     "These may be set a full turn on.")  # fmt: skip
    mark = _mark_at(engine, crank_deg, "ignition")
    if mark is not None:
        dead_deg = crank_deg + _to_dead_centre(engine, mark)
        at_dead_centre = places.settable(engine, dead_deg) & asked
        if at_dead_centre and at_dead_centre - right:
            yield _whole(engine, crank_deg, at_dead_centre, right, Misconception.IGNITION_MARK,
                         f"These may be set at the dead centre, and mark {mark.label} is the "
                         "ignition's.")  # fmt: skip
    off = [v for v in chosen if v.number not in right]
    for cylinder in _rocking(engine, crank_deg):
        ids = tuple(str(v.number) for v in off if v.cylinder == cylinder)
        companion = engine.companion(cylinder)
        if len(ids) > 1 and companion is not None:
            says, full_deg = places.strikes(engine, engine.valve[int(ids[0])], crank_deg)
            lead = f"Cylinder {cylinder} rocks: its companion {companion} is the one to set. "
            yield Wrong("just", ids, lead + says, Misconception.COMPANION, full_deg)
    for valve in off:
        says, full_deg = places.strikes(engine, valve, crank_deg)
        yield Wrong("adds", (str(valve.number),), says, Misconception.LOBE, full_deg)
    if off:
        says, full_deg = places.strikes(engine, off[0], crank_deg)
        ids = tuple(str(v.number) for v in off)
        yield Wrong("adds", ids, says, Misconception.LOBE, full_deg)
    may = [v for v in chosen if v.number in right]
    if may:
        says = " ".join(places.stands(engine, valve, crank_deg) for valve in may)
        yield Wrong("adds", (NONE.id,), says)
        yield Wrong("lacks", tuple(str(v.number) for v in may), says)
    # Whatever is chosen beside "none of them".
    every = (*(str(v.number) for v in off), NONE.id)
    yield Wrong("adds", every, "Either some of them, or none of them.")


def _whole(
    engine: Engine,
    crank_deg: float,
    numbers: set[int],
    right: set[int],
    mistake: Misconception,
    lead: str,
) -> Wrong:
    worst = min(
        (engine.valve[number] for number in numbers - right),
        key=lambda valve: valve_margin_deg(engine, valve, crank_deg),
    )
    says, full_deg = places.strikes(engine, worst, crank_deg)
    ids = tuple(str(v.number) for v in engine.valves if v.number in numbers)
    return Wrong("is", ids, f"{lead} {says}", mistake, full_deg)


def which_stroke(ask: AskedAt) -> Question:
    """Which stroke is a cylinder on?"""
    engine, crank_deg = ask.engine, ask.crank_deg
    last = places.fired_last(engine, crank_deg)
    others = [
        c
        for c in engine.firing_order
        if _from_dead_centre_deg(engine.cycle_deg(c, crank_deg)) >= CLEAR_DEG
    ]
    if ask.about is not None:
        others = [c for c in others if c == ask.about]
    elif len(others) > 1 and last in others:
        others.remove(last)
    if not others:
        who = "Every cylinder" if ask.about is None else f"Cylinder {ask.about}"
        raise CannotAskError(f"{who} is too near to a dead centre here; turn on a little.")
    cylinder = ask.chance.choice(others)
    cycle_deg = engine.cycle_deg(cylinder, crank_deg)
    stroke = stroke_at(cycle_deg)
    return Question(
        "which-stroke",
        crank_deg,
        f"On which stroke is cylinder {cylinder}?",
        tuple(Option(s.value, s.value) for s in Stroke),
        False,
        (stroke.value,),
        f"Cylinder {cylinder} fired {cycle_deg:g}° ago: power to 180°, exhaust to 360°, intake to "
        f"540°, then compression. So it is on {stroke}.",
        places.told(engine, crank_deg),
        (places.order_step(engine), places.cycle_step(engine, cylinder, crank_deg)),
        tuple(_wrong_stroke(engine, cylinder, crank_deg, stroke)),
    )


def _wrong_stroke(
    engine: Engine, cylinder: int, crank_deg: float, right: Stroke
) -> Iterator[Wrong]:
    strokes = list(Stroke)
    for by in (2, 1, 3):
        other = strokes[(strokes.index(right) + by) % 4]
        there_deg = normalise_deg(crank_deg + by * STROKE_DEG)
        if by == 2:
            says = (
                f"The piston goes the same way on {right} and on {other}, a full turn apart: only "
                f"the valves tell. Cylinder {cylinder} is on {other} a full turn on."
            )
            yield Wrong("is", (other.value,), says, Misconception.FULL_TURN, there_deg)
        else:
            says = f"On {other} the piston goes the other way."
            yield Wrong("is", (other.value,), says, "", there_deg)


def fires_next(ask: AskedAt) -> Question:
    """Which cylinder fires next?"""
    engine, crank_deg = ask.engine, ask.crank_deg
    if engine.cylinders < 3:
        raise CannotAskError("With fewer than three cylinders there is no order to know.")
    last = places.fired_last(engine, crank_deg)
    place = engine.firing_order.index(last)
    following = engine.firing_order[(place + 1) % engine.cylinders]
    at_deg = engine.fire_deg[following]
    together = [
        cylinder
        for cylinder, deg in engine.fire_deg.items()
        if cylinder != following and apart_deg(deg, at_deg) < CLEAR_DEG
    ]
    if together:
        raise CannotAskError(
            f"Cylinders {following} and {together[0]} fire together, so none of them is next."
        )
    away_deg = ahead_deg(crank_deg, engine.fire_deg[following])
    if away_deg < CLEAR_DEG:
        raise CannotAskError(f"Cylinder {following} is about to fire here; turn on or back.")
    return Question(
        "fires-next",
        crank_deg,
        "Which cylinder fires next, turning the running way?",
        _cylinder_options(ask, following, leave_out=last),
        False,
        (str(following),),
        f"The firing order is {'-'.join(map(str, engine.firing_order))}: cylinder {following} "
        f"fires {away_deg:g}° from here, after cylinder {last}.",
        places.told(engine, crank_deg),
        (places.order_step(engine), places.cycle_step(engine, last, crank_deg)),
        tuple(_wrong_next(engine, crank_deg, last, following)),
    )


def _wrong_next(engine: Engine, crank_deg: float, last: int, following: int) -> Iterator[Wrong]:
    companion = engine.companion(last)
    for cylinder in engine.firing_order:
        if cylinder in (last, following):
            continue
        away_deg = ahead_deg(crank_deg, engine.fire_deg[cylinder])
        says = f"Cylinder {cylinder} fires {away_deg:g}° from here."
        mistake = ""
        if cylinder == companion:
            says += f" It is the companion of cylinder {last}: they rise together, a turn apart."
            mistake = Misconception.COMPANION
        elif cylinder == last + 1:
            says += " Cylinders do not fire in the order in which they are counted."
        yield Wrong("is", (str(cylinder),), says, mistake, engine.fire_deg[cylinder])


def who_rocks(ask: AskedAt) -> Question:
    """Whose companion is in overlap?"""
    engine = ask.engine
    here = [c for c, at_deg in engine.fire_deg.items()
            if apart_deg(at_deg, ask.crank_deg) <= AT_PLACE_DEG]  # fmt: skip
    cylinder = here[0] if len(here) == 1 else None
    companion = engine.companion(cylinder) if cylinder is not None else None
    if engine.cylinders < 3 or cylinder is None or companion is None:
        raise CannotAskError(
            "This is asked at the firing TDC of a cylinder with a companion; turn to one."
        )
    crank_deg = engine.fire_deg[cylinder]
    if _rocking(engine, crank_deg) != [companion]:
        raise CannotAskError("More than one cylinder rocks here, or none; turn to another TDC.")
    if ask.whole or ask.chance.random() < 0.5:
        place = f"Cylinder {cylinder} is at firing TDC."
        asks, right, out = "Which cylinder rocks in overlap?", companion, cylinder
    else:
        place = f"Cylinder {companion} rocks in overlap."
        asks, right, out = "Which cylinder is at firing TDC?", cylinder, companion
    because = (
        f"Cylinders {cylinder} and {companion} are companions, 360° apart: while one is at firing "
        "TDC, the other is between exhaust and intake, with both valves a little open."
    )
    wrongs = (
        Wrong("is", (str(c),), places.cycle_step(engine, c, crank_deg), Misconception.COMPANION,
              engine.fire_deg[c])
        for c in engine.firing_order if c not in (right, out)
    )  # fmt: skip
    return Question(
        "who-rocks", crank_deg, asks, _cylinder_options(ask, right, leave_out=out), False,
        (str(right),), because, place,
        (places.order_step(engine), places.cycle_step(engine, companion, crank_deg)), tuple(wrongs),
    )  # fmt: skip


_SAYS = {
    "dead-centre": "a dead centre, on which of its two strokes it does not tell",
    "firing": "firing TDC, for certain",
    "ignition": "where the ignition sparks, some degrees before a dead centre",
    "pin": "where the timing pin goes in",
    "stop": "a stop of the maker's own, to set valves at",
}
_MEANS = {"tdc": "dead-centre", "pair": "dead-centre", "other": "stop"}


def which_mark(ask: AskedAt) -> Question:
    """What does the mark at the pointer say?"""
    engine = ask.engine
    mark = _mark_at(engine, ask.crank_deg)
    if mark is None:
        raise CannotAskError("No mark stands at the pointer here; turn to one.")
    right = _MEANS.get(mark.means, mark.means)
    had = {_MEANS.get(one.means, one.means) for one in engine.marks if one.on == "crank"}
    ids = [i for i in _SAYS if i in ("dead-centre", "firing", "ignition", right) or i in had]
    because = f"Mark {mark.label} is {_SAYS[right]}."
    if right == "dead-centre":
        because += " It comes round twice in a cycle: the followers tell which of the two this is."
    wrongs = []
    for one in ids:
        if one == right:
            continue
        mistake = _MARK_TAKEN_FOR.get((right, one), "")
        other_deg = normalise_deg(ask.crank_deg + TURN_DEG)
        wrongs.append(Wrong("is", (one,), because, mistake, other_deg))
    return Question(
        "which-mark",
        ask.crank_deg,
        f"The pointer is at mark {mark.label}. What does this mark say?",
        tuple(Option(one, _SAYS[one]) for one in ids),
        False,
        (right,),
        because,
        wrongs=tuple(wrongs),
    )


_MARK_TAKEN_FOR = {
    ("ignition", "dead-centre"): Misconception.IGNITION_MARK,
    ("ignition", "firing"): Misconception.IGNITION_MARK,
    ("dead-centre", "firing"): Misconception.FULL_TURN,
}
"""What a mark is, and what it was taken for: the reverse of these is no usual mistake."""


def mark_place(engine: Engine, chance: Random) -> float:
    marks = [mark for mark in engine.marks if mark.on == "crank"]
    if not marks:
        raise CannotAskError("This engine has no marks on its crank.")
    return normalise_deg(chance.choice(marks).deg + TURN_DEG * chance.randrange(2))


def _mark_at(engine: Engine, crank_deg: float, means: str | None = None) -> TimingMark | None:
    found = [
        mark for mark in engine.marks
        if mark.on == "crank" and (means is None or mark.means == means)
        and min(apart_deg(deg, crank_deg) for deg in mark.crank_degs()) <= AT_PLACE_DEG
    ]  # fmt: skip
    return found[0] if found else None


def _to_dead_centre(engine: Engine, mark: TimingMark) -> float:
    """Degrees to turn on from an ignition mark to the next dead centre of any cylinder."""
    return min((fire - mark.deg) % TURN_DEG for fire in engine.fire_deg.values())


def _from_dead_centre_deg(cycle_deg: float) -> float:
    into_deg = cycle_deg % STROKE_DEG
    return min(into_deg, STROKE_DEG - into_deg)


def _rocking(engine: Engine, crank_deg: float) -> list[int]:
    """Cylinders in overlap."""
    found = []
    for cylinder in engine.firing_order:
        overlap = overlap_of(engine, cylinder)
        if overlap.starts_deg is None or overlap.overlap_deg is None:
            continue
        if ahead_deg(overlap.starts_deg, crank_deg) <= overlap.overlap_deg:
            found.append(cylinder)
    return found


def _cylinder_options(ask: AskedAt, right: int, *, leave_out: int) -> tuple[Option, ...]:
    wrong = [c for c in ask.engine.firing_order if c not in (right, leave_out)]
    most = len(wrong) if ask.whole else min(MOST_OPTIONS - 1, len(wrong))
    chosen = sorted([right, *ask.chance.sample(wrong, most)])
    return tuple(Option(str(c), f"cylinder {c}") for c in chosen)


def _listed(numbers: list[int]) -> str:
    named = [str(number) for number in numbers]
    if len(named) == 1:
        return f"valve {named[0]}"
    return f"valves {', '.join(named[:-1])} and {named[-1]}"
