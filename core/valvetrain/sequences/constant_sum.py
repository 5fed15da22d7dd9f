"""The constant-sum rule (rule of nine on an eight-valve four), tested on the engine at hand.

Valves are numbered 1 to n from the front, in physical order, whatever numbers the file
uses. While valve k is fully open, the rule says to set valve n + 1 - k. That is right only
where the head is laid out as a mirror and companions sit at mirrored places.
"""

from dataclasses import dataclass

from valvetrain.engine import Engine
from valvetrain.heel import valve_margin_deg


@dataclass(frozen=True, slots=True)
class SumPair:
    """Positions from the front: with `opened` at full lift, `to_set` has this margin."""

    opened: int
    to_set: int
    crank_deg: float
    margin_deg: float


@dataclass(frozen=True, slots=True)
class SumRule:
    total: int
    holds: bool
    pairs: tuple[SumPair, ...]
    reason: str


def sum_rule(engine: Engine) -> SumRule:
    pairs = tuple(_pair(engine, k) for k in range(1, len(engine.valves) + 1))
    total = len(engine.valves) + 1
    wrong = [pair for pair in pairs if pair.margin_deg < 0]
    return SumRule(total, not wrong, pairs, _reason(engine, total, pairs, wrong))


def _pair(engine: Engine, opened: int) -> SumPair:
    to_set = len(engine.valves) + 1 - opened
    crank_deg = engine.full_lift_deg(engine.valves[opened - 1])
    margin = valve_margin_deg(engine, engine.valves[to_set - 1], crank_deg)
    return SumPair(opened, to_set, crank_deg, margin)


def _reason(engine: Engine, total: int, pairs: tuple[SumPair, ...], wrong: list[SumPair]) -> str:
    if not wrong:
        least = min(pairs, key=lambda pair: pair.margin_deg)
        return (
            f"The rule of {total} holds on this engine: with any valve fully open, its partner is "
            f"on its heel by at least {least.margin_deg:g} degrees."
        )
    worst = min(wrong, key=lambda pair: pair.margin_deg)
    valve = engine.valves[worst.to_set - 1]
    return (
        f"The rule of {total} fails on this engine for {len(wrong)} of {len(pairs)} valves: "
        f"with the valve at place {worst.opened} fully open, the one at place {worst.to_set} "
        f"(valve {valve.number}, cylinder {valve.cylinder} {valve.role}) is "
        f"{-worst.margin_deg:g} degrees inside its ramp or lobe. "
        "The head is not laid out as a mirror of companions."
    )
