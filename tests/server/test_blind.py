"""Blind feel over HTTP: nothing tells the gap before it is guessed, and once it is."""

import json

import pytest

from edrix.practice.models import BlindTry
from valvetrain.practice.blind import deal_blind


def start(browsers, school, who="student"):
    return browsers[who].send("POST", f"/api/classes/{school.class_a}/blind-feel", {})


def push(browsers, opened):
    return browsers["student"].send("POST", f"/api/blind-feel/{opened['id']}/pushes", {})


def guess(browsers, opened, named="drag", gap="0.25", **more):
    body = {"named": named, "gap": gap, **more}
    return browsers["student"].send("POST", f"/api/blind-feel/{opened['id']}/guess", body)


def test_a_gap_is_told_only_once_it_was_guessed(browsers, school):
    opened = start(browsers, school).json()
    blind = deal_blind(BlindTry.objects.get().seed)
    pushed = push(browsers, opened).json()
    assert "pull" in pushed, pushed
    assert set(pushed) == {"pull", "is_in"}
    before = json.dumps([opened, pushed])
    assert str(blind.gap_mm) not in before
    assert str(BlindTry.objects.get().seed) not in before
    told = guess(browsers, opened, gap=f"{blind.gap_mm + 0.01:.3f}").json()
    assert told["gap_mm"] == blind.gap_mm
    assert told["off_mm"] == pytest.approx(0.01, abs=0.0005)
    assert told["word"] in ("free", "drag", "tight", "no")
    assert told["tries"] == 1
    again = guess(browsers, opened)
    assert again.status_code == 404, "a second guess would know the answer"


def test_the_same_gap_is_open_on_every_device(browsers, school):
    first, second = start(browsers, school).json(), start(browsers, school).json()
    assert first["id"] == second["id"]
    assert BlindTry.objects.count() == 1


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"named": "soft"}, "has no name"),
        ({"gap": "far"}, "The gap"),
        ({"gap": ""}, "The gap"),
        ({"gap": "9"}, "give 0 to 2 mm"),
    ],
)
def test_what_is_no_guess_is_refused_and_tells_nothing(browsers, school, fields, says):
    opened = start(browsers, school).json()
    refused = guess(browsers, opened, **fields)
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert BlindTry.objects.get().guessed_at is None


def test_a_guess_in_thou_is_read_as_one(browsers, school):
    opened = start(browsers, school).json()
    assert guess(browsers, opened, gap="10", unit="thou").status_code == 201
    assert float(BlindTry.objects.get().guessed_mm) == pytest.approx(0.254)


def test_enough_of_them_give_a_threshold_that_progress_and_study_keep(browsers, school):
    for turn in range(10):
        opened = start(browsers, school).json()
        # Gaps that differ: what counts is how the guesses follow them.
        seed = 7 * turn
        BlindTry.objects.filter(guessed_at=None).update(seed=seed)
        off = 0.01 if turn % 2 else -0.01
        told = guess(browsers, opened, gap=f"{deal_blind(seed).gap_mm + off:.3f}").json()
    hand = told["hand"]
    assert hand["tries"] == 10
    # About 0.6745 √2 of a scatter of 0.0105 mm.
    assert hand["threshold_mm"] == pytest.approx(0.0105, abs=0.002)
    assert hand["low_mm"] < hand["threshold_mm"] < hand["high_mm"]
    tove, path = browsers["instructor"], f"/api/classes/{school.class_a}"
    progress = tove.get(f"{path}/students/{school.ines.id}/progress").json()
    assert progress["feel"] == hand
    assert browsers["student"].get(f"{path}/progress").json()["feel"] == hand


def test_nobody_feels_anothers_gap(browsers, school):
    opened = start(browsers, school).json()
    other = browsers["classmate"].send("POST", f"/api/blind-feel/{opened['id']}/pushes", {})
    assert other.status_code == 404
    assert start(browsers, school, "instructor").status_code == 403
