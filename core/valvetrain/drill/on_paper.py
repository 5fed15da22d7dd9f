"""Questions about figures: tight or loose, which way, how much, which unit, warmth and the nut."""

from collections.abc import Callable, Sequence
from decimal import Decimal
from random import Random

from valvetrain.angles import TURN_DEG
from valvetrain.drill import places
from valvetrain.drill.constants import CREEP_MM, OUTSIDE_MM, TOLD_APART_MM, WARM_MM
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
from valvetrain.drill.misconceptions import Misconception
from valvetrain.drill.question import AskedAt, CannotAskError, Option, Question, Wrong
from valvetrain.engine import Clearance, Engine, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.units import MM_PER_THOU


def tight_or_loose(ask: AskedAt) -> Question:
    """Is this gap tight, within or loose?"""
    valve, spec = _measured_valve(ask)
    kinds = ("tight", "within", "loose")
    kind = ask.chance.choice(kinds if _room_below(spec) else kinds[1:])
    shown = _gap(spec, kind, ask.chance)
    because = (
        f"{_asks(valve, spec)} and {in_words(shown, spec)} is "
        f"{'between its limits' if kind == 'within' else f'{_off(shown, spec)} {kind}'}. "
        f"{_shop(spec)}"
    ).strip()
    reversed_ = {"tight": "loose", "loose": "tight"}.get(kind, "")
    wrongs = [
        Wrong("is", (one,), because, Misconception.REVERSED if one == reversed_ else "")
        for one in ("tight", "within", "loose")
        if one != kind
    ]
    return Question(
        "tight-or-loose",
        ask.crank_deg,
        f"{_asks(valve, spec)}. A leaf says {in_words(shown, spec)}. Tight, within or loose?",
        tuple(Option(one, one) for one in ("tight", "within", "loose")),
        False,
        (kind,),
        because,
        steps=(f"Limits: {in_words(low(spec), spec)} to {in_words(high(spec), spec)}.",
               f"Gap: {in_words(shown, spec)}."),
        wrongs=tuple(wrongs),
    )  # fmt: skip


def thinner_or_thicker(ask: AskedAt) -> Question:
    """A gap is off: which way is it put right?"""
    valve, spec = _measured_valve(ask)
    adjuster = ask.engine.adjuster_of(valve.role)
    if not adjuster.wider:
        raise CannotAskError("The engine file does not say how these valves are adjusted.")
    kind = ask.chance.choice(("tight", "loose") if _room_below(spec) else ("loose",))
    shown = _gap(spec, kind, ask.chance)
    ways = {"wider": adjuster.wider, "narrower": adjuster.narrower, "leave": "leave it as it is"}
    right = "wider" if kind == "tight" else "narrower"
    because = (
        f"{in_words(shown, spec)} is {_off(shown, spec)} {kind}, so the gap must become "
        f"{'larger' if kind == 'tight' else 'smaller'}: {ways[right]}."
    )
    other = "narrower" if right == "wider" else "wider"
    further = f"The other way it would be {'tighter' if kind == 'tight' else 'looser'} still."
    return Question(
        "thinner-or-thicker",
        ask.crank_deg,
        f"{_asks(valve, spec)}, and reads {in_words(shown, spec)}. What is to be done?",
        tuple(Option(one, says) for one, says in ways.items()),
        False,
        (right,),
        because,
        steps=(f"Limits: {in_words(low(spec), spec)} to {in_words(high(spec), spec)}.", because),
        wrongs=(
            Wrong("is", (other,), f"{because} {further}", Misconception.WRONG_WAY),
            Wrong("is", ("leave",), f"{in_words(shown, spec)} is outside the limits. {because}"),
        ),
    )


def what_it_reads(ask: AskedAt) -> Question:
    """What does a leaf find at this place under a valve whose clearance is known?"""
    engine, crank_deg = ask.engine, ask.crank_deg
    valve = ask.about if ask.about is not None else _one_off_heel(ask)
    asked = places.valve_asked(engine, valve, ask.chance)
    spec = spec_of(engine, asked)
    left = middle(spec)
    here, other = read(engine, asked, crank_deg, left), read(
        engine, asked, crank_deg + TURN_DEG, left
    )  # fmt: skip
    on_heel = valve_margin_deg(engine, asked, crank_deg) >= 0
    stands = places.stands(engine, asked, crank_deg)
    full_deg = None if on_heel else engine.full_lift_deg(asked)
    because = f"{stands} So a leaf finds {in_words(here, spec)}."
    ways: list[tuple[Decimal, str]] = [
        (left, "" if on_heel else Misconception.LOBE),
        (other, Misconception.FULL_TURN),
        (Decimal(0), ""),
        (left / 2, ""),
        (left * 2, ""),
    ]
    return _figures(
        ask, "what-it-reads",
        f"Valve {asked.number} (cylinder {asked.cylinder} {asked.role}) was left at "
        f"{in_words(left, spec)} on its heel. How much does a leaf find here?",
        here, ways, because,
        (places.cycle_step(engine, asked.cylinder, crank_deg),
         places.heel_step(engine, asked.role)),
        full_deg, told=lambda figure: in_words(figure, spec),
    )._replace(place=places.told(engine, crank_deg))  # fmt: skip


def which_unit(ask: AskedAt) -> Question:
    """A leaf in thou: what is written in millimetres?"""
    valve, spec = _measured_valve(ask)
    thou = (middle(spec) / MM_PER_THOU).quantize(Decimal(1))
    right = thou * MM_PER_THOU
    inch = f"{thou / 1000:.3f}".lstrip("0")
    because = f"{thou} thou × 0.0254 = {right.quantize(HUNDREDTH)} mm."
    ways = [
        (thou / 100, Misconception.UNIT),
        (right * 10, Misconception.UNIT),
        (thou / 1000, Misconception.UNIT),
        (right * 2, ""),
    ]
    return _figures(
        ask, "which-unit",
        f"The leaf that drags under valve {valve.number} is stamped {inch} in, {thou} thou. What "
        "do you write in millimetres?",
        right, ways, because, (f"One thou is 0.0254 mm: {thou} × 0.0254.", because), None,
        told=lambda figure: f"{figure.quantize(HUNDREDTH)} mm",
    )  # fmt: skip


def warm_engine(ask: AskedAt) -> Question:
    """The engine is warm: what is done with the reading?"""
    if ask.engine.measured != "cold":
        raise CannotAskError("This engine is measured hot, as its file says.")
    valve, spec = _measured_valve(ask)
    shown, by = _gap(spec, "within", ask.chance), rounded(ask.chance.choice(WARM_MM), spec)
    options = (
        Option("write", f"write {in_words(shown, spec)} down: it is within"),
        Option("correct", f"take off {plain(by, spec)} for the warmth, and write that"),
        Option("wait", "let it stand until it is cold, and measure then"),
        Option("set", "set it to the middle of its limits now"),
    )
    because = (
        "The spec is for a cold engine. How much warmth takes or gives differs from valve to "
        "valve: let it stand, overnight is best, and measure then."
    )
    return Question(
        "warm-engine", ask.crank_deg,
        f"The head is warm to the hand. {_asks(valve, spec)}, cold, and reads "
        f"{in_words(shown, spec)} now. What do you do?",
        options, False, ("wait",), because,
        wrongs=tuple(
            Wrong("is", (one.id,), because, Misconception.WARM)
            for one in options if one.id != "wait"
        ),
    )  # fmt: skip


def lock_nut(ask: AskedAt) -> Question:
    """The nut moves the gap: what is set before it is tightened?"""
    valve, spec = _measured_valve(ask)
    if not ask.engine.adjuster_of(valve.role).has_nut:
        raise CannotAskError("These valves have no lock nut.")
    aim, by = middle(spec), rounded(ask.chance.choice(CREEP_MM), spec)
    # A gap that the nut would close to nothing is not set below nothing.
    opens = ask.chance.random() < 0.5 and aim > by * 2
    right = aim - by if opens else aim + by
    does, sign = ("opens", "−") if opens else ("closes", "+")
    because = (
        f"The nut {does} the gap by {plain(by, spec)}: {plain(aim, spec)} {sign} {plain(by, spec)} "
        f"= {plain(right, spec)} before it, so that it is right after it. Measure again after the "
        "nut."
    )
    ways = [
        (aim, Misconception.NUT),
        (aim + by if opens else aim - by, ""),
        (aim + (by * 2 if not opens else -by * 2), ""),
    ]
    return _figures(
        ask, "lock-nut",
        f"On the valve before, tightening the nut did this: it {does} the gap by "
        f"{in_words(by, spec)}. You want {in_words(aim, spec)} under valve {valve.number}. What do "
        "you set, with the nut loose?",
        right, ways, because, (because,), None, told=lambda figure: in_words(figure, spec),
        apart_mm=HUNDREDTH,
    )  # fmt: skip


def _figures(
    ask: AskedAt,
    kind: str,
    asks: str,
    right: Decimal,
    ways: Sequence[tuple[Decimal, str]],
    because: str,
    steps: tuple[str, ...],
    crank_deg: float | None,
    *,
    told: Callable[[Decimal], str],
    apart_mm: Decimal = TOLD_APART_MM,
) -> Question:
    """A question whose options are figures, in order of size, those too alike left out."""
    kept: list[tuple[Decimal, str]] = [(right, "")]
    for figure, mistake in ways:
        if figure >= 0 and all(abs(figure - one) >= apart_mm for one, _ in kept):
            kept.append((figure, mistake))
    if len(kept) < 2:
        raise CannotAskError("All that could be answered here is too alike; turn on a little.")
    kept.sort()
    ids = {figure: f"{figure.quantize(HUNDREDTH)}" for figure, _ in kept}
    return Question(
        kind, ask.crank_deg, asks,
        tuple(Option(ids[figure], told(figure)) for figure, _ in kept),
        False, (ids[right],), because, steps=steps,
        wrongs=tuple(
            Wrong("is", (ids[figure],), because, mistake, crank_deg)
            for figure, mistake in kept if figure != right
        ),
    )  # fmt: skip


def _one_off_heel(ask: AskedAt) -> int:
    """A valve that is off its heel and not wide open, if there is one: there it is worth asking."""
    off = [v for v in ask.engine.valves if valve_margin_deg(ask.engine, v, ask.crank_deg) < 0]
    return ask.chance.choice(off or list(ask.engine.valves)).number


def _measured_valve(ask: AskedAt) -> tuple[Valve, Clearance]:
    valve = places.valve_asked(ask.engine, ask.about, ask.chance)
    if ask.engine.adjuster(valve.number).adjusts_itself:
        raise CannotAskError("Hydraulic followers have no clearance to set.")
    return valve, spec_of(ask.engine, valve)


def _asks(valve: Valve, spec: Clearance) -> str:
    return f"Valve {valve.number} ({valve.role}) asks for {spec.printed}"


def _shop(spec: Clearance) -> str:
    return f"{spec.shop_words[:1].upper()}{spec.shop_words[1:]}." if spec.shop_words else ""


def _room_below(spec: Clearance) -> bool:
    """Whether a gap can be plainly tight and still be one: a spec from nothing leaves no room."""
    return low(spec) - rounded(min(OUTSIDE_MM), spec) >= HUNDREDTH


def _gap(spec: Clearance, kind: str, chance: Random) -> Decimal:
    """A gap, as leaves are marked, that is plainly tight, within or loose."""
    outside = [rounded(by, spec) for by in OUTSIDE_MM]
    if kind == "tight":
        return low(spec) - chance.choice([by for by in outside if low(spec) - by >= HUNDREDTH])
    by = chance.choice(outside)
    return high(spec) + by if kind == "loose" else middle(spec)


def _off(shown: Decimal, spec: Clearance) -> str:
    by = spec.low_mm - shown if shown < spec.low_mm else shown - spec.high_mm
    return plain(by, spec)


def any_place(engine: Engine, chance: Random) -> float:
    """Where the crank stands does not matter: at the first firing TDC."""
    return engine.fire_deg[engine.firing_order[0]]
