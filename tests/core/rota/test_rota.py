"""Rotas: judged by a judge of their own, optima that mathematics knows, and what cannot be."""

import json
import random
import time
from datetime import timedelta
from itertools import product

import pytest

from tests.core.rota.judge import cost_of as judged_cost
from tests.core.rota.judge import faults_of
from tests.core.rota.weeks import people, rota, slots, week
from valvetrain.calculator import main
from valvetrain.document import DocumentError
from valvetrain.rota.plan import plan
from valvetrain.rota.polish import polish
from valvetrain.rota.problem import Booking, Person, Slot
from valvetrain.rota.rota_file import read_rota, write_bookings
from valvetrain.rota.rules import broken, cost_of
from valvetrain.rota.why import why_missing


def planned(document, **options):
    """The rota of a file, judged: it holds every rule and costs what it says."""
    problem = read_rota(document)
    found = plan(problem, **options)
    bookings = write_bookings(problem, found.bookings)
    assert faults_of(document, bookings) == []
    assert broken(problem, found.bookings) == []
    assert judged_cost(document, bookings) == found.cost
    assert found.bound <= found.cost
    return found


class TestReferenceSizes:
    """The sizes and limits that the rota is held to; the machine may be a busy one."""

    def test_twelve_students_are_proven(self):
        begun = time.monotonic()
        found = planned(week(12, 4, 15, instructors=1))
        assert found.is_optimal
        assert time.monotonic() - begun < 30

    def test_twenty_four_students(self):
        begun = time.monotonic()
        assert planned(week(24, 6, 24)).cost <= 8
        assert time.monotonic() - begun < 40

    def test_forty_students(self):
        begun = time.monotonic()
        assert planned(week(40, 8, 36), seconds=40).cost <= 12
        assert time.monotonic() - begun < 55

    def test_the_same_rota_gets_the_same_answer(self):
        first, second = (planned(week(12, 4, 15, seed=3)) for _ in range(2))
        assert first.bookings == second.bookings


class TestOptimaThatAreKnown:
    def test_nine_in_threes_meet_once_in_four_rounds(self):
        """The affine plane of order 3 (Kirkman's problem for nine): 36 pairs, each exactly once."""
        document = rota(
            stands=[{"id": f"S{n}", "kind": "any"} for n in range(3)],
            students=people(9),
            tasks=[{"id": f"T{n}", "kind": "any", "group": [3, 3]} for n in range(4)],
        )
        found = planned(document)
        assert (found.cost, found.is_optimal) == (3, True)

    def test_fours_of_twelve_must_meet_again(self):
        """Pigeonhole: each four of the second round draws from three fours of the first, so three
        pairs at least meet again; 3 x 10 and the second slot."""
        document = rota(
            stands=[{"id": f"S{n}", "kind": "any"} for n in range(3)],
            students=people(12),
            tasks=[{"id": f"T{n}", "kind": "any", "group": [4, 4]} for n in range(2)],
        )
        found = planned(document)
        assert (found.cost, found.is_optimal) == (31, True)

    def test_an_uneven_number_cannot_all_work_in_pairs(self):
        found = planned(rota(students=people(5), tasks=[task(group=[2, 2])]))
        assert (found.cost, found.is_optimal) == (1001, True)

    @pytest.mark.parametrize("seed", range(6))
    def test_tiny_ones_against_every_possibility(self, seed):
        document = tiny(random.Random(seed))  # noqa: S311
        assert planned(document).cost == cheapest(document)


def task(**fields):
    return {"id": "T1", "kind": "screw", "group": [1, 2]} | fields


def tiny(chance):
    """Three students, two stands, three slots, two tasks."""
    away = [[s["id"]] if chance.random() < 0.4 else [] for s in chance.choices(slots(3), k=5)]
    return rota(
        slot_count=3,
        stands=[
            {"id": "S1", "kind": "a", "cool_h": chance.choice([0, 1, 4]), "away": away[0]},
            {"id": "S2", "kind": chance.choice("ab"), "cool_h": 1, "away": away[1]},
        ],
        students=[
            {"id": "ann", "away": away[2], "apart": ["cid"] if chance.random() < 0.3 else []},
            {"id": "bo", "away": away[3]},
            {"id": "cid"},
        ],
        instructors=[{"id": "tove", "away": away[4]}],
        stands_each=chance.choice([1, 2]),
        tasks=[
            task(id="T1", kind="a", group=[1, 2], runs_engine=chance.random() < 0.5),
            task(
                id="T2",
                stands=["S1", "S2"],
                group=chance.choice([[1, 1], [2, 2], [1, 3]]),
                needs_cold=chance.random() < 0.5,
                after=["T1"] if chance.random() < 0.4 else [],
            ),
        ],
    )


def cheapest(document):
    """By trying every place of every student at every task, or none."""
    places = [None, *product([s["id"] for s in document["slots"]], ["S1", "S2"])]
    names = [one["id"] for one in document["students"]]
    best = 10**9
    for first in product(places, repeat=3):
        bookings = gathered(names, first, "T1")
        if len({(b["slot"], b["stand"]) for b in bookings}) < len(bookings) or [
            one for one in faults_of(document, bookings) if "before" not in one
        ]:
            continue
        for second in product(places, repeat=3):
            if any(a and b and a[0] == b[0] for a, b in zip(first, second, strict=True)):
                continue
            both = bookings + gathered(names, second, "T2")
            cost = judged_cost(document, both)
            # A task whose task before is missing does not hold either.
            if (
                cost < best
                and not faults_of(document, both)
                and not _early(document, first, second)
            ):
                best = cost
    return best


def _early(document, first, second):
    after = document["tasks"][1].get("after")
    return after and any(b and not a for a, b in zip(first, second, strict=True))


def gathered(names, places, of_task):
    groups = {}
    for name, place in zip(names, places, strict=True):
        if place:
            groups.setdefault(place, []).append(name)
    return [
        {"slot": slot, "stand": stand, "task": of_task, "students": who}
        for (slot, stand), who in groups.items()
    ]


class TestRules:
    def test_a_stand_that_was_run_cools_before_the_next(self):
        """Slots 15:00 to 16:45 and 8:00 lie apart by a night; 8 to 9:45 and 10 do not."""
        tasks = [task(group=[2, 2], needs_cold=True, runs_engine=True)]
        found = planned(rota(students=people(4), tasks=tasks, slot_count=8))
        first, second = (one.slot for one in found.bookings)
        # Three hours after 9:45 is 12:45: the slot at 13:00.
        assert (first, second) == (0, 2)

    def test_fixed_bookings_stand(self):
        fixed = [{"slot": "s3", "stand": "S1", "task": "T1", "students": ["bo"]}]
        found = planned(rota(fixed=fixed))
        assert Booking(3, 0, 0, (1,)) in found.bookings
        assert found.cost == 3

    def test_a_fixed_booking_stands_where_its_first_task_finds_no_place(self):
        fixed = [{"slot": "s1", "stand": "S1", "task": "T2", "students": ["bo"]}]
        tasks = [task(kind="shim"), task(id="T2", group=[1, 1], after=["T1"])]
        problem = read_rota(rota(fixed=fixed, tasks=tasks))
        found = plan(problem)
        assert found.bookings == problem.fixed
        assert (found.cost, found.is_optimal) == (3001, True)

    def test_whoever_is_kept_apart_is(self):
        students = [{"id": "ann", "apart": ["bo"]}, {"id": "bo"}]
        found = planned(rota(students=students))
        assert (found.cost, len(found.bookings)) == (1, 2)

    def test_nobody_to_look_after_the_stands(self):
        found = planned(rota(instructors=[]))
        assert (found.cost, found.is_optimal) == (2000, True)
        assert found.bookings == ()

    def test_nobody_and_nothing_to_plan(self):
        assert planned(rota(students=[])).cost == 0
        assert planned(rota(tasks=[])).cost == 0

    def test_a_booking_moved_by_hand_says_what_breaks(self):
        problem = read_rota(week(12, 4, 15))
        found = plan(problem)
        one = found.bookings[0]
        other = next(b for b in found.bookings if b.slot == one.slot and b != one)
        clash = [b._replace(stand=other.stand) if b == one else b for b in found.bookings]
        rules = {fault.rule for fault in broken(problem, clash)}
        assert "two-groups" in rules


def test_exchanges_break_no_rule():
    problem = read_rota(week(24, 6, 24, seed=5))
    found = plan(problem, seconds=20)
    again = polish(problem, found.bookings, seed=99)
    assert broken(problem, again) == []
    assert cost_of(problem, again).repeats <= cost_of(problem, found.bookings).repeats


class TestStopping:
    def test_the_best_until_then_is_kept(self):
        told = []
        found = planned(week(12, 4, 15), on_better=told.append, stop=lambda: bool(told))
        assert found.bookings == told[0].bookings

    def test_stopped_before_anything_was_found(self):
        found = planned(week(12, 4, 15), stop=lambda: True)
        assert found.cost >= found.bound


def given(problem, helps):
    """The problem with a help in it, by what its words say."""
    (name,) = [one for one in problem.tasks if one.id in helps] or [None]
    at = problem.tasks.index(name) if name else None
    tasks = list(problem.tasks)
    if "instructor" in helps:
        return problem.changed(instructors=(*problem.instructors, Person("more", frozenset())))
    if "slot when" in helps or "cool-down" in helps:
        last = max(problem.slots, key=lambda one: one.end)
        day = timedelta(days=7)
        more = Slot("more", last.start + day, last.end + day)
        return problem.changed(slots=(*problem.slots, more))
    if "groups of one more" in helps:
        tasks[at] = name._replace(most=name.most + 1)
        return problem.changed(tasks=tasks)
    if "smaller least" in helps:
        tasks[at] = name._replace(least=1)
        return problem.changed(tasks=tasks)
    stand = problem.stands[min(name.stands)]._replace(id="more", away=frozenset())
    tasks[at] = name._replace(stands=name.stands | {len(problem.stands)})
    return problem.changed(stands=(*problem.stands, stand), tasks=tasks)


class TestWhy:
    def told(self, document):
        problem = read_rota(document)
        return why_missing(problem, plan(problem).bookings)

    def test_no_stand_serves_it(self):
        (one, _) = self.told(rota(tasks=[task(kind="shim")]))
        assert "no stand serves T1" in one.why

    def test_away_all_the_time(self):
        away = [slot["id"] for slot in slots(4)]
        (one,) = self.told(rota(students=[{"id": "ann", "away": away}, {"id": "bo"}]))
        assert one.why == "ann is away in every slot"

    def test_the_stands_are_full(self):
        told = self.told(rota(students=people(5), tasks=[task(group=[1, 1])]))
        assert len(told) == 1
        assert "the group is full (4 of 4)" in told[0].why
        assert "one more slot" in told[0].helps

    @pytest.mark.parametrize(("students", "stands", "slot_count", "seed"), [(4, 2, 2, 0)])
    def test_every_help_that_is_named_makes_room(self, students, stands, slot_count, seed):
        """Given, and planned again from nothing by the solver: fewer places are missing."""
        document = week(students, stands, slot_count, seed=seed, instructors=1)
        problem = read_rota(document)
        before = plan(problem)
        told = why_missing(problem, before.bookings)
        assert told
        for helps in {one.helps for one in told if one.helps}:
            after = plan(given(problem, helps))
            assert len(cost_of(problem, after.bookings).places) < len(told), helps

    def test_no_help_is_named_that_something_else_stands_before(self):
        """One stand, one instructor who looks after one stand: another stand changes nothing."""
        told = self.told(
            rota(slot_count=1, students=people(2), stands_each=1, tasks=[task(group=[1, 1])])
        )
        assert [one.helps for one in told] == [
            "groups of one more for T1, or one more slot for its stands"
        ]
        two = [task(group=[1, 1]), task(id="T2", group=[1, 1])]
        (one, *rest) = self.told(rota(slot_count=1, students=people(1), stands_each=1, tasks=two))
        assert not rest
        assert "one more such stand" not in one.helps

    def test_a_group_that_is_too_small(self):
        (one,) = self.told(rota(students=people(3), tasks=[task(group=[2, 2])]))
        assert "too few others" in one.why
        assert "smaller least group" in one.helps

    def test_a_warm_stand(self):
        tasks = [task(group=[2, 2], runs_engine=True, needs_cold=True)]
        stands = [{"id": "S1", "kind": "screw", "cool_h": 48}]
        told = self.told(rota(students=people(4), stands=stands, tasks=tasks))
        assert len(told) == 2
        assert "warm" in told[0].why

    def test_what_comes_before_it_is_missing_too(self):
        tasks = [task(kind="shim"), task(id="T2", after=["T1"])]
        told = self.told(rota(tasks=tasks))
        assert "T1 comes before it" in told[1].why

    def test_no_instructor(self):
        told = self.told(rota(instructors=[]))
        assert "no instructor" in told[0].why


BAD = [
    (rota(slots=[]), "$.slots"),
    (rota(slots=slots(2)[::-1]), "$.slots[1].start"),
    (rota(slots=[slots(1)[0] | {"end": "2031-03-03T07:00"}]), "$.slots[0].end"),
    (rota(slots=[slots(1)[0] | {"start": "monday"}]), "$.slots[0].start"),
    (rota(slots=[slots(1)[0] | {"start": "2031-03-03T08:00+01:00"}]), "without a zone"),
    (rota(stands=[{"id": "S1"}, {"id": "S1"}]), "twice"),
    (rota(stands=[{"id": "S1", "kind": "screw", "cool_h": -1}]), "$.stands[0].cool_h"),
    (rota(students=[{"id": "ann", "away": ["s9"]}]), "$.students[0].away[0]"),
    (rota(students=[{"id": "ann", "apart": ["zoe"]}]), "$.students[0].apart[0]"),
    (rota(students=["ann"]), "$.students[0]"),
    (rota(tasks=[task(group=[3, 2])]), "$.tasks[0].group"),
    (rota(tasks=[task(group=2)]), "$.tasks[0].group"),
    (rota(tasks=[{"id": "T1", "group": [1, 1]}]), "$.tasks[0].kind"),
    (rota(tasks=[task(after=["T1"])]), "$.tasks[0].after"),
    (rota(tasks=[task(after=["T2"]), task(id="T2", after=["T1"])]), "circle"),
    (rota(rules=1), "$.rules"),
    (rota(format="edrix-rota/2"), "$.format"),
    (
        rota(slots=slots(250), students=people(199), tasks=[task(), task(id="T2"), task(id="T3")]),
        "a week at a time",
    ),
    ([], "$"),
]
FIXED_BADLY = [
    ({"slot": "s0", "stand": "S1", "task": "T1", "students": ["ann", "ann"]}, "twice"),
    ({"slot": "s0", "stand": "S1", "task": "T1", "students": []}, "group of 0"),
    ({"slot": "s9", "stand": "S1", "task": "T1", "students": ["ann"]}, "slot"),
    ({"slot": "s1", "stand": "S1", "task": "T1", "students": ["bo"]}, "bo is away"),
]


class TestBadFiles:
    def test_a_fixed_booking_that_leaves_no_slot_for_what_comes_first(self):
        fixed = [{"slot": "s0", "stand": "S1", "task": "T2", "students": ["bo"]}]
        tasks = [task(), task(id="T2", group=[1, 1], after=["T1"])]
        with pytest.raises(DocumentError, match="no slot for T1"):
            read_rota(rota(fixed=fixed, tasks=tasks))

    @pytest.mark.parametrize(("document", "word"), BAD)
    def test_are_refused_with_their_path(self, document, word):
        with pytest.raises(DocumentError) as refusal:
            read_rota(document)
        assert word in " ".join(str(fault) for fault in refusal.value.faults)

    @pytest.mark.parametrize(("booking", "word"), FIXED_BADLY)
    def test_a_fixed_booking_that_breaks_a_rule(self, booking, word):
        students = [{"id": "ann"}, {"id": "bo", "away": ["s1"]}]
        with pytest.raises(DocumentError) as refusal:
            read_rota(rota(students=students, fixed=[booking]))
        assert word in str(refusal.value)
        assert "$.fixed[0]" in str(refusal.value)


class TestTheCalculator:
    @pytest.fixture
    def ask(self, tmp_path, capsys):
        def asked(document, *options):
            path = tmp_path / "rota.json"
            path.write_text(json.dumps(document))
            code = main(["rota", str(path), *options])
            out = capsys.readouterr()
            return code, (json.loads(out.out) if code == 0 else out.err)

        return asked

    def test_answers_as_promised(self, ask):
        code, told = ask(rota(students=people(5), tasks=[task(group=[2, 2])]))
        assert code == 0
        assert (told["status"], told["cost"], told["bound"]) == ("optimal", 1001, 1001)
        assert [one["student"] for one in told["missing"]] != []
        assert set(told["missing"][0]) >= {"student", "task", "why"}
        assert told["bookings"][0]["stand"] == "S1"

    def test_a_rota_that_contradicts_itself(self, ask):
        fixed = [{"slot": "s0", "stand": "S1", "task": "T1", "students": ["ann", "bo"]}] * 2
        code, err = ask(rota(fixed=fixed))
        assert code == 2
        assert "$.fixed[1]: breaks a rule" in err
        assert err.count("\n") == 1

    @pytest.mark.parametrize("seconds", ["0", "-3", "soon", "99999"])
    def test_seconds_that_are_none(self, ask, seconds):
        code, err = ask(rota(), "--seconds", seconds)
        assert code == 2
        assert "--seconds" in err
