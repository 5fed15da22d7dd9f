"""How often findings find what other hands did, and accuse what they did not: `other_hands.py`.

`python -m tests.core.grading.other_rates` writes the second table of docs/findings.md.
"""

from tests.core.grading.other_hands import (
    HANDS,
    PASSING_HANDS,
    SPECS,
    an_engine,
    case_of,
    clean,
    dice,
    entries,
    felt,
    limits,
    measured_there,
    two_stops,
)
from valvetrain.grading.findings import Kind, explain, learn

ENGINES = [an_engine(cylinders, spec) for cylinders in (4, 6) for spec in SPECS]
STEADY = HANDS[0]


def told_of(engine, gaps, readings, stops, verdicts=None):
    return explain(case_of(engine, gaps, entries(engine, readings, stops, verdicts)))


def accused(hand, each):
    """The kinds told of clean sheets of a hand, one list for each sheet that was accused."""
    found = []
    for place, engine in enumerate(ENGINES):
        chance = dice(f"clean {hand.name} {place}")
        for _ in range(each):
            gaps, readings = clean(engine, hand, chance)
            told = told_of(engine, gaps, readings, two_stops(engine))
            found += [[one.kind for one in told]] if told else []
    return found


def second_passes_accused(hand, each):
    """The share of clean sheets with two passes that are told to differ between them."""
    told = 0
    for place, engine in enumerate(ENGINES):
        chance = dice(f"passes {hand.name} {place}")
        for _ in range(each):
            gaps, readings = clean(engine, hand, chance)
            again = {v: g and felt(hand, gaps[v], chance) for v, g in readings.items()}
            case = case_of(engine, gaps, entries(engine, readings, seconds=again))
            told += Kind.BETWEEN_PASSES in {one.kind for one in explain(case)}
    return told / (each * len(ENGINES))


SHEETS_BEFORE = 5


def accused_when_known(hand, each):
    """The same of a hand whose scatter is learned: its sixth sheet, in a class of three others."""
    found = []
    for place, engine in enumerate(ENGINES):
        chance = dice(f"known {hand.name} {place}")
        for _ in range(each):
            crew = [hand, HANDS[0], HANDS[1], HANDS[4]]
            hands = [
                [plain_case(engine, one, chance) for _ in range(SHEETS_BEFORE + 1)] for one in crew
            ]
            newest = hands[0][-1].by(learn(hands)[0][-1])
            told = explain(newest)
            found += [[one.kind for one in told]] if told else []
    return found


def plain_case(engine, hand, chance):
    gaps, readings = clean(engine, hand, chance)
    return case_of(engine, gaps, entries(engine, readings, two_stops(engine)))


def share(kind, plant, each):
    """How many of the planted sheets are told so, and how many with the right valves: all that
    must be named, and none beside those that may be."""
    made = found = named = 0
    for place, engine in enumerate(ENGINES):
        chance = dice(f"{kind} {place}")
        for _ in range(each):
            planted = plant(engine, chance)
            if planted is None:
                continue
            gaps, readings, stops, must, may = planted
            own = [one for one in told_of(engine, gaps, readings, stops) if one.kind is kind]
            valves = set().union(*(one.valves for one in own))
            made += 1
            found += bool(own)
            named += bool(own) and set(must) <= valves <= set(may)
    assert made > 3 * each
    return found / made, named / made


def hand_of(chance):
    """Any of those that read all leaves, but for the one whose tails are heavy."""
    return chance.choice([HANDS[0], HANDS[1], HANDS[3], HANDS[4]])


def full_turn(engine, chance):
    gaps, _ = clean(engine, STEADY, chance)
    stops = two_stops(engine)
    at_deg = {valve: (at + 360) % 720 for valve, at in stops.items()}
    readings, off, lifted = measured_there(engine, gaps, hand_of(chance), at_deg, chance)
    written = chance.choice([stops, None])
    return (gaps, readings, written, off, lifted) if off else None


def wrong_stop(engine, chance):
    gaps, _ = clean(engine, STEADY, chance)
    stops = two_stops(engine)
    at_deg = dict.fromkeys(stops, 0.0)
    readings, off, lifted = measured_there(engine, gaps, hand_of(chance), at_deg, chance)
    return (gaps, readings, stops, off, lifted) if off else None


def off_heel(engine, chance):
    """Two valves at a stop, as it is named, where they are up."""
    gaps, readings = clean(engine, hand_of(chance), chance)
    stops = two_stops(engine)
    valves = chance.sample(sorted(gaps), 2)
    for valve in valves:
        at_deg = dict.fromkeys(gaps, (stops[valve] + 360.0) % 720)
        there, off, _ = measured_there(engine, gaps, STEADY, at_deg, chance)
        if valve not in off:
            return None
        readings[valve], stops[valve] = there[valve], at_deg[valve]
    return gaps, readings, stops, valves, valves


def decimal_slip(engine, chance):
    gaps, readings = clean(engine, hand_of(chance), chance)
    valve = chance.choice([one for one, gap in readings.items() if gap >= 0.08])
    readings[valve] = f"{readings[valve] * chance.choice([10, 0.1]):.3f}"
    return gaps, readings, two_stops(engine), [valve], [valve]


def in_thou(engine, chance):
    gaps, readings = clean(engine, hand_of(chance), chance)
    thou = {valve: round(gap / 0.0254) / 100 for valve, gap in readings.items()}
    return gaps, thou, two_stops(engine), list(gaps), list(gaps)


def in_inches(engine, chance):
    """Read with leaves in thou, written as inches on a sheet in millimetres."""
    gaps, readings = clean(engine, hand_of(chance), chance)
    inch = {valve: f"{round(gap / 0.0254) / 1000:.3f}" for valve, gap in readings.items()}
    return gaps, inch, two_stops(engine), list(gaps), list(gaps)


def mm_as_thou(engine, chance):
    """0.25 written on a sheet in thou."""
    gaps, readings = clean(engine, hand_of(chance), chance)
    text = {valve: f"{gap:.2f} thou" for valve, gap in readings.items()}
    return gaps, text, two_stops(engine), list(gaps), list(gaps)


def one_in_inches(engine, chance):
    gaps, readings = clean(engine, hand_of(chance), chance)
    valve = chance.choice(sorted(gaps))
    readings[valve] = f"{round(gaps[valve] / 0.0254) / 1000:.3f}"
    return gaps, readings, two_stops(engine), [valve], [valve]


def one_in_thou(engine, chance):
    gaps, readings = clean(engine, hand_of(chance), chance)
    # A sheet in millimetres takes no figure above 20.
    valve = chance.choice([one for one, gap in sorted(gaps.items()) if gap < 0.49])
    readings[valve] = f"{round(gaps[valve] / 0.0254)}"
    return gaps, readings, two_stops(engine), [valve], [valve]


UNITS = {
    "a sheet in inches": in_inches,
    "millimetres written as thou": mm_as_thou,
    "one figure in inches": one_in_inches,
    "one figure in thou": one_in_thou,
}
"""Other units than the sheet's; all of them are UNIT_SLIP."""
PLANTS = {
    Kind.FULL_TURN: full_turn,
    Kind.WRONG_STOP: wrong_stop,
    Kind.OFF_HEEL: off_heel,
    Kind.DECIMAL_SLIP: decimal_slip,
    Kind.UNIT_SLIP: in_thou,
}


def lean_and_slip(each):
    """Of hands that lean by 0.045 to 0.06 mm and slipped once: how many are told both."""
    both = made = 0
    for place, engine in enumerate(ENGINES):
        chance = dice(f"both {place}")
        for _ in range(each):
            gaps, readings = clean(engine, STEADY, chance)
            lean = chance.choice([-1, 1]) * (0.045 + 0.015 * chance.random())
            readings = {v: max(0.01, gap + lean) for v, gap in readings.items()}
            valve = chance.choice(sorted(gaps))
            readings[valve] *= 10
            kinds = {one.kind for one in told_of(engine, gaps, readings, two_stops(engine))}
            side = Kind.BIAS_TIGHT if lean < 0 else Kind.BIAS_LOOSE
            made += 1
            both += {side, Kind.DECIMAL_SLIP} <= kinds
    return both / made


def reversed_verdicts(each):
    found = made = 0
    swapped = {"tight": "loose", "loose": "tight", "within": "within"}
    for place, engine in enumerate(ENGINES):
        chance = dice(f"reversed {place}")
        for _ in range(each):
            gaps, readings = clean(engine, STEADY, chance)
            said = {}
            for valve in engine.valves:
                low, high = limits(engine, valve)
                gap = round(readings[valve.number], 2)
                said[valve.number] = "tight" if gap < low else "loose" if gap > high else "within"
            if sum(one != "within" for one in said.values()) < 2:
                continue
            made += 1
            verdicts = {valve: swapped[one] for valve, one in said.items()}
            told = told_of(engine, gaps, readings, two_stops(engine), verdicts)
            found += Kind.VERDICT_REVERSED in {one.kind for one in told}
    assert made > each
    return found / made


def main(each=100):
    print("| other hands | told | with the right valves |\n| --- | ---: | ---: |")
    for kind, plant in PLANTS.items():
        found, named = share(kind, plant, each)
        print(f"| `{kind}` | {found:.1%} | {named:.1%} |", flush=True)
    for called, plant in UNITS.items():
        found, named = share(Kind.UNIT_SLIP, plant, each)
        print(f"| `{Kind.UNIT_SLIP}`: {called} | {found:.1%} | {named:.1%} |", flush=True)
    print(f"| `{Kind.VERDICT_REVERSED}` | {reversed_verdicts(each):.1%} |  |")
    print(f"| a lean and a slip, both | {lean_and_slip(each):.1%} |  |")
    print("\n| clean sheets accused | nothing known | after five sheets |\n| --- | ---: | ---: |")
    for hand in HANDS:
        rate = len(accused(hand, each)) / (each * len(ENGINES))
        known = len(accused_when_known(hand, each)) / (each * len(ENGINES))
        print(f"| {hand.name} | {rate:.1%} | {known:.1%} |", flush=True)
    print("\n| two honest passes, said to differ | |\n| --- | ---: |")
    for hand in PASSING_HANDS:
        print(f"| {hand.name} | {second_passes_accused(hand, 3 * each):.1%} |", flush=True)


if __name__ == "__main__":
    main()
