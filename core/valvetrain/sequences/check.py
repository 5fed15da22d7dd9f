"""The plan checker: the one judge of every plan, whatever made it."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass

from valvetrain.engine import Engine
from valvetrain.heel import reaches, valve_margin_deg


@dataclass(frozen=True, slots=True)
class Verdict:
    complete: bool
    unset: tuple[int, ...]
    """Valves that no stop sets where they may be set, in physical order."""
    least_margin_deg: float | None
    warnings: tuple[str, ...]


def check_stops(
    engine: Engine, stops: Iterable[tuple[float, tuple[int, ...]]], min_margin_deg: float = 0.0
) -> Verdict:
    """Judges (crank_deg, valve numbers) pairs.

    Complete means: every valve of the engine once, none twice, none that the engine does
    not have, each on its heel with at least min_margin_deg.
    """
    settings = [(angle, number) for angle, numbers in stops for number in numbers]
    warnings: list[str] = []
    set_well: Counter[int] = Counter()
    margins: list[float] = []
    for crank_deg, number in settings:
        valve = engine.valve.get(number)
        if valve is None:
            warnings.append(f"Valve {number} at {crank_deg:g}° is not on this engine.")
            continue
        margin = valve_margin_deg(engine, valve, crank_deg)
        margins.append(margin)
        if reaches(margin, min_margin_deg):
            set_well[number] += 1
        else:
            warnings.append(off_heel_sentence(number, crank_deg, margin, min_margin_deg))
    times = Counter(number for _, number in settings)
    twice = [number for number, count in times.items() if count > 1]
    warnings += [f"Valve {number} is set at more than one stop." for number in twice]
    unset = tuple(valve.number for valve in engine.valves if not set_well[valve.number])
    warnings += [f"Valve {number} is set at no stop." for number in unset if not times[number]]
    return Verdict(
        complete=not warnings,
        unset=unset,
        least_margin_deg=min(margins) if margins else None,
        warnings=tuple(warnings),
    )


def off_heel_sentence(
    number: int, crank_deg: float, margin_deg: float, min_margin_deg: float
) -> str:
    if margin_deg < 0:
        return (
            f"Valve {number} is off its heel at {crank_deg:g}°: "
            f"it is {-margin_deg:g} degrees inside its ramp or lobe."
        )
    return (
        f"Valve {number} at {crank_deg:g}° is on its heel by only {margin_deg:g} degrees; "
        f"{min_margin_deg:g} are asked for."
    )
