"""Find the mistake: a colleague's sheet with exactly one misconception on it.

Every line is first written as it should be: the crank where the valve is on its heel, the leaf that
drags there, its gap, the verdict by the spec, and what follows from it. Then one line is written
again as somebody with one misconception writes it. All that proves it stands on the sheet itself.
"""

from collections.abc import Callable
from decimal import Decimal
from typing import NamedTuple

from valvetrain.angles import TURN_DEG, ahead_deg, normalise_deg
from valvetrain.drill import places
from valvetrain.drill.constants import CLEAR_DEG, MOST_LINES, OUTSIDE_MM, TOLD_APART_MM
from valvetrain.drill.gaps import (
    HUNDREDTH,
    high,
    in_words,
    low,
    middle,
    plain,
    read,
    rounded,
    spec_of,
)
from valvetrain.drill.misconceptions import ABOUT, Misconception
from valvetrain.drill.question import (
    AskedAt,
    CannotAskError,
    Option,
    Question,
    SheetLine,
    Wrong,
)
from valvetrain.engine import Clearance, Engine, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.units import MM_PER_THOU

LEAVE = "left as it is"


class _Done(NamedTuple):
    """A valve, what its gap is, where it was measured, and the figures of its line."""

    valve: Valve
    spec: Clearance
    left_mm: Decimal
    at_deg: float
    leaf_mm: Decimal
    """What dragged there; nothing does under a valve that is open."""
    wrote_mm: Decimal
    verdict: str
    way: str
    """wider, narrower or leave."""
    after_nut: bool = True
    """Whether it was measured again with the lock nut tight, where there is one."""


class _Slip(NamedTuple):
    """One misconception on one line. rightly: what should stand there instead."""

    mistake: Misconception
    line: _Done
    rightly: str
    proof: str


def find_the_mistake(ask: AskedAt) -> Question:
    """Which line of a colleague's sheet is wrong, why, and what should stand there?"""
    engine = ask.engine
    lines = [_rightly(ask, valve) for valve in _some_valves(ask)]
    slips = [slip for line in lines for make in _SLIPS if (slip := make(engine, line)) is not None]
    if len(lines) < 2 or not slips:
        raise CannotAskError("This engine has too few valves with a clearance to make a sheet of.")
    mistake = ask.chance.choice(sorted({slip.mistake for slip in slips}))
    true = ask.chance.choice([slip for slip in slips if slip.mistake is mistake])
    (before,) = (one for one in lines if one.valve == true.line.valve)
    options = _options(ask, true, before, slips)
    number = true.line.valve.number
    because = f"Valve {number}: {true.proof} Rightly: {true.rightly}."
    written = [true.line if one.valve == true.line.valve else one for one in lines]
    return Question(
        "find-the-mistake",
        ask.crank_deg,
        "A colleague handed in this sheet. One line is wrong: which, why, and what should stand "
        "there?",
        tuple(Option(_id(one), _says(one)) for one in options),
        False,
        (_id(true),),
        because,
        steps=tuple(_checked(engine, one, true) for one in written),
        wrongs=tuple(_wrong(engine, one, true, lines, because) for one in options if one != true),
        sheet=tuple(_line(engine, one) for one in written),
        shown_deg=true.line.at_deg,
    )


def _some_valves(ask: AskedAt) -> list[Valve]:
    """Whole cylinders, as many as a sheet has room for."""
    engine = ask.engine
    lashed = [
        valve
        for valve in engine.valves
        if valve.role in engine.clearance and not engine.adjuster_of(valve.role).adjusts_itself
    ]
    each = max((sum(v.cylinder == c for v in lashed) for c in engine.firing_order), default=1)
    room = max(1, MOST_LINES // max(1, each))
    cylinders = sorted(ask.chance.sample(engine.firing_order, min(room, engine.cylinders)))
    return [valve for valve in lashed if valve.cylinder in cylinders]


def _rightly(ask: AskedAt, valve: Valve) -> _Done:
    spec = spec_of(ask.engine, valve)
    kind = ask.chance.choice(("tight", "within", "within", "loose"))
    by = rounded(ask.chance.choice(OUTSIDE_MM), spec)
    gap = {"tight": low(spec) - by, "loose": high(spec) + by, "within": middle(spec)}[kind]
    gap = max(gap, rounded(MM_PER_THOU, spec))
    at_deg = ask.engine.fire_deg[valve.cylinder]
    if valve_margin_deg(ask.engine, valve, at_deg) < CLEAR_DEG:
        at_deg = normalise_deg(ask.engine.full_lift_deg(valve) + TURN_DEG)
    if valve_margin_deg(ask.engine, valve, at_deg) < CLEAR_DEG:
        raise CannotAskError("The heels of this engine are too narrow to make a sheet of.")
    return _of_gap(_Done(valve, spec, gap, at_deg, gap, gap, "", ""), gap)


def _of_gap(line: _Done, gap: Decimal) -> _Done:
    """The line with this figure, and what follows from it."""
    verdict = "tight" if gap < low(line.spec) else "loose" if gap > high(line.spec) else "within"
    way = {"tight": "wider", "loose": "narrower", "within": "leave"}[verdict]
    return line._replace(wrote_mm=gap, verdict=verdict, way=way)


def _elsewhere(
    engine: Engine, line: _Done, at_deg: float, mistake: Misconception, where: str
) -> _Slip | None:
    """Measured where the valve is off its heel; None where that would not show."""
    found = read(engine, line.valve, at_deg, line.left_mm)
    off_deg = -valve_margin_deg(engine, line.valve, at_deg)
    if off_deg < CLEAR_DEG or line.left_mm - found < TOLD_APART_MM:
        return None
    wrong = _of_gap(line._replace(at_deg=normalise_deg(at_deg), leaf_mm=found), found)
    return _Slip(
        mistake,
        wrong,
        f"measured at {line.at_deg:g}°, on its heel",
        f"{where} {places.stands(engine, line.valve, at_deg)} Its clearance is "
        f"{in_words(line.left_mm, line.spec)}, and there a leaf finds "
        f"{in_words(found, line.spec)}.",
    )


def _full_turn(engine: Engine, line: _Done) -> _Slip | None:
    at_deg = normalise_deg(line.at_deg + TURN_DEG)
    where = f"{at_deg:g}° is a full turn from {line.at_deg:g}°."
    return _elsewhere(engine, line, at_deg, Misconception.FULL_TURN, where)


def _lobe(engine: Engine, line: _Done) -> _Slip | None:
    """At full lift, where that is not a full turn out as well."""
    at_deg = engine.full_lift_deg(line.valve)
    away_deg = ahead_deg(normalise_deg(line.at_deg + TURN_DEG), at_deg)
    if min(away_deg, 2 * TURN_DEG - away_deg) < CLEAR_DEG:
        return None
    where = f"at {at_deg:g}° it is open furthest."
    return _elsewhere(engine, line, at_deg, Misconception.LOBE, where)


def _unit(_engine: Engine, line: _Done) -> _Slip | None:
    """A leaf in thou, written as hundredths of a millimetre."""
    thou = (line.left_mm / MM_PER_THOU).quantize(Decimal(1))
    wrote = (thou / 100).quantize(HUNDREDTH)
    wrong = _of_gap(line, wrote)
    if abs(wrote - line.left_mm) < TOLD_APART_MM or wrong.verdict == line.verdict:
        return None
    return _Slip(
        Misconception.UNIT,
        wrong,
        f"written {plain(line.left_mm, line.spec)}",
        f"the leaf that dragged is {_stamped(line.leaf_mm)}, and {wrote} mm was written: its "
        "thousandths of an inch, taken for hundredths of a millimetre.",
    )


def _reversed(_engine: Engine, line: _Done) -> _Slip | None:
    other = {"tight": "loose", "loose": "tight"}.get(line.verdict)
    if other is None:
        return None
    way = "wider" if other == "tight" else "narrower"
    return _Slip(
        Misconception.REVERSED,
        line._replace(verdict=other, way=way),
        f"{line.verdict}",
        f"{in_words(line.left_mm, line.spec)} is called {other}, and the spec is "
        f"{line.spec.printed}.",
    )


def _wrong_way(engine: Engine, line: _Done) -> _Slip | None:
    other = {"wider": "narrower", "narrower": "wider"}.get(line.way)
    if other is None or not engine.adjuster_of(line.valve.role).wider:
        return None
    did = _did(engine, line._replace(way=other))
    return _Slip(
        Misconception.WRONG_WAY,
        line._replace(way=other),
        _did(engine, line),
        f"it is {line.verdict}, and was put the other way: {did}.",
    )


def _nut(engine: Engine, line: _Done) -> _Slip | None:
    if not _has_nut(engine, line):
        return None
    return _Slip(
        Misconception.NUT,
        line._replace(after_nut=False),
        "the nut tight, then measured",
        "it was measured, and then its nut was tightened. That takes the screw with it: what the "
        "gap is since then nobody has measured.",
    )


_SLIPS: tuple[Callable[[Engine, _Done], _Slip | None], ...] = (
    _full_turn,
    _lobe,
    _unit,
    _reversed,
    _wrong_way,
    _nut,
)


def _options(ask: AskedAt, true: _Slip, before: _Done, slips: list[_Slip]) -> list[_Slip]:
    """The mistake, other causes on its line, and other lines with causes that are as likely."""
    valve = true.line.valve
    same = [
        one
        for one in slips
        if one.line.valve == valve
        and one != true
        and not _shows(ask.engine, one.mistake, true, before)
    ]
    alike = [one for one in slips if one.line.valve != valve and one.mistake is true.mistake]
    others = [one for one in slips if one.line.valve != valve and one.mistake is not true.mistake]
    chosen = [true]
    for group, count in ((same, 2), (alike, 1), (others, 1)):
        chosen += ask.chance.sample(group, min(count, len(group)))
    if len(chosen) < 2:
        raise CannotAskError("This sheet has too little on it to be wrong about.")
    return sorted(chosen, key=lambda one: (one.line.valve.number, one.mistake))


def _shows(engine: Engine, mistake: Misconception, true: _Slip, before: _Done) -> bool:
    """Whether the line as it is written shows this mistake as well: what follows from the true one
    may look like another (a figure in the wrong unit has the wrong verdict too), and then both
    answers would be right."""
    line = true.line
    return {
        Misconception.FULL_TURN: valve_margin_deg(engine, line.valve, line.at_deg) < 0,
        Misconception.LOBE: valve_margin_deg(engine, line.valve, line.at_deg) < 0,
        Misconception.UNIT: line.wrote_mm != line.leaf_mm,
        Misconception.REVERSED: line.verdict != before.verdict,
        Misconception.WRONG_WAY: line.way != before.way,
        Misconception.NUT: not line.after_nut,
    }[mistake]


def _wrong(engine: Engine, chosen: _Slip, true: _Slip, lines: list[_Done], because: str) -> Wrong:
    valve = chosen.line.valve
    if valve == true.line.valve:
        says = f"That is the line, but not why. {because}"
    else:
        (line,) = (one for one in lines if one.valve == valve)
        says = f"{_checked(engine, line, true)} {because}"
    return Wrong("is", (_id(chosen),), says, crank_deg=true.line.at_deg)


def _checked(engine: Engine, line: _Done, true: _Slip) -> str:
    """A line gone through as whoever looks for the mistake does."""
    number = line.valve.number
    if line.valve == true.line.valve:
        return f"Valve {number}: {true.proof}"
    margin = valve_margin_deg(engine, line.valve, line.at_deg)
    return (
        f"Valve {number} is right: at {line.at_deg:g}° on its heel by {margin:.0f}°, and "
        f"{_written(line)} against {line.spec.printed} is {line.verdict}."
    )


def _id(slip: _Slip) -> str:
    return f"{slip.line.valve.number}:{slip.mistake}"


def _says(slip: _Slip) -> str:
    return f"valve {slip.line.valve.number}, {_label(slip.mistake)}; rightly {slip.rightly}"


def _label(mistake: Misconception) -> str:
    label = ABOUT[mistake].label
    return label[:1].lower() + label[1:]


def _line(engine: Engine, line: _Done) -> SheetLine:
    return SheetLine(
        line.valve.number,
        line.valve.cylinder,
        line.valve.role.value,
        line.at_deg,
        _stamped(line.leaf_mm) if line.leaf_mm > 0 else "none goes in",
        _written(line),
        line.verdict,
        _did(engine, line),
    )


def _written(line: _Done) -> str:
    """What stands on the sheet: in the spec's unit, but for thou that are taken for hundredths."""
    if line.wrote_mm == line.leaf_mm:
        return plain(line.wrote_mm, line.spec)
    return f"{line.wrote_mm.quantize(HUNDREDTH)} mm"


def _stamped(length_mm: Decimal) -> str:
    """A leaf has both on it."""
    thou = (length_mm / MM_PER_THOU).quantize(Decimal(1))
    return f"{length_mm.quantize(HUNDREDTH)} mm, {thou} thou"


def _has_nut(engine: Engine, line: _Done) -> bool:
    """Whether what was done to it loosened a lock nut."""
    return line.way != "leave" and engine.adjuster_of(line.valve.role).has_nut


def _did(engine: Engine, line: _Done) -> str:
    adjuster = engine.adjuster_of(line.valve.role)
    ways = {"wider": adjuster.wider, "narrower": adjuster.narrower, "leave": LEAVE}
    done = ways[line.way] or "set right"
    if not _has_nut(engine, line):
        return done
    return f"{done}; {'nut tight, measured' if line.after_nut else 'measured, nut tight'}"
