"""One function for each kind of question. Each gives None where chance or the engine offers none.

A place is told as a class is told it: how far a cylinder is past its firing TDC. Places too
near to the edge of what is asked are not used: nobody should argue about three degrees.
"""

from random import Random

from valvetrain.angles import STROKE_DEG, Stroke, ahead_deg, normalise_deg, stroke_at
from valvetrain.drill.constants import CLEAR_DEG, MOST_OPTIONS, PLACE_STEP_DEG
from valvetrain.drill.question import Option, Question
from valvetrain.engine import Engine, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.overlap import overlap_of
from valvetrain.sequences.constant_sum import sum_rule


def which_valves(engine: Engine, chance: Random) -> Question | None:
    """Which valves may be set now?"""
    anchor, crank_deg = _place(engine, chance)
    clear = [v for v in engine.valves if abs(valve_margin_deg(engine, v, crank_deg)) >= CLEAR_DEG]
    chosen = sorted(chance.sample(clear, min(MOST_OPTIONS, len(clear))), key=engine.valves.index)
    may = [v for v in chosen if valve_margin_deg(engine, v, crank_deg) > 0]
    if not may or (len(may) == len(chosen) > 2):
        return None
    return Question(
        "which-valves",
        crank_deg,
        f"{_told(engine, anchor, crank_deg)} Which of these valves may be set now?",
        tuple(_valve_option(valve) for valve in chosen),
        True,
        tuple(str(valve.number) for valve in may),
        " ".join(_stands(engine, valve, crank_deg) for valve in chosen),
    )


def which_stroke(engine: Engine, chance: Random) -> Question | None:
    """Which stroke is a cylinder on?"""
    anchor, crank_deg = _place(engine, chance)
    others = [c for c in engine.firing_order if c != anchor] or [anchor]
    cylinder = chance.choice(others)
    cycle_deg = engine.cycle_deg(cylinder, crank_deg)
    into_deg = cycle_deg % STROKE_DEG
    if min(into_deg, STROKE_DEG - into_deg) < CLEAR_DEG:
        return None
    stroke = stroke_at(cycle_deg)
    return Question(
        "which-stroke",
        crank_deg,
        f"{_told(engine, anchor, crank_deg)} On which stroke is cylinder {cylinder}?",
        tuple(Option(s.value, s.value) for s in Stroke),
        False,
        (stroke.value,),
        f"Cylinder {cylinder} fired {cycle_deg:g}° ago: power to 180°, exhaust to 360°, intake to "
        f"540°, then compression. So it is on {stroke}.",
    )


def fires_next(engine: Engine, chance: Random) -> Question | None:
    """Which cylinder fires next?"""
    if engine.cylinders < 3:
        return None
    place = chance.randrange(engine.cylinders)
    cylinder = engine.firing_order[place]
    following = engine.firing_order[(place + 1) % engine.cylinders]
    interval = engine.firing_intervals_deg[place]
    if interval < CLEAR_DEG:
        return None
    return Question(
        "fires-next",
        engine.fire_deg[cylinder],
        f"Cylinder {cylinder} is at firing TDC. Which cylinder fires next, turning the running "
        "way?",
        _cylinder_options(engine, following, chance, leave_out=cylinder),
        False,
        (str(following),),
        f"The firing order is {'-'.join(map(str, engine.firing_order))}: cylinder {following} "
        f"fires {interval:g}° after cylinder {cylinder}.",
    )


def who_rocks(engine: Engine, chance: Random) -> Question | None:
    """Whose companion is in overlap?"""
    cylinder = chance.choice(engine.firing_order)
    companion = engine.companion(cylinder)
    if engine.cylinders < 3 or companion is None:
        return None
    crank_deg = engine.fire_deg[cylinder]
    rocking = [c for c in engine.firing_order if _rocks(engine, c, crank_deg)]
    if rocking != [companion]:
        return None
    because = (
        f"Cylinders {cylinder} and {companion} are companions, 360° apart: while one is at firing "
        "TDC, the other is between exhaust and intake, with both valves a little open."
    )
    if chance.random() < 0.5:
        asks, right, out = (
            f"Cylinder {cylinder} is at firing TDC. Which cylinder rocks in overlap?",
            companion,
            cylinder,
        )
    else:
        asks, right, out = (
            f"Cylinder {companion} rocks in overlap. Which cylinder is at firing TDC?",
            cylinder,
            companion,
        )
    options = _cylinder_options(engine, right, chance, leave_out=out)
    return Question("who-rocks", crank_deg, asks, options, False, (str(right),), because)


def makes_the_sum(engine: Engine, chance: Random) -> Question | None:
    """Which valve makes the sum with the open one? Only where the rule serves this engine."""
    rule = sum_rule(engine)
    if not rule.holds or len(engine.valves) < 4:
        return None
    pair = chance.choice(rule.pairs)
    if pair.margin_deg < CLEAR_DEG:
        return None
    opened, right = engine.valves[pair.opened - 1], engine.valves[pair.to_set - 1]
    wrong = [v for v in engine.valves if v not in (opened, right)]
    chosen = [right, *chance.sample(wrong, min(3, len(wrong)))]
    chosen.sort(key=engine.valves.index)
    return Question(
        "makes-the-sum",
        pair.crank_deg,
        f"Valve {opened.number} (number {pair.opened} from the front) is fully open. By the "
        f"rule of {rule.total}, which valve is to be set?",
        tuple(_valve_option(valve) for valve in chosen),
        False,
        (str(right.number),),
        f"{rule.total} − {pair.opened} = {pair.to_set}: valve {right.number}, on its heel by "
        f"{pair.margin_deg:.0f}°. The rule was tested on every valve of this engine and serves it.",
    )


def does_the_sum_serve(engine: Engine, chance: Random) -> Question | None:
    """Is the valve that the rule names on its heel? Only where the rule fails somewhere."""
    rule = sum_rule(engine)
    pair = chance.choice(rule.pairs)
    if rule.holds or abs(pair.margin_deg) < CLEAR_DEG or pair.opened == pair.to_set:
        return None
    opened, named = engine.valves[pair.opened - 1], engine.valves[pair.to_set - 1]
    serves = pair.margin_deg > 0
    return Question(
        "does-the-sum-serve",
        pair.crank_deg,
        f"Valve {opened.number} (cylinder {opened.cylinder} {opened.role}) is fully open. The rule "
        f"of {rule.total} names valve {named.number} (cylinder {named.cylinder} {named.role}). May "
        "it be set there?",
        (Option("yes", "yes, it may"), Option("no", "no, it may not")),
        False,
        ("yes" if serves else "no",),
        f"{_stands(engine, named, pair.crank_deg)} {rule.reason}",
    )


KINDS = (
    which_valves,
    which_stroke,
    fires_next,
    who_rocks,
    makes_the_sum,
    does_the_sum_serve,
)


def _place(engine: Engine, chance: Random) -> tuple[int, float]:
    """A cylinder and a crank angle at or some way past its firing TDC."""
    cylinder = chance.choice(engine.firing_order)
    reach_deg = 720 if engine.cylinders == 1 else 180
    past_deg = chance.randrange(0, reach_deg, PLACE_STEP_DEG)
    return cylinder, normalise_deg(engine.fire_deg[cylinder] + past_deg)


def _told(engine: Engine, cylinder: int, crank_deg: float) -> str:
    past_deg = ahead_deg(engine.fire_deg[cylinder], crank_deg)
    if past_deg == 0:
        return f"Cylinder {cylinder} is at firing TDC."
    return f"Cylinder {cylinder} fired {past_deg:g}° ago."


def _stands(engine: Engine, valve: Valve, crank_deg: float) -> str:
    margin = valve_margin_deg(engine, valve, crank_deg)
    who = f"Valve {valve.number} ({valve.role}, cylinder {valve.cylinder})"
    if margin >= 0:
        return f"{who} is on its heel by {margin:.0f}°."
    return f"{who} is {-margin:.0f}° inside its ramp or lobe."


def _rocks(engine: Engine, cylinder: int, crank_deg: float) -> bool:
    overlap = overlap_of(engine, cylinder)
    if overlap.starts_deg is None or overlap.overlap_deg is None:
        return False
    return ahead_deg(overlap.starts_deg, crank_deg) <= overlap.overlap_deg


def _valve_option(valve: Valve) -> Option:
    says = f"valve {valve.number}, cylinder {valve.cylinder} {valve.role}"
    return Option(str(valve.number), says, valve.number)


def _cylinder_options(
    engine: Engine, right: int, chance: Random, *, leave_out: int
) -> tuple[Option, ...]:
    wrong = [c for c in engine.firing_order if c not in (right, leave_out)]
    chosen = sorted([right, *chance.sample(wrong, min(MOST_OPTIONS - 1, len(wrong)))])
    return tuple(Option(str(c), f"cylinder {c}") for c in chosen)
