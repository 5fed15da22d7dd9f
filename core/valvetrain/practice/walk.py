"""The whole job, step by step, as an instructor would show it: what next, and why.

For the level *shown*. It goes by what the student has done and felt, and by what anybody sees at
the engine; of what is hidden it knows only what a hand finds out at once: a head that is warm, a
straight leaf that does not get in, a follower that hangs.
"""

from collections.abc import Sequence
from typing import NamedTuple

from valvetrain.angles import CYCLE_DEG, Stroke
from valvetrain.engine import Valve
from valvetrain.heel import ValveState, valve_margin_deg
from valvetrain.practice import actions as a
from valvetrain.practice.constants import OVERNIGHT_H, SAME_PLACE_DEG, WARM_FELT_MM
from valvetrain.practice.evidence import history, stints
from valvetrain.practice.measuring import margin_now_deg, warm_mm
from valvetrain.practice.proved import Proved, next_leaves_um, proved
from valvetrain.practice.run import Stretch
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import first_state
from valvetrain.practice.walk_adjusting import adjust, is_open, left_outside
from valvetrain.practice.walk_shims import cams_in, free_crank
from valvetrain.practice.walk_step import FIRST, Step, Told, gap_text, let_go, try_step
from valvetrain.sequences import make_plan
from valvetrain.sequences.recognise import place_words
from valvetrain.signs import signs_of
from valvetrain.turned import hand_turning

__all__ = ["Step", "next_step"]


class _Item(NamedTuple):
    """One gap to be measured or set."""

    valve: Valve
    gap: a.GapKind


def next_step(setup: Setup, run: Sequence[Stretch]) -> Step | None:
    """What to do next and why; None once the engine has been started."""
    last = run[-1].after if run else first_state(setup)
    if last.started:
        return None
    told = Told(setup, run, last, history(setup, run))
    if last.closed:
        return _start(told)
    if _goes_round(run):
        return _cannot_go_on(told)
    begun = last.cams_out or any(is_open(told, one.valve, one.gap) for one in _items(told))
    if begun:
        # Whatever was begun is finished first, even where it was begun too early.
        return _adjust_all(told)
    return (
        _cool(told) or _look_over(told) or _measure_all(told) or _adjust_all(told)
        or _close_up(told)
    )  # fmt: skip


def _goes_round(run: Sequence[Stretch]) -> bool:
    """Whether nothing but turning was done for two whole cycles: no place was found."""
    turned_deg = 0.0
    for stretch in reversed(run):
        if not isinstance(stretch.action, a.Turn):
            break
        turned_deg += abs(stretch.action.by_deg)
    return turned_deg > 2 * CYCLE_DEG


def _cannot_go_on(told: Told) -> Step:
    open_ = [one for one in _items(told) if not told.note(one.valve.number, FIRST[one.gap])]
    which = f"valve {open_[0].valve.number}" if open_ else "the next valve"
    return Step(
        f"Show me cannot go on: it finds no place for {which}.",
        "The crank was turned twice round and nothing could be measured. Ask your instructor.",
    )


def _look_over(told: Told) -> Step | None:
    """What an eye finds before any leaf: pads that a leaf would bridge."""
    if told.has_seen_pads or not any(
        told.setup.engine.adjuster(valve.number).has_nut for valve in told.setup.engine.valves
    ):
        return None
    return Step(
        "Look at the pads.",
        "A leaf bridges a pad that is worn hollow, and reads tight there.",
        a.Look("pads"),
    )


def _items(told: Told) -> list[_Item]:
    """Every gap that is set, valve by valve; the closing one first, since it moves the other."""
    engine = told.setup.engine
    return [
        _Item(valve, gap)
        for valve in engine.valves
        if not engine.adjuster(valve.number).adjusts_itself
        for gap in _gaps_of(told, valve)
    ]


def _gaps_of(told: Told, valve: Valve) -> tuple[a.GapKind, ...]:
    return ("closing", "opening") if valve.role in told.setup.engine.closing else ("opening",)


def _cool(told: Told) -> Step | None:
    roles = told.setup.engine.roles
    if all(warm_mm(told.setup, told.last, role) <= WARM_FELT_MM for role in roles):
        return None
    return Step(
        "The head is warm to the hand: let the engine stand overnight.",
        "Its spec is for a cold engine, and a warm gap is not corrected in the head.",
        a.Wait(OVERNIGHT_H),
    )


def _measure_all(told: Told) -> Step | None:
    """Every gap is measured and written before anything is changed; what was changed already is
    past that."""
    open_ = [
        one
        for one in _items(told)
        if not told.note(one.valve.number, FIRST[one.gap])
        and next(told.changes(one.valve.number), None) is None
    ]
    if not open_:
        return None
    here = [one for one in open_ if margin_now_deg(told.setup, told.last, one.valve.number) >= 0]
    if not here:
        return _turn_to(told, open_)
    item = here[0]
    step = measure(told, item.valve, item.gap)
    if isinstance(step, Step):
        return step
    text = gap_text(told, item.valve.number, item.gap, step.estimate_mm)
    return Step(
        f"Write {text} for valve {item.valve.number}.",
        "All valves are measured and written down before anything is changed: then the record "
        "shows how the engine was found.",
        a.Write(item.valve.number, FIRST[item.gap], text),  # type: ignore[arg-type]
        item.valve.number,
        item.gap,
    )


def measure(told: Told, valve: Valve, gap: a.GapKind) -> Step | Proved:
    """The next leaf at this valve, which stands on its heel; what its leaves prove once they lie
    next to each other."""
    number = valve.number
    if (step := let_go(told, valve, gap)) is not None:
        return step
    found = proved(told.setup, told.history, number, gap)
    leaves_um = next_leaves_um(told.setup, number, found, gap)
    if leaves_um is not None:
        return try_step(told, valve, leaves_um, gap, found.says(told.setup, leaves_um))
    if gap == "closing" and found.is_nothing:
        return _by_fingers(told, number, found)
    return found


def _by_fingers(told: Told, number: int, found: Proved) -> Step | Proved:
    """A closing gap that takes no leaf: whether its shim turns tells a small gap from none."""
    play = stints(told.history, number, "closing")[-1].play
    if play is None:
        return Step(
            f"Turn the closing shim of valve {number} between two fingers.",
            "No leaf goes in: while the shim turns there is a gap, and when it is held fast "
            "there is none.",
            a.Wiggle(number, "closing"),
            number,
            "closing",
        )
    between_mm = min(told.setup.leaves_um) / 2000
    return found if play == "none" else found._replace(held_mm=(between_mm,))


def _turn_to(told: Told, items: Sequence[_Item]) -> Step:
    """On to the nearest place at which one of these valves may be measured."""
    if told.last.crank_locked:
        return free_crank(told)
    places = [(_ahead_deg(told, deg), deg, one.valve) for one in items for deg in _at(told, one)]
    if not places:
        return _cannot_go_on(told)
    ahead_deg, at_deg, valve = min(places, key=lambda place: place[0])
    engine = told.setup.engine
    signs = signs_of(engine, Stroke.POWER, dict.fromkeys(engine.roles, ValveState.HEEL))
    sign = signs.followers or signs.rods or signs.lobes or signs.air
    return Step(
        f"Turn the crank on by {ahead_deg:.0f}°: {place_words(engine, at_deg)}.",
        f"There valve {valve.number} is on its heel, where alone a gap may be measured. The sign: "
        f"{sign}.",
        a.Turn(ahead_deg),
        valve.number,
    )


def _at(told: Told, item: _Item) -> list[float]:
    """Crank angles ahead at which a valve may be measured: firing TDC where it is on its heel
    there, else where its lobe points away; and where a hand finds it tight at both (a decompressor
    holds it, or the cam is a tooth out), the middle of its heel."""
    engine, valve = told.setup.engine, item.valve
    away = make_plan(engine, "lobe-away").stops
    lobe_away = [stop.crank_deg for stop in away if valve.number in stop.valves]
    for places in ([engine.fire_deg[valve.cylinder]], lobe_away, _anywhere(told, valve)):
        free = [deg for deg in places if _is_free(told, valve, deg)]
        if ahead := [deg for deg in free if _ahead_deg(told, deg) >= SAME_PLACE_DEG]:
            return ahead
    return []


def _is_free(told: Told, valve: Valve, crank_deg: float) -> bool:
    """Whether a hand would find the valve on its heel with the crank there."""
    cam_deg = crank_deg - told.last.cam_late_deg
    return valve_margin_deg(told.setup.as_turned, valve, cam_deg) >= 0


def _anywhere(told: Told, valve: Valve) -> list[float]:
    """The place with the largest margin, to ten degrees."""

    def margin_deg(crank_deg: float) -> float:
        cam_deg = crank_deg - told.last.cam_late_deg
        return valve_margin_deg(told.setup.as_turned, valve, cam_deg)

    tens = [float(deg) for deg in range(0, int(CYCLE_DEG), 10)]
    return [max(tens, key=margin_deg)]


def _ahead_deg(told: Told, at_deg: float) -> float:
    return (at_deg - told.last.crank_deg) % CYCLE_DEG


def _adjust_all(told: Told) -> Step | None:
    for item in _items(told):
        step = adjust(told, item.valve, item.gap, measure=measure, turn_to=_to_valve)
        if step is not None:
            return step
    return cams_in() if told.last.cams_out else None


def _to_valve(told: Told, valve: Valve) -> Step:
    return _turn_to(told, [_Item(valve, "opening")])


def _close_up(told: Told) -> Step:
    last, turning = told.last, hand_turning(told.setup.engine)
    if last.crank_locked:
        return _turn_to(told, [_items(told)[0]])
    if not last.tools_counted:
        return Step(
            "Count the leaves and the spanners.",
            "What is missing lies under the cover, and is found by the engine.",
            a.CountTools(),
        )
    if last.tool_on:
        return Step(
            f"{turning.off}.",
            turning.would,
            a.ToolOff(),
        )
    return Step(
        "Put the valve cover on, its gasket looked at.",
        "Without it oil is all over the bench, and dirt in the head.",
        a.Cover(on=True),
    )


def _start(told: Told) -> Step:
    outside = left_outside(told)
    why = "Every valve is proved and written down; the first start only confirms it."
    if outside:
        numbers = " and ".join(map(str, outside))
        which = f"Valve {numbers} is" if len(outside) == 1 else f"Valves {numbers} are"
        why = f"{which} written outside the spec: several tries brought no better. Ask first."
    return Step("Start the engine, and listen.", why, a.FirstStart())
