"""How a person recognises a place on the crank: marks, and what its valve gear does there."""

from valvetrain.angles import CYCLE_DEG, OVERLAP_TDC_DEG, SAME_ANGLE_DEG, TURN_DEG, apart_deg
from valvetrain.engine import Engine, Role, TimingMark
from valvetrain.heel import valve_margin_deg
from valvetrain.looks import loose_words, overlap_words
from valvetrain.sequences.constants import AT_MARK_DEG
from valvetrain.sequences.method import Need
from valvetrain.sequences.plan import Plan


def marks_at(engine: Engine, crank_deg: float) -> tuple[TimingMark, ...]:
    """The marks that line up here, without ignition marks: those are the ones to pass by."""
    return tuple(
        mark for mark in engine.marks if mark.means != "ignition" and _lines_up(mark, crank_deg)
    )


def _lines_up(mark: TimingMark, crank_deg: float) -> bool:
    # A crank mark comes round every turn, a cam mark every second one.
    round_deg = TURN_DEG if mark.on == "crank" else CYCLE_DEG
    ahead = (crank_deg - mark.deg) % round_deg
    return min(ahead, round_deg - ahead) <= AT_MARK_DEG


def marks_words(engine: Engine, crank_deg: float) -> str:
    said = [
        f"{mark.lines_up}{_at_this_pass(engine, mark, crank_deg)}"
        for mark in marks_at(engine, crank_deg)
    ]
    return ", ".join(said)


def _at_this_pass(engine: Engine, mark: TimingMark, crank_deg: float) -> str:
    """Of the cylinders that a mark serves, the one that it is for on this turn of the two: it is
    nearer to its firing dead centre than to its overlap, and so its valves must be loose."""
    mine = [
        cylinder
        for cylinder in mark.cylinders
        if apart_deg(engine.cycle_deg(cylinder, crank_deg), 0.0) < OVERLAP_TDC_DEG / 2
    ]
    others = [str(cylinder) for cylinder in mark.cylinders if cylinder not in mine]
    if len(mine) != 1 or not others:
        return ""
    brakes = [v for v in engine.valves_of(mine[0]) if v.role is Role.BRAKE]
    loose = all(valve_margin_deg(engine, brake, crank_deg) >= 0 for brake in brakes)
    words = loose_words(engine, mine[0], with_brake=bool(brakes) and loose)
    return f" and {words}, not {' or '.join(others)}"


def dead_centre_words(engine: Engine, crank_deg: float) -> str:
    """Which cylinders stand at firing TDC and which in overlap, as this engine shows it."""
    firing = [c for c in engine.firing_order if _at(engine, c, crank_deg, 0.0)]
    rocking = [c for c in engine.firing_order if _at(engine, c, crank_deg, OVERLAP_TDC_DEG)]
    said = [f"{loose_words(engine, c)} (firing TDC)" for c in firing]
    said += [overlap_words(engine, c) for c in rocking]
    return ", ".join(said)


def place_words(engine: Engine, crank_deg: float) -> str:
    """Everything that helps to find this place; the angle itself where nothing else does."""
    said = [marks_words(engine, crank_deg), dead_centre_words(engine, crank_deg)]
    words = "; ".join(part for part in said if part)
    return words or f"{crank_deg:g}° by a degree wheel: no mark and no dead centre here"


def _at(engine: Engine, cylinder: int, crank_deg: float, cycle_deg: float) -> bool:
    here_deg = engine.cycle_deg(cylinder, crank_deg)
    return apart_deg(here_deg, cycle_deg) <= AT_MARK_DEG + SAME_ANGLE_DEG


def overshot_words(engine: Engine) -> str:
    """What to do when the place was overshot: the ways of turning, as this engine allows."""
    if not engine.turning.reverse_allowed:
        return (
            "Overshot? Never turn back: go on round, 720° to the same place. A crank mark comes "
            "by once before, after 360°: that is the other stroke."
        )
    slack = engine.turning.backlash_deg
    if slack > 0:
        return (
            f"Overshot? Bump back well past it, more than the slack of {slack:g}°, and come "
            "forward again, so that the slack is taken up from the running side."
        )
    return "Overshot? Bump back past it, and come forward to it again."


def needs_places(engine: Engine, plan: Plan) -> tuple[Need, ...]:
    """Stops that lie at no mark are found by a degree wheel only."""
    at_marks = all(marks_at(engine, stop.crank_deg) for stop in plan.stops)
    return (Need("a mark at every stop, or a degree wheel", True if at_marks else None),)
