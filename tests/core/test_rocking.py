"""What rocking shows, against the lobe itself and SciPy's root finder."""

import numpy as np
import pytest
from scipy.optimize import brentq

from tests.core.conftest import engine_firing
from tests.core.test_any_engine import ENGINES
from valvetrain.constants import ROCK_DEG, SEEN_MOVE_MM
from valvetrain.engine import Role
from valvetrain.engine_file import read_engine
from valvetrain.heel import off_heel_arcs
from valvetrain.lobe import lobe_of
from valvetrain.rocking import Rocked, rock_arcs, rocked

EVERY_DEG = np.arange(0, 720, 0.5)


def within(arcs, cycle_deg):
    return any((cycle_deg - start) % 720 <= end - start for start, end in arcs)


def near_an_edge(arcs, cycle_deg):
    edges = [edge for arc in arcs for edge in arc]
    return any(min((cycle_deg - edge) % 720, (edge - cycle_deg) % 720) < 0.1 for edge in edges)


@pytest.mark.parametrize("name", ENGINES)
def test_the_drawn_stretches_say_what_one_rocking_says(name):
    engine = read_engine(ENGINES[name])
    for role in engine.roles:
        lobe = lobe_of(engine, role)
        arcs = rock_arcs(lobe)
        for cycle_deg in EVERY_DEG:
            told = rocked(lobe, cycle_deg)
            for swing, seen in (("forward", told.forward), ("back", told.back)):
                stretches = getattr(arcs, swing)
                if not near_an_edge(stretches, cycle_deg):
                    assert within(stretches, cycle_deg) == seen, (role, swing, cycle_deg)


@pytest.mark.parametrize("role", [Role.INTAKE, Role.EXHAUST])
def test_edges_against_scipy(four, role):
    # Reference: scipy.optimize.brentq on "the swing lowers the follower by just what is seen".
    lobe = lobe_of(four, role)

    def beyond(by_deg):
        return lambda at: lobe.lift_at_mm(at + by_deg) - lobe.lift_at_mm(at) - SEEN_MOVE_MM

    (heel_ends, heel_begins) = off_heel_arcs(four, role)[0]
    top = (heel_ends + heel_begins) / 2
    arcs = rock_arcs(lobe)
    ((start, end),) = arcs.forward
    assert start == pytest.approx(
        brentq(beyond(ROCK_DEG), heel_ends - ROCK_DEG, heel_ends), abs=0.05
    )
    assert end == pytest.approx(brentq(beyond(ROCK_DEG), heel_ends + ROCK_DEG, top), abs=0.05)
    ((start, end),) = arcs.back
    assert start == pytest.approx(
        brentq(beyond(-ROCK_DEG), top, heel_begins - ROCK_DEG) % 720, abs=0.05
    )
    assert end - start == pytest.approx(
        brentq(beyond(-ROCK_DEG), heel_begins, heel_begins + ROCK_DEG) - start, abs=0.05
    )


def test_a_stretch_across_the_start_of_the_cycle_runs_on_past_720():
    # A decompressor that lifts where the cycle begins: the forward swing sees it before and after.
    bump = {"role": "exhaust", "opens_cycle_deg": 715, "closes_cycle_deg": 60, "lift_mm": 0.6}
    engine = engine_firing([1], layout="single", decompressor=bump)
    arcs = rock_arcs(lobe_of(engine, Role.EXHAUST)).forward
    (arc,) = (arc for arc in arcs if arc[1] > 720)
    assert 703 < arc[0] < 715
    assert 720 < arc[1] < 760


def test_on_the_heel_nothing_moves_and_at_overlap_both_do(four):
    # Fact of the trade: rocking at overlap TDC opens the intake one way, the exhaust the other;
    # at firing TDC neither moves.
    intake, exhaust = (lobe_of(four, role) for role in (Role.INTAKE, Role.EXHAUST))
    assert rocked(intake, 360) == Rocked(forward=True, back=False)
    assert rocked(exhaust, 360) == Rocked(forward=False, back=True)
    for lobe in (intake, exhaust):
        assert rocked(lobe, 0) == Rocked(forward=False, back=False)


def test_what_just_can_be_missed_is_missed(four):
    # By definition: a move of exactly what an eye can miss is not seen.
    class Flat:
        def __init__(self, by_mm):
            self.by_mm = by_mm

        def lift_at_mm(self, cycle_deg):
            return self.by_mm if cycle_deg != 100 else 0.0

    assert rocked(Flat(SEEN_MOVE_MM), 100) == Rocked(forward=False, back=False)
    assert rocked(Flat(SEEN_MOVE_MM * 1.001), 100) == Rocked(forward=True, back=True)
