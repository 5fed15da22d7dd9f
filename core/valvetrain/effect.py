"""What a clearance does: when the valve then opens and closes, how far, and how long.

A tight valve opens early and closes late; a loose one opens late, closes early and lifts
less. Where the follower's lift passes the clearance, the valve leaves its seat.
"""

from dataclasses import replace
from typing import NamedTuple

import numpy as np

from valvetrain.angles import CYCLE_DEG, normalise_deg
from valvetrain.constants import CURVE_BEYOND_DEG, CURVE_STEPS, ROUNDED_MM
from valvetrain.engine import Engine, Role, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.lobe import FloatArray, Lobe, gap_mm, lobe_of, valve_lift_mm


class Opening(NamedTuple):
    """The open period at one clearance, on the cylinder's cycle; closes may exceed 720."""

    clearance_mm: float
    opens_cycle_deg: float
    closes_cycle_deg: float
    duration_deg: float
    lift_mm: float


class Curve(NamedTuple):
    """Arrays of one length: the gap and the valve's lift over the cycle, clearance as given."""

    cycle_deg: FloatArray
    gap_mm: FloatArray
    lift_mm: FloatArray


class Effect(NamedTuple):
    nominal: Opening
    changed: Opening | None
    """None where the valve never opens: the clearance swallows the whole lift."""
    nominal_curve: Curve
    changed_curve: Curve
    says: tuple[str, ...]


class SetHere(NamedTuple):
    """What becomes of a valve that is set to set_mm at this place."""

    crank_deg: float
    margin_deg: float
    set_mm: float
    true_mm: float
    """The clearance once the follower is back on the heel."""
    says: str


def opening_at(engine: Engine, role: Role, clearance_mm: float) -> Opening | None:
    """None where the clearance is larger than the whole lift of the follower.

    With no clearance at all the valve is open wherever the follower has any lift: the open
    period is that of the ramps' outer ends.
    """
    lobe = lobe_of(engine, role)
    half_deg = _half_open_deg(lobe, clearance_mm)
    if half_deg is None:
        return None
    middle = lobe.events.middle_cycle_deg
    opens = normalise_deg(middle - half_deg)
    top_mm = float(lobe.follower_lift_mm(middle))
    return Opening(clearance_mm, opens, opens + 2 * half_deg, 2 * half_deg, top_mm - clearance_mm)


def _half_open_deg(lobe: Lobe, clearance_mm: float) -> float | None:
    """Degrees from the middle of the event to where the lift has fallen to the clearance."""
    plain = replace(lobe, bump=None)
    middle = plain.events.middle_cycle_deg
    edge_deg = plain.events.duration_deg / 2 + plain.ramp_deg

    def above(out_deg: float) -> float:
        return plain.lift_at_mm(middle + out_deg) - clearance_mm

    if above(0.0) <= 0:
        return None
    if clearance_mm <= 0:
        # A ramp to a nominal clearance of zero has no lift: the events are where it opens.
        return edge_deg if plain.clearance_mm > 0 else plain.events.duration_deg / 2
    if plain.ramp_deg == 0 and above(edge_deg) >= 0:
        return edge_deg
    from scipy.optimize import brentq  # slow to load, and needed only where a valve is looked at

    return float(brentq(above, 0.0, edge_deg, xtol=1e-9))


def effect_of(engine: Engine, valve: Valve, clearance_mm: float) -> Effect:
    """The valve at this clearance beside the same valve at nominal clearance.

    clearance_mm must not be negative.
    """
    nominal, changed = _openings(engine, valve, clearance_mm)
    return Effect(
        nominal,
        changed,
        _curve(engine, valve.role, float(engine.clearance[valve.role].middle_mm)),
        _curve(engine, valve.role, clearance_mm),
        tuple(_sentences(engine, valve, nominal, changed)),
    )


def effect_words(engine: Engine, valve: Valve, clearance_mm: float) -> tuple[str, ...]:
    """What is said of it, without the curves."""
    return tuple(_sentences(engine, valve, *_openings(engine, valve, clearance_mm)))


def _openings(engine: Engine, valve: Valve, clearance_mm: float) -> tuple[Opening, Opening | None]:
    """At the nominal clearance, and at this one."""
    nominal = opening_at(engine, valve.role, float(engine.clearance[valve.role].middle_mm))
    if nominal is None:
        raise AssertionError("at nominal clearance a valve opens")
    return nominal, opening_at(engine, valve.role, clearance_mm)


def _curve(engine: Engine, role: Role, clearance_mm: float) -> Curve:
    lobe = lobe_of(engine, role)
    beyond = lobe.events.duration_deg / 2 + lobe.ramp_deg + CURVE_BEYOND_DEG
    beyond = min(beyond, CYCLE_DEG / 2)
    middle = (lobe.events.opens_cycle_deg + lobe.events.closes_cycle_deg) / 2
    cycle = np.linspace(middle - beyond, middle + beyond, CURVE_STEPS)
    lift = lobe.follower_lift_mm(cycle)
    return Curve(cycle, gap_mm(lift, clearance_mm), valve_lift_mm(lift, clearance_mm))


def _sentences(
    engine: Engine, valve: Valve, nominal: Opening, changed: Opening | None
) -> list[str]:
    if changed is None:
        return ["The valve never opens: the clearance swallows the whole lift."]
    spec = engine.clearance[valve.role]
    below = changed.clearance_mm < float(spec.low_mm) - ROUNDED_MM
    above = changed.clearance_mm > float(spec.high_mm) + ROUNDED_MM
    said = []
    early_deg = (changed.duration_deg - nominal.duration_deg) / 2
    if abs(early_deg) < 0.05:
        said.append("Opens and closes where the maker's events say.")
    elif early_deg > 0:
        how = "Tight" if below else "On the close side of its spec"
        said.append(f"{how}: opens {early_deg:.1f}° early and closes {early_deg:.1f}° late.")
    else:
        how = "Loose" if above else "On the wide side of its spec"
        said.append(f"{how}: opens {-early_deg:.1f}° late and closes {-early_deg:.1f}° early.")
    if changed.clearance_mm <= 0:
        said.append(
            "With no clearance left the valve may not seat once the parts grow: low compression, "
            "burnt valve and seat."
        )
    elif below:
        said.append(
            "Below the spec: it may not seat when hot. A little tight does damage before it is "
            "heard (practice)."
        )
    elif above:
        said.append("Above the spec: noise, hammered stems and rockers, less air, less power.")
    else:
        said.append("Within the spec.")
    if spec.shop_words:
        said.append(f"Judged so: {spec.shop_words}.")
    return said


def set_here(engine: Engine, valve: Valve, crank_deg: float, set_mm: float) -> SetHere:
    """Setting a valve to set_mm at this crank angle, right or wrong place.

    The screw is turned until the gap left beside the follower's lift is set_mm. Back on the
    heel the lift is gone, and the clearance is larger by it.
    """
    cycle_deg = engine.cycle_deg(valve.cylinder, crank_deg)
    own = engine.seen_by(valve)
    lift_mm = float(lobe_of(own, valve.role).follower_lift_mm(cycle_deg))
    margin = valve_margin_deg(engine, valve, crank_deg)
    true_mm = set_mm + lift_mm
    return SetHere(crank_deg, margin, set_mm, true_mm, _outcome(engine, valve, margin, true_mm))


def _outcome(engine: Engine, valve: Valve, margin_deg: float, true_mm: float) -> str:
    spec = engine.clearance[valve.role]
    if margin_deg >= 0:
        return f"Right place: on its heel by {margin_deg:.0f}°. The figure stays what you set."
    lift_mm = float(lobe_of(engine, valve.role).lift_mm)
    where = f"Wrong place: {-margin_deg:.0f}° inside its ramp or lobe"
    if true_mm > float(spec.high_mm) + lift_mm / 4:
        return f"{where}. Back on the heel the gap is so large that the valve hardly opens."
    if true_mm > float(spec.high_mm):
        return f"{where}. Back on the heel it stands far too loose."
    return f"{where}. It came out within the spec by luck; it was not measured."
