"""What is legal in an engine file but suspicious: the reasons to look at the manual again."""

import re
from collections.abc import Iterator

from valvetrain.angles import CYCLE_DEG, SAME_ANGLE_DEG, TURN_DEG, normalise_deg
from valvetrain.constants import (
    LARGE_BUMP_MM,
    LARGE_GAP_MM,
    LARGE_LIFT_MM,
    NEAR_TDC_DEG,
    SMALL_BRAKE_GAP_THOU,
    SMALL_GAP_THOU,
)
from valvetrain.engine import Clearance, Engine, Role
from valvetrain.heel import heel_is_left, valve_margin_deg
from valvetrain.overlap import overlap_length_deg
from valvetrain.units import Unit, agree, parse_length

_TWO_CYLINDERS = re.compile(r"(\d{1,2})\s*[-–/,&]\s*(\d{1,2})")
_PAIR = re.compile(
    r"(\d+(?:[.,]\d+)?\s*mm)\s*[(=/]\s*(\d+(?:[.,]\d+)?\s*(?:thou|in)\b)"
    r"|(\d+(?:[.,]\d+)?\s*(?:thou|in))\s*[(=/]\s*(\d+(?:[.,]\d+)?\s*mm\b)"
)


def suspicions(engine: Engine) -> tuple[str, ...]:
    """One sentence for each thing that is worth a second look; empty when all is plain."""
    return tuple(warning for check in _CHECKS for warning in check(engine))


def _units(engine: Engine) -> Iterator[str]:
    for role in engine.roles:
        spec = engine.clearance[role]
        is_brake = role is Role.BRAKE
        if spec.unit is Unit.MM and spec.high_mm > LARGE_GAP_MM and not is_brake:
            yield (
                f"The {role} clearance {_range(spec)} is very large for millimetres; "
                "was it written in thou?"
            )
        smallest = SMALL_BRAKE_GAP_THOU if is_brake else SMALL_GAP_THOU
        if spec.unit is Unit.THOU and 0 < spec.spread.high < smallest:
            yield (
                f"The {role} clearance {_range(spec)} is very small for thou; "
                "was it written in millimetres?"
            )


def _written_pairs(engine: Engine) -> Iterator[str]:
    for match in _PAIR.finditer(engine.notes):
        one, other = (text for text in match.groups() if text)
        if not agree(parse_length(one), parse_length(other)):
            yield (
                f"The notes give {one} and {other} for one gap, and they do not agree: {one} is "
                f"{parse_length(one).mm:.3f} mm, {other} is {parse_length(other).mm:.3f} mm."
            )


def _spreads(engine: Engine) -> Iterator[str]:
    if {Role.INTAKE, Role.EXHAUST} <= set(engine.roles):
        intake, exhaust = engine.clearance[Role.INTAKE], engine.clearance[Role.EXHAUST]
        if exhaust.middle_mm < intake.middle_mm:
            yield (
                f"The exhaust clearance {_range(exhaust)} is tighter than the intake's "
                f"{_range(intake)}; the exhaust runs hotter and is usually set looser."
            )
    for role in engine.roles:
        spec = engine.clearance[role]
        sets_itself = engine.adjuster_of(role).adjusts_itself
        if spec.spread.is_single and not sets_itself:
            tolerance = f"±{spec.shop_tolerance.normalize():f} {spec.unit}"
            yield (
                f"The {role} clearance is the single figure {spec.spread.low} {spec.unit} "
                f"with no tolerance; gaps are judged by the shop tolerance of {tolerance} "
                "(common practice). Give minus and plus if the manual has them."
            )


def _overlap(engine: Engine) -> Iterator[str]:
    if {Role.INTAKE, Role.EXHAUST} <= set(engine.roles):
        length = overlap_length_deg(engine)
        if length <= 0:
            yield (
                f"There is no overlap: the exhaust shuts {-length:g} degrees "
                "before the intake opens."
            )


def _cylinders(engine: Engine) -> Iterator[str]:
    for cylinder in range(1, engine.cylinders + 1):
        roles = {valve.role for valve in engine.valves_of(cylinder)}
        for role in (Role.INTAKE, Role.EXHAUST):
            if role not in roles:
                yield f"Cylinder {cylinder} has no {role} valve."


def _marks(engine: Engine) -> Iterator[str]:
    dead_centres = {angle % TURN_DEG for angle in engine.fire_deg.values()}
    for mark in engine.marks:
        if mark.means not in ("tdc", "pair"):
            continue
        off = min(_turn_apart(mark.deg, dead_centre) for dead_centre in dead_centres)
        if off > SAME_ANGLE_DEG:
            yield (
                f"The mark “{mark.label}” at {mark.deg:g} means {mark.means} but lies "
                f"{off:g} degrees from the nearest top dead centre."
            )


def _pair_labels(engine: Engine) -> Iterator[str]:
    """A pair mark that is stamped with two cylinders says that they rise together there."""
    for mark in engine.marks:
        named = _TWO_CYLINDERS.fullmatch(mark.label.strip()) if mark.means == "pair" else None
        for cylinder in map(int, named.groups()) if named else ():
            if cylinder not in engine.fire_deg:
                yield f"The mark “{mark.label}” names cylinder {cylinder}; there is none."
                continue
            off = _turn_apart(mark.deg, engine.fire_deg[cylinder])
            if off > NEAR_TDC_DEG:
                yield (
                    f"The mark “{mark.label}” at {mark.deg:g} says that cylinder {cylinder} is at "
                    f"the top there, but by the firing order it is {off:g} degrees from it."
                )


def _throws(engine: Engine) -> Iterator[str]:
    """In-line cranks with an even number of throws are mirrored, so that they balance: the
    first and the last piston rise together, the second and the last but one... (practice)."""
    count = engine.cylinders
    even = all(abs(i - CYCLE_DEG / count) < SAME_ANGLE_DEG for i in engine.firing_intervals_deg)
    if engine.layout != "inline" or len(engine.banks) > 1 or count < 4 or count % 2 or not even:
        return
    (bank,) = engine.banks
    for cylinder, mirrored in zip(bank[: count // 2], reversed(bank), strict=False):
        if _turn_apart(engine.fire_deg[cylinder], engine.fire_deg[mirrored]) > SAME_ANGLE_DEG:
            companion = engine.companion(cylinder)
            yield (
                f"By the firing order {'-'.join(map(str, engine.firing_order))} cylinders "
                f"{cylinder} and {companion} rise together; the crank of an in-line {count} is "
                f"nearly always mirrored ({cylinder} with {mirrored}). Read the order again."
            )
            return


def _turn_apart(one_deg: float, other_deg: float) -> float:
    ahead = (other_deg - one_deg) % TURN_DEG
    return min(ahead, TURN_DEG - ahead)


def _lifts(engine: Engine) -> Iterator[str]:
    for role in engine.roles:
        if engine.lift_mm[role] > LARGE_LIFT_MM:
            yield (
                f"The {role} valves lift {engine.lift_mm[role]:g} mm; hardly any valve lifts more "
                f"than {LARGE_LIFT_MM:g}. Is the point in its place?"
            )


def _bump(engine: Engine) -> Iterator[str]:
    bump = engine.decompressor
    if bump is None:
        return
    if bump.lift_mm > LARGE_BUMP_MM:
        yield (
            f"The decompressor lifts its valve {bump.lift_mm:g} mm; a millimetre or so is enough "
            "to let the pressure off."
        )
    events = engine.events[bump.role]
    middle_deg = (bump.opens_cycle_deg + bump.closes_cycle_deg) / 2
    if (middle_deg - events.opens_cycle_deg) % CYCLE_DEG < events.duration_deg:
        yield (
            f"The decompressor acts at {normalise_deg(middle_deg):g} degrees of the cycle, where "
            f"the {bump.role} valve is open anyway; it belongs into the compression stroke "
            "(540 to 720)."
        )


def _no_heel(engine: Engine) -> Iterator[str]:
    """Where lobe and decompressor meet at both ends nothing is left to measure on."""
    held = [v for v in engine.valves if not heel_is_left(engine, v)]
    if held:
        named = ", ".join(str(valve.number) for valve in held)
        which = "Valves" if len(held) > 1 else "Valve"
        yield (
            f"{which} {named}: lobe, ramps and decompressor leave no heel, and so no place "
            "at which the clearance could be measured."
        )


def _chart(engine: Engine) -> Iterator[str]:
    """The manual's own table, held against what the engine itself says."""
    for stop in engine.maker_chart:
        lifted = [
            str(number)
            for number in stop.valves
            if valve_margin_deg(engine, engine.valve[number], stop.crank_deg) < 0
        ]
        if lifted:
            yield (
                f"The maker's table sets valve {', '.join(lifted)} at {stop.crank_deg:g} degrees, "
                "where by timing and firing order it is not on its heel. Read both again."
            )


def _mark_cylinders(engine: Engine) -> Iterator[str]:
    """A dead-centre mark that names its cylinders lies where they are at the top."""
    for mark in engine.marks:
        if mark.means not in ("tdc", "pair"):
            continue
        for cylinder in mark.cylinders:
            off = _turn_apart(mark.deg, engine.fire_deg[cylinder])
            if off > NEAR_TDC_DEG:
                yield (
                    f"The mark “{mark.label}” at {mark.deg:g} serves cylinder {cylinder} by the "
                    f"file, but that is {off:g} degrees from its top there."
                )


def _adjusters(engine: Engine) -> Iterator[str]:
    for role, adjuster in engine.adjusters.items():
        yield from adjuster.suspicions(role)


def _range(spec: Clearance) -> str:
    return f"{spec.spread.low}–{spec.spread.high} {spec.unit}"


_CHECKS = (
    _units,
    _written_pairs,
    _spreads,
    _overlap,
    _cylinders,
    _throws,
    _marks,
    _pair_labels,
    _mark_cylinders,
    _chart,
    _lifts,
    _bump,
    _no_heel,
    _adjusters,
)
