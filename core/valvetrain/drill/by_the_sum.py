"""Questions about the constant sum (the rule of nine on an eight-valve four): where it fails."""

from random import Random

from valvetrain.angles import TURN_DEG, apart_deg
from valvetrain.drill import places
from valvetrain.drill.constants import CLEAR_DEG, NEAR_FULL_DEG
from valvetrain.drill.misconceptions import Misconception
from valvetrain.drill.question import AskedAt, CannotAskError, Option, Question, Wrong
from valvetrain.engine import Engine, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.sequences.constant_sum import SumPair, SumRule, sum_rule

NOT_OPEN = "No valve is fully open here; turn until one is."


def makes_the_sum(ask: AskedAt) -> Question:
    """Which valve makes the sum with the open one? Only where the rule serves this engine."""
    engine = ask.engine
    rule = sum_rule(engine)
    if not rule.holds or len(engine.valves) < 4:
        raise CannotAskError("The rule does not serve this engine; ask whether it does instead.")
    pair = _pair_at(rule, ask)
    opened, right = engine.valves[pair.opened - 1], engine.valves[pair.to_set - 1]
    wrong = [v for v in engine.valves if v not in (opened, right)]
    some = wrong if ask.whole else ask.chance.sample(wrong, min(3, len(wrong)))
    chosen = sorted([right, *some], key=engine.valves.index)
    return Question(
        "makes-the-sum",
        pair.crank_deg,
        f"By the rule of {rule.total}, which valve is to be set?",
        tuple(places.valve_option(valve) for valve in chosen),
        False,
        (str(right.number),),
        f"{rule.total} − {pair.opened} = {pair.to_set}: valve {right.number}, on its heel by "
        f"{pair.margin_deg:.0f}°. The rule was tested on every valve of this engine and serves it.",
        f"Valve {opened.number} (number {pair.opened} from the front) is fully open.",
        (
            f"The sum is one more than there are valves: {len(engine.valves)} + 1 = {rule.total}.",
            f"{rule.total} − {pair.opened} = {pair.to_set}.",
        ),
        tuple(
            _not_the_sum(engine, rule, valve, pair) for valve in engine.valves
            if valve not in (opened, right)
        ),
    )  # fmt: skip


def _not_the_sum(engine: Engine, rule: SumRule, valve: Valve, pair: SumPair) -> Wrong:
    place = engine.valves.index(valve) + 1
    lead = f"{pair.opened} + {place} = {pair.opened + place}, not {rule.total}."
    if valve_margin_deg(engine, valve, pair.crank_deg) >= 0:
        says = places.stands(engine, valve, pair.crank_deg)
        return Wrong("is", (str(valve.number),), f"{lead} {says}")
    says, full_deg = places.strikes(engine, valve, pair.crank_deg)
    return Wrong("is", (str(valve.number),), f"{lead} {says}", Misconception.LOBE, full_deg)


def does_the_sum_serve(ask: AskedAt) -> Question:
    """Is the valve that the rule names on its heel, and by how much?"""
    engine = ask.engine
    rule = sum_rule(engine)
    pair = _pair_at(rule, ask)
    if abs(pair.margin_deg) < CLEAR_DEG or pair.opened == pair.to_set:
        raise CannotAskError("The valve that the rule names is too near to the edge of its heel.")
    opened, named = engine.valves[pair.opened - 1], engine.valves[pair.to_set - 1]
    serves = pair.margin_deg > 0
    right_deg = round(abs(pair.margin_deg))
    other_deg = round(abs(valve_margin_deg(engine, named, pair.crank_deg + TURN_DEG)))
    figures = sorted({right_deg, other_deg} if abs(other_deg - right_deg) >= CLEAR_DEG else {
        right_deg
    })  # fmt: skip
    options = [Option(f"yes-{deg}", f"yes, by {deg}°") for deg in figures] + [
        Option(f"no-{deg}", f"no, it is {deg}° inside its lobe or ramp") for deg in figures
    ]
    right = f"{'yes' if serves else 'no'}-{right_deg}"
    stands, full_deg = places.strikes(engine, named, pair.crank_deg)
    if serves:
        stands = places.stands(engine, named, pair.crank_deg)
    return Question(
        "does-the-sum-serve",
        pair.crank_deg,
        f"The rule of {rule.total} names valve {named.number} (cylinder {named.cylinder} "
        f"{named.role}). May it be set here, and by how much?",
        tuple(options),
        False,
        (right,),
        f"{stands} {rule.reason}",
        f"Valve {opened.number} (cylinder {opened.cylinder} {opened.role}) is fully open.",
        (
            places.order_step(engine),
            places.cycle_step(engine, named.cylinder, pair.crank_deg),
            places.heel_step(engine, named.role),
        ),
        tuple(
            _not_by_the_sum(one.id, right, stands, None if serves else full_deg)
            for one in options if one.id != right
        ),
    )  # fmt: skip


def _not_by_the_sum(given: str, right: str, stands: str, full_deg: float | None) -> Wrong:
    said, is_so = given.partition("-")[0], right.partition("-")[0]
    # Only who trusts the rule where it fails shows that mistake; the reverse is caution.
    trusts = said == "yes" and is_so == "no"
    return Wrong("is", (given,), stands, Misconception.SUM_RULE if trusts else "", full_deg)


def pair_place(engine: Engine, chance: Random) -> float:
    return chance.choice(sum_rule(engine).pairs).crank_deg


def _pair_at(rule: SumRule, ask: AskedAt) -> SumPair:
    """The pair whose open valve is open furthest here."""
    best = min(rule.pairs, key=lambda pair: apart_deg(pair.crank_deg, ask.crank_deg))
    if apart_deg(best.crank_deg, ask.crank_deg) > NEAR_FULL_DEG:
        raise CannotAskError(NOT_OPEN)
    if rule.holds and best.margin_deg < CLEAR_DEG:
        raise CannotAskError("The valve that the rule names is too near to the edge of its heel.")
    return best
