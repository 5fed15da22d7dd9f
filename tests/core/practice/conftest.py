"""Practice engines of each kind of adjuster, from the demo shelf."""

import json
from pathlib import Path

import pytest

from valvetrain.engine_file import read_engine
from valvetrain.practice import FaultKind, PlantedFault, apply, deal_setup, first_state, read_action
from valvetrain.practice.run import Stretch

SHELF = Path(__file__).parents[3] / "demo" / "engines"


def shelf_engine(number):
    (path,) = SHELF.glob(f"{number:02d}-*.json")
    return read_engine(json.loads(path.read_text()))


class Bench:
    """One run under test: `do` acts, `says` and `facts` are of the last observation."""

    def __init__(self, number=1, seed=7, faults=(), **options):
        planted = tuple(PlantedFault(FaultKind(kind), valve) for kind, valve in faults)
        self.setup = deal_setup(shelf_engine(number), seed, planted, **options)
        self.state = first_state(self.setup)
        self.seen = None
        self.actions = []
        self.run = []
        """As `stretches` gives it, without doing all again for each step."""

    def do(self, name, **fields):
        return self.act(read_action({"do": name, **fields}))

    def act(self, action):
        before = self.state
        self.state, self.seen = apply(self.setup, before, action)
        self.actions.append(action)
        self.run.append(Stretch(before, action, self.seen, self.state))
        return self

    def to(self, crank_deg):
        """Turned the running way until the crank stands there."""
        ahead = (crank_deg - self.state.crank_deg) % 720
        return self.do("turn", by_deg=ahead) if ahead else self

    def to_fire(self, valve):
        """To the firing TDC of the valve's cylinder, where its valves are on their heel."""
        return self.to(self.setup.engine.fire_deg[self.setup.engine.valve[valve].cylinder])

    def seat(self, valve):
        return self.state.seats[self.setup.place[valve]]

    def feel(self, valve, *leaves_um, **how):
        self.do("try", valve=valve, leaves_um=list(leaves_um), **how)
        return self.seen.facts["feel"]

    def middle_um(self, valve):
        """The leaf nearest the middle of the valve's spec."""
        middle = self.setup.engine.clearance[self.setup.engine.valve[valve].role].middle_mm
        return min(self.setup.leaves_um, key=lambda leaf: abs(leaf - middle * 1000))


@pytest.fixture
def pump():
    return Bench(1)
