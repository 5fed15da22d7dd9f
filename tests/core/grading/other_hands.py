"""Sheets by hands that the model of findings knows nothing of: a second generator.

It shares neither code nor assumptions with the model or with `ops/finding_rates.py`: readings come
from leaves that go or do not, one after the other, by hands whose errors have heavy tails, that
lean to one side, that use boxes of coarse or thou leaves, and that leave lines blank; engines have
specs of 0.10 mm as well as 0.50. Where a valve is open is reckoned from its events by itself.
"""

import random
from dataclasses import dataclass, field

from tests.core.conftest import engine_document
from valvetrain.engine_file import read_engine
from valvetrain.grading import read_entry
from valvetrain.grading.findings import Case, KeyGap, Reference

ORDERS = {4: [1, 3, 4, 2], 6: [1, 5, 3, 6, 2, 4]}
HUNDREDTHS = [n / 100 for n in range(3, 101)]
FIVES = [n / 100 for n in range(5, 101, 5)]
THOU = [n * 0.0254 for n in range(1, 41)]


@dataclass(frozen=True)
class Hand:
    """tail is the degrees of freedom of a Student's t (small: heavy); step_mm in what steps it
    writes; box the leaves it has."""

    name: str
    scatter_mm: float = 0.008
    tail: float = 30
    lean_mm: float = 0.0
    box: list[float] = field(default_factory=lambda: HUNDREDTHS)
    blank: float = 0.0
    splits: bool = False
    """Whether it writes half-way between the leaf that goes and the one that does not."""


HANDS = [
    Hand("steady"),
    Hand("unsteady", scatter_mm=0.015),
    Hand("heavy tails", scatter_mm=0.009, tail=3),
    # With the half of a leaf that is lost by writing the one that went: 0.02 to either side.
    Hand("leans tight", lean_mm=-0.015),
    Hand("leans loose", lean_mm=0.025),
    Hand("leaves of 0.05, split", box=FIVES, splits=True),
    Hand("half a leaf", splits=True),
    Hand("thou leaves", box=THOU),
    Hand("leaves some blank", blank=0.15),
]
PASSING_HANDS = [
    *HANDS,
    *(Hand(f"scatter of {mm:.3f} mm", scatter_mm=mm) for mm in (0.010, 0.014, 0.018, 0.020)),
]
"""Hands whose second passes are looked at too."""
SPECS = {"fine": (0.10, 0.14, 0.16, 0.20), "usual": (0.22, 0.28, 0.32, 0.38),
         "wide": (0.40, 0.50, 0.50, 0.60)}  # fmt: skip


def an_engine(cylinders, spec):
    low_i, high_i, low_e, high_e = SPECS[spec]
    clearance = {
        "unit": "mm",
        "intake": {"min": low_i, "max": high_i},
        "exhaust": {"min": low_e, "max": high_e},
    }
    return read_engine(engine_document(ORDERS[cylinders], clearance=clearance))


def a_stand(engine, chance):
    """Most valves in their spec, some a leaf or several out."""
    gaps = {}
    for valve in engine.valves:
        low, high = limits(engine, valve)
        gap = low + (high - low) * chance.random()
        if chance.random() < 0.3:
            gap += chance.choice([-1, 1]) * (0.03 + 0.09 * chance.random())
        gaps[valve.number] = max(0.05, gap)
    return gaps


def limits(engine, valve):
    spec = engine.clearance[valve.role]
    return float(spec.low_mm), float(spec.high_mm)


def student_t(chance, freedom):
    """A normal over the root of a chi squared, by their definitions."""
    normal = chance.gauss(0, 1)
    chi2 = sum(chance.gauss(0, 1) ** 2 for _ in range(round(freedom)))
    return normal / (chi2 / round(freedom)) ** 0.5


def felt(hand, gap, chance):
    """The gap as this hand reads it: leaves one after the other until one does not go."""
    at = gap + hand.lean_mm + hand.scatter_mm * student_t(chance, hand.tail)
    if at <= 0.02:
        return 0.0
    went = max((leaf for leaf in hand.box if leaf <= at), default=None)
    refused = min((leaf for leaf in hand.box if leaf > at), default=hand.box[-1])
    if went is None:
        return 0.0
    return (went + refused) / 2 if hand.splits else went


def as_written(gap):
    return f"{gap:.3f}".rstrip("0") if round(gap, 2) != gap else f"{gap:.2f}"


def entries(engine, readings, stops=None, verdicts=None, seconds=None):
    made = []
    for valve in engine.valves:
        gap = readings.get(valve.number)
        text = "" if gap is None else gap if isinstance(gap, str) else f"{gap:.2f}"
        low, high = limits(engine, valve)
        said = None
        unit, text = ("thou", text.removesuffix(" thou")) if " thou" in text else ("mm", text)
        if text and not isinstance(gap, str):
            value = float(text)
            said = "tight" if value < low else "loose" if value > high else "within"
        if verdicts is not None:
            said = verdicts.get(valve.number, said)
        made.append(
            read_entry(
                engine,
                valve=valve.number,
                reading=text,
                unit=unit,
                crank_deg=None if stops is None else stops.get(valve.number),
                verdict=said,
                further={"second": f"{seconds[valve.number]:.2f}"}
                if seconds and seconds[valve.number]
                else {},
            )
        )
    return made


def case_of(engine, gaps, lines, scatter=None):
    key = {valve: KeyGap(gap, 0.003) for valve, gap in gaps.items()}
    reference = Reference(engine, key, scatter) if scatter else Reference(engine, key)
    return Case.of(reference, lines)


def clean(engine, hand, chance):
    gaps = a_stand(engine, chance)
    readings = {
        valve: None if chance.random() < hand.blank else felt(hand, gap, chance)
        for valve, gap in gaps.items()
    }
    return gaps, readings


# Where valves are open, by their events: 12 46 48 14, ramps of 16 degrees.

OPEN = {"intake": (360 - 12, 540 + 46), "exhaust": (180 - 48, 360 + 14)}
RAMP = 16


def lifted(engine, valve, crank_deg):
    """0 on the heel, 1 fully off the ramp, between on it: a straight ramp, unlike the model's."""
    cycle = (crank_deg - engine.fire_deg[valve.cylinder]) % 720
    opens, closes = OPEN[valve.role.value]
    if opens <= cycle <= closes:
        return 1.0
    off = min((opens - cycle) % 720, (cycle - closes) % 720)
    return max(0.0, 1 - off / RAMP)


def measured_there(engine, gaps, hand, at_deg, chance):
    """Readings with the crank at at_deg for each valve; the valves that are off their ramp there,
    and those that are lifted at all."""
    readings, off, lifted_at_all = {}, set(), set()
    for valve in engine.valves:
        up = lifted(engine, valve, at_deg[valve.number])
        gap = gaps[valve.number] * (1 - up)
        readings[valve.number] = felt(hand, gap, chance)
        if up == 1:
            off.add(valve.number)
        if up > 0:
            lifted_at_all.add(valve.number)
    return readings, off, lifted_at_all


def two_stops(engine):
    """Each valve at the stop, 0 or 360, at which it is not lifted."""
    return {
        valve.number: 0.0 if lifted(engine, valve, 0.0) == 0 else 360.0 for valve in engine.valves
    }


def dice(seed):
    return random.Random(seed)  # noqa: S311 (hands, no secrets)
