"""Planned anew: nobody moves who need not, and what is said to be the fewest changes is."""

from itertools import product

import pytest

from tests.core.rota.judge import faults_of
from tests.core.rota.weeks import people, rota, week
from valvetrain.rota.changes import changes_between, lost
from valvetrain.rota.plan import plan
from valvetrain.rota.problem import Booking, seats_of
from valvetrain.rota.replan import replan
from valvetrain.rota.rota_file import read_rota, write_bookings
from valvetrain.rota.rules import broken


def anew(document, change, **options):
    """The rota of a file, and the one after `change` has changed the file."""
    before = plan(read_rota(document)).bookings
    change(document)
    problem = read_rota(document)
    after = replan(problem, before, **options)
    assert broken(problem, after.bookings) == []
    assert faults_of(document, write_bookings(problem, after.bookings)) == []
    assert after.changes == changes_between(before, after.bookings)
    return problem, before, after


def out_of_order(document, stand=1):
    document["stands"][stand]["away"] = [slot["id"] for slot in document["slots"]]


def ill(document, student=5, slots=4):
    away = document["students"][student].setdefault("away", [])
    away += [one["id"] for one in document["slots"][:slots] if one["id"] not in away]


class TestFewChanges:
    def test_where_nothing_has_changed_nobody_moves(self):
        _, before, after = anew(week(12, 4, 15), lambda document: None)
        assert after.bookings == before
        assert after.changes == ()
        assert after.is_optimal

    def test_a_stand_out_of_order(self):
        def change(document):
            out_of_order(document)
            ill(document)

        _, before, after = anew(week(12, 4, 15), change)
        gone = sum(len(one.students) for one in before if one.stand == 1)
        assert after.missing == 0
        assert lost(after.changes) >= gone
        assert after.is_optimal
        assert lost(after.changes) == after.fewest

    def test_what_is_fixed_stays(self):
        document = week(12, 4, 15)
        before = plan(read_rota(document)).bookings
        out_of_order(document)
        fixed = [one for one in before if one.stand != 1][:3]
        problem = read_rota(document).fixing(fixed)
        after = replan(problem, before)
        assert set(fixed) <= set(after.bookings)

    def test_a_group_that_began_with_one_too_few_stands(self):
        """Ann fell ill before her pair's slot: Bo did it alone, and she does it later."""
        document = rota(
            slot_count=2,
            students=people(3),
            tasks=[{"id": "T1", "kind": "screw", "group": [2, 2]}],
        )
        problem = read_rota(document)
        alone = Booking(0, 0, 0, (1,))
        problem = problem.fixing((), begun=[alone], first=1)
        after = replan(problem, [alone])
        assert alone in after.bookings
        assert Booking(1, 0, 0, (0, 2)) in after.bookings
        assert after.missing == 0

    def test_stopped_at_once_it_keeps_what_still_holds(self):
        _, before, after = anew(week(12, 4, 15), out_of_order, stop=lambda: True)
        assert set(after.bookings) <= set(before)
        assert after.missing > 0
        assert not after.is_optimal


@pytest.mark.parametrize("seed", range(6))
def test_no_rota_changes_fewer(seed):
    """Every rota of a tiny week tried: the bound is what brute force finds."""
    document = rota(
        slot_count=3,
        stands=[{"id": "S1", "kind": "screw"}, {"id": "S2", "kind": "screw"}],
        students=people(3),
        tasks=[
            {"id": "T1", "kind": "screw", "group": [1, 2]},
            {"id": "T2", "stands": ["S2"], "group": [1, 1]},
        ],
    )

    def change(given):
        if seed % 2:
            given["stands"][0]["away"] = [given["slots"][seed // 2]["id"]]
        else:
            ill(given, seed // 2, 1)

    problem, before, after = anew(document, change)
    places = [(slot, stand) for slot in range(3) for stand in range(2)]
    seats_before = seats_of(before)
    best = None
    for at in product(places, repeat=3):
        for then in product([place for place in places if place[1] == 1], repeat=3):
            bookings = gathered_places(at, then)
            if broken(problem, bookings):
                continue
            seats = seats_of(bookings)
            moved = sum(seats.get(key) != seat for key, seat in seats_before.items())
            best = moved if best is None else min(best, moved)
    if best is None:
        assert after.missing > 0
    else:
        assert after.missing == 0
        assert lost(after.changes) == best == after.fewest


def gathered_places(at, then):
    by = {}
    for task, where in ((0, at), (1, then)):
        for student, (slot, stand) in enumerate(where):
            by.setdefault((slot, stand, task), []).append(student)
    return [Booking(*place, tuple(who)) for place, who in sorted(by.items())]
