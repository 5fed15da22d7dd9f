"""Where the crank stands and what a valve does there, in the words and sums of a lesson."""

from random import Random

from valvetrain.angles import CYCLE_DEG, ahead_deg, normalise_deg, stroke_at
from valvetrain.drill.constants import PLACE_STEP_DEG
from valvetrain.drill.question import Option
from valvetrain.engine import Engine, Role, Valve
from valvetrain.heel import off_heel_arcs, valve_margin_deg


def some_place(engine: Engine, chance: Random) -> float:
    """A crank angle at or some way past the firing TDC of a cylinder."""
    cylinder = chance.choice(engine.firing_order)
    reach_deg = 720 if engine.cylinders == 1 else 180
    past_deg = chance.randrange(0, reach_deg, PLACE_STEP_DEG)
    return normalise_deg(engine.fire_deg[cylinder] + past_deg)


def firing_place(engine: Engine, chance: Random) -> float:
    """The firing TDC of some cylinder."""
    return engine.fire_deg[chance.choice(engine.firing_order)]


def fired_last(engine: Engine, crank_deg: float) -> int:
    return min(engine.firing_order, key=lambda c: ahead_deg(engine.fire_deg[c], crank_deg))


def told(engine: Engine, crank_deg: float) -> str:
    """The place as a class is told it: `Cylinder 1 fired 40° ago.`"""
    cylinder = fired_last(engine, crank_deg)
    past_deg = ahead_deg(engine.fire_deg[cylinder], crank_deg)
    if past_deg == 0:
        return f"Cylinder {cylinder} is at firing TDC."
    return f"Cylinder {cylinder} fired {past_deg:g}° ago."


def cycle_step(engine: Engine, cylinder: int, crank_deg: float) -> str:
    """How far a cylinder is in its own cycle, as a sum: `720 − 180 + 50 = 590`."""
    fire_deg, cycle_deg = engine.fire_deg[cylinder], engine.cycle_deg(cylinder, crank_deg)
    turned = f"{crank_deg:g} − {fire_deg:g}"
    if crank_deg < fire_deg:
        turned = f"{CYCLE_DEG:g} − {fire_deg:g} + {crank_deg:g}"
    stroke = stroke_at(cycle_deg)
    return (
        f"Cylinder {cylinder} fires at {fire_deg:g}°: {turned} = {cycle_deg:g}° into its own "
        f"cycle, on {stroke}."
    )


def order_step(engine: Engine) -> str:
    return f"Firing order {'-'.join(map(str, engine.firing_order))}."


def heel_step(engine: Engine, role: Role) -> str:
    """Where valves of a role are off their heel, ramps counted in."""
    arcs = off_heel_arcs(engine, role)
    spans = " and ".join(
        f"from {arc.from_deg:g}° to {normalise_deg(arc.to_deg):g}°" for arc in arcs
    )
    return f"{role.value.capitalize()} valves are off their heel {spans}, ramps counted in."


def stands(engine: Engine, valve: Valve, crank_deg: float) -> str:
    margin = valve_margin_deg(engine, valve, crank_deg)
    who = f"Valve {valve.number} ({valve.role}, cylinder {valve.cylinder})"
    if margin >= 0:
        return f"{who} is on its heel by {margin:.0f}°."
    return f"{who} is {-margin:.0f}° inside its ramp or lobe."


def strikes(engine: Engine, valve: Valve, crank_deg: float) -> tuple[str, float]:
    """Why a valve that is off its heel may not be set, and where it is open furthest."""
    full_deg = engine.full_lift_deg(valve)
    ahead = ahead_deg(crank_deg, full_deg)
    further = f"{ahead:.0f}° further on" if ahead <= CYCLE_DEG / 2 else (
        f"{CYCLE_DEG - ahead:.0f}° before"
    )  # fmt: skip
    says = stands(engine, valve, crank_deg)
    if ahead in (0, CYCLE_DEG):
        return f"{says} It is fully open here.", full_deg
    return f"{says} Fully open it is {further}.", full_deg


def settable(engine: Engine, crank_deg: float) -> set[int]:
    """Numbers of the valves on their heel."""
    return {v.number for v in engine.valves if valve_margin_deg(engine, v, crank_deg) >= 0}


def valve_option(valve: Valve) -> Option:
    says = f"valve {valve.number}, cylinder {valve.cylinder} {valve.role}"
    return Option(str(valve.number), says, valve.number)


def valve_asked(engine: Engine, about: int | None, chance: Random) -> Valve:
    return engine.valve[about] if about in engine.valve else chance.choice(engine.valves)
