"""Nobody passes without working: five hundred random players and five hundred greedy ones.

A greedy player knows the rules of passing and does as little as they seem to ask.
"""

import random

import pytest

from tests.core.practice.conftest import shelf_engine
from valvetrain.heel import valve_margin_deg
from valvetrain.practice import (
    FaultKind,
    PlantedFault,
    RefusedActionError,
    apply,
    deal_setup,
    debrief,
    first_state,
    read_action,
)
from valvetrain.sequences import make_plan

RUNS = 500
ENGINES = (1, 3, 4, 9, 12, 17, 19)
CLOSE_UP = [{"do": "count-tools"}, {"do": "tool-off"}, {"do": "cover", "on": True}, {"do": "start"}]


class Player:
    """One run that is played, not worked: what is refused is left."""

    def __init__(self, seed: int):
        self.chance = random.Random(seed)  # noqa: S311 (drawn to be drawn again)
        self.engine = shelf_engine(ENGINES[seed % len(ENGINES)])
        self.numbers = [v.number for v in self.engine.valves]
        faults = ()
        if seed % 2:
            faults = (PlantedFault(FaultKind.WRONG_SETTING, self.numbers[-1]),)
        level = ("alone", "test")[seed % 3 == 0]
        self.setup = deal_setup(self.engine, seed, faults, level=level)
        self.state, self.done = first_state(self.setup), []

    def do(self, *documents):
        for document in documents:
            action = read_action(document)
            try:
                self.state, _ = apply(self.setup, self.state, action)
            except RefusedActionError:
                continue
            self.done.append(action)

    def to_heel(self, valve):
        """Where the manual says; a player reads that much."""
        stops = make_plan(self.engine, "lobe-away").stops
        at = next(stop.crank_deg for stop in stops if valve in stop.valves)
        self.do({"do": "turn", "by_deg": (at - self.state.crank_deg) % 720 or 720})
        assert valve_margin_deg(self.engine, self.engine.valve[valve], at) >= 0

    def middle_mm(self, valve):
        return float(self.engine.clearance[self.engine.valve[valve].role].middle_mm)

    def nearest(self, valve):
        wanted = self.middle_mm(valve) * 1000
        return min(self.setup.leaves_um, key=lambda leaf: abs(leaf - wanted))

    def write(self, valve):
        text = f"{self.middle_mm(valve):.2f}"
        self.do({"do": "write", "valve": valve, "column": "first", "text": text})

    def passes(self):
        self.do(*CLOSE_UP)
        return debrief(self.setup, self.done).passed


def closes_up(_player):
    """And hopes that every valve was right."""


def writes_the_spec(player):
    for valve in player.numbers:
        player.write(valve)


def tries_one_thin_leaf(player):
    for valve in player.numbers:
        player.to_heel(valve)
        player.do({"do": "try", "valve": valve, "leaves_um": [min(player.setup.leaves_um)]})
        player.write(valve)


def tries_one_thick_leaf(player):
    for valve in player.numbers:
        player.to_heel(valve)
        player.do({"do": "try", "valve": valve, "leaves_um": [max(player.setup.leaves_um)]})
        player.write(valve)


def sets_all_and_looks_at_none(player):
    for valve in player.numbers:
        player.to_heel(valve)
        leaf = player.nearest(valve)
        player.do({"do": "loosen", "valve": valve}, {"do": "loosen", "valve": valve, "oil": True})
        player.do({"do": "set", "valve": valve, "leaves_um": [leaf]})
        player.do({"do": "tighten", "valve": valve})
        player.write(valve)


def measures_all_but_one(player):
    for valve in player.numbers[:-1]:
        player.to_heel(valve)
        for leaf in player.setup.leaves_um:
            player.do({"do": "try", "valve": valve, "leaves_um": [leaf]})
        player.write(valve)
    player.write(player.numbers[-1])


GREEDY = (
    closes_up,
    writes_the_spec,
    tries_one_thin_leaf,
    tries_one_thick_leaf,
    sets_all_and_looks_at_none,
    measures_all_but_one,
)


@pytest.mark.parametrize("strategy", GREEDY, ids=lambda one: one.__name__)
def test_no_greedy_player_passes(strategy):
    passed = []
    for seed in range(RUNS // len(GREEDY) + 1):
        player = Player(seed)
        strategy(player)
        if player.passes():
            passed.append(seed)
    assert passed == []


def a_move(chance, numbers, leaves_um):
    valve, leaf = chance.choice(numbers), chance.choice(leaves_um)
    return chance.choice(
        (
            {"do": "turn", "by_deg": chance.choice((90, 120, 180, 360, -10))},
            {"do": "try", "valve": valve, "leaves_um": [leaf]},
            {"do": "try", "valve": valve, "leaves_um": [leaf]},
            {"do": "loosen", "valve": valve},
            {"do": "set", "valve": valve, "leaves_um": [leaf]},
            {"do": "screw", "valve": valve, "by_deg": chance.choice((-30, -10, 10, 30))},
            {"do": "tighten", "valve": valve},
            {"do": "wiggle", "valve": valve},
            {"do": "write", "valve": valve, "column": "first", "text": f"{leaf / 1000:.2f}"},
            {"do": "take-shim", "valve": valve},
            {"do": "zero", "valve": valve},
            {"do": "rock"},
        )
    )


def test_no_random_player_passes():
    passed = []
    for seed in range(RUNS):
        player = Player(seed)
        for _ in range(60):
            player.do(a_move(player.chance, player.numbers, player.setup.leaves_um))
        if player.passes():
            passed.append(seed)
    assert passed == []
