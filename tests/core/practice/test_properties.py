"""Random hands at practice engines of every kind: what always holds."""

from collections import Counter
from copy import deepcopy

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.practice.conftest import Bench
from valvetrain.practice import (
    RefusedActionError,
    apply,
    debrief,
    first_state,
    margin_now_deg,
    read_action,
    replay,
)
from valvetrain.practice.measuring import raw_gap_mm

KINDS = {1: 8, 5: 8, 9: 15, 12: 18}
"""Engines of the shelf and their valves: screws, shims under the cam, over the bucket, brakes."""


def documents(valves):
    valve = st.integers(1, valves + 1)
    leaves = st.lists(
        st.sampled_from([50, 100, 200, 250, 300, 400, 4000, 77]), min_size=1, max_size=2
    )
    how = st.sampled_from(["straight", "skewed", "tip", "one-side"])
    degrees = st.floats(-800, 800, allow_nan=False).map(lambda deg: round(deg, 1))

    def of(name, **fields):
        return st.fixed_dictionaries({"do": st.just(name), **fields})

    return st.one_of(
        of("turn", by_deg=degrees),
        of("rock"),
        of("wiggle", valve=valve),
        of("push", valve=valve),
        of("look", at=st.sampled_from(["marks", "rotor", "lobes", "threads", "engine"])),
        of("try", valve=valve, leaves_um=leaves, how=how, oiled=st.booleans()),
        of("loosen", valve=valve, oil=st.booleans()),
        of("tighten", valve=valve, torque_nm=st.one_of(st.none(), st.floats(1, 90))),
        of("screw", valve=valve, by_deg=degrees),
        of("set", valve=valve, leaves_um=leaves, how=how, pressing=st.booleans()),
        of("zero", valve=valve),
        of("take-shim", valve=valve),
        of("read-shim", valve=valve, by=st.sampled_from(["stamp", "micrometer"])),
        of("fit-shim", valve=valve, size_um=st.sampled_from([2000, 2050, 3500, 3600, 9999])),
        of("cams", out=st.booleans()),
        of("lock-crank", locked=st.booleans()),
        of("done", valve=valve),
        of("write", valve=valve, column=st.just("first"), text=st.just("0.25")),
        of("count-tools"),
        of("cover", on=st.booleans()),
    )


runs = st.sampled_from(sorted(KINDS)).flatmap(
    lambda number: st.tuples(
        st.just(number),
        st.integers(0, 10_000),
        st.lists(documents(KINDS[number]), max_size=40),
    )
)


def shims_in(state):
    held = [seat.shim_um for seat in state.seats] + [seat.aside_um for seat in state.seats]
    return Counter([um for um in held if um is not None]) + Counter(state.box_um)


@settings(max_examples=120, deadline=None)
@given(runs)
def test_invariants_of_any_run(run):
    number, seed, wanted = run
    bench = Bench(number, seed=seed)
    setup, state = bench.setup, bench.state
    shims = shims_in(state)
    done, seen = [], []
    for document in wanted:
        action = read_action(document)
        before, kept = state, deepcopy(state)
        try:
            state, observation = apply(setup, state, action)
        except RefusedActionError:
            continue
        finally:
            assert before == kept
        done.append(action)
        seen.append(observation)
        assert 0 <= state.crank_deg < 720
        assert 0 <= state.lag_deg <= setup.engine.turning.backlash_deg
        assert shims_in(state) == shims
        assert 0 <= float(observation.facts.get("pull", 0)) <= 1
    again, told = replay(setup, done)
    assert again == state
    assert told == seen
    assert [moment.says for moment in debrief(setup, done).moments] == [one.says for one in seen]


@settings(max_examples=120, deadline=None)
@given(st.sampled_from([1, 12]), st.integers(0, 10_000), st.integers(0, 719), st.data())
def test_nothing_set_off_its_heel_is_ever_rewarded(number, seed, crank_deg, data):
    bench = Bench(number, seed=seed).to(float(crank_deg))
    valve = data.draw(st.sampled_from([v.number for v in bench.setup.engine.valves]))
    off_heel = margin_now_deg(bench.setup, bench.state, valve) < 0
    bench.do("loosen", valve=valve).do("set", valve=valve, leaves_um=[bench.middle_um(valve)])
    moment = debrief(bench.setup, bench.actions).moments[-1]
    assert (moment.wrong is not None and "not on its heel" in moment.wrong) == off_heel
    if off_heel:
        at_leaf_mm = bench.middle_um(valve) / 1000 - 0.01
        assert bench.seat(valve).clearance_mm >= at_leaf_mm
        assert raw_gap_mm(bench.setup, bench.state, valve) <= bench.seat(valve).clearance_mm


@pytest.mark.parametrize("number", sorted(KINDS))
def test_a_gap_is_never_negative_to_a_leaf(number):
    """Where a lobe holds the valve open there is no gap at all, and no leaf goes in; on the heel of
    a valve within its spec the thinnest leaf of the box always does. The heel is 1 degree wide at
    least; what lies on its ramp may be either."""
    bench = Bench(number)
    engine, thinnest = bench.setup.engine, bench.setup.leaves_um[0]
    for valve in engine.valves[:2]:
        lobe = bench.setup.lobes[valve.number]
        spec = engine.clearance[valve.role]
        seen = set()
        for _ in range(36):
            bench.do("turn", by_deg=20)
            cycle_deg = bench.state.crank_deg - engine.fire_deg[valve.cylinder]
            felt = bench.feel(valve.number, thinnest)
            if lobe.lift_at_mm(cycle_deg) > float(spec.high_mm) + 0.3:
                assert felt == "no"
                seen.add("lobe")
            elif lobe.lift_at_mm(cycle_deg) == 0 and thinnest < 1000 * float(spec.low_mm) - 60:
                assert felt in ("free", "drag")
                seen.add("heel")
        assert "lobe" in seen


@given(st.integers(0, 10_000))
def test_a_seed_deals_one_engine(seed):
    assert Bench(1, seed=seed).setup == Bench(1, seed=seed).setup
    assert first_state(Bench(1, seed=seed).setup) == Bench(1, seed=seed).state
