"""A colleague's sheet has exactly one mistake, and all that proves it stands on the sheet.

The lines are gone through here by rules of their own, as an instructor does with a pencil: on its
heel? what the leaf says? within the limits? the right way? (Common practice of the trade; one inch
is 25.4 mm exactly, by the international agreement of 1959.)
"""

import json
import re
from pathlib import Path

import pytest

from valvetrain.drill import is_right, put_anew, why_wrong
from valvetrain.engine_file import read_engine
from valvetrain.heel import valve_margin_deg

SHELF = Path(__file__).parents[2] / "demo" / "engines"
SELF_ADJUSTING = "11-plough-vee-eight"
ENGINES = sorted(file.stem for file in SHELF.glob("*.json") if file.stem != SELF_ADJUSTING)
SEEDS = range(12)


def engine(stem):
    return read_engine(json.loads((SHELF / f"{stem}.json").read_text()))


def sheets(stem):
    made = engine(stem)
    return made, [put_anew(made, "find-the-mistake", seed) for seed in SEEDS]


def faults_of(made, line):
    """The rules that a line breaks."""
    (valve,) = (one for one in made.valves if one.number == line.valve)
    spec = made.clearance[valve.role]
    figure, unit = line.wrote.split()
    gap = float(figure) * (0.0254 if unit == "thou" else 1)
    verdict = (
        "tight"
        if gap < float(spec.low_mm) - 1e-9
        else "loose"
        if gap > float(spec.high_mm) + 1e-9
        else "within"
    )
    adjuster = made.adjuster_of(valve.role)
    ways = {"tight": adjuster.wider, "loose": adjuster.narrower, "within": "left as it is"}
    stamped = re.match(r"([\d.]+) mm, (\d+) thou", line.leaf)
    broken = set()
    if valve_margin_deg(made, valve, line.at_deg) < 0:
        broken.add("place")
    elif stamped is None or figure != stamped[2 if unit == "thou" else 1]:
        broken.add("unit")
    if stamped is not None:
        assert abs(float(stamped[1]) / 0.0254 - int(stamped[2])) <= 0.5
    if line.verdict != verdict:
        broken.add("verdict")
    did, *then = line.did.split("; ")
    if ways[line.verdict] and did != ways[line.verdict]:
        broken.add("way")
    # A nut takes its screw with it: the last thing that is done is to measure.
    adjusted = line.verdict != "within" and adjuster.has_nut
    if adjusted and then != ["nut tight, measured"]:
        broken.add("nut")
    if not adjusted and then:
        broken.add("nothing was adjusted")
    return broken


BREAKS = {
    "full-turn-out": {"place"},
    "lobe-for-heel": {"place"},
    "unit": {"unit"},
    "tight-for-loose": {"verdict"},
    "thicker-for-tight": {"way"},
    "nut-forgotten": {"nut"},
}


@pytest.mark.parametrize("stem", ENGINES)
def test_one_line_is_wrong_and_in_one_way(stem):
    made, dealt = sheets(stem)
    for question in dealt:
        valve, mistake = question.answer[0].split(":")
        broken = {line.valve: faults_of(made, line) for line in question.sheet}
        wrong = {number: faults for number, faults in broken.items() if faults}
        assert wrong == {int(valve): BREAKS[mistake]}, question.because


ASKS = {
    "full-turn-out": "place",
    "lobe-for-heel": "place",
    "unit": "unit",
    "tight-for-loose": "verdict",
    "thicker-for-tight": "way",
    "nut-forgotten": "nut",
}
"""What an answer says is wrong with its line."""


@pytest.mark.parametrize("stem", ENGINES)
def test_no_second_answer_is_true(stem):
    """By what its line should hold, worked out from the leaf alone: a figure in the wrong unit has
    the wrong verdict as well, and then *tight for loose* is not offered beside it."""
    made, dealt = sheets(stem)
    for question in dealt:
        lines = {line.valve: line for line in question.sheet}
        for option in question.options:
            if is_right(question, [option.id]):
                continue
            number, mistake = option.id.split(":")
            line = lines[int(number)]
            # Where a line has it as it should be, the answer mends nothing.
            stands = option.says.endswith((f"rightly {line.verdict}", f"rightly {line.did}"))
            assert stands or ASKS[mistake] not in faults_by_the_leaf(made, line), option


def faults_by_the_leaf(made, line):
    """What is wrong with a line by the leaf that dragged, and not by what was written after it."""
    broken = faults_of(made, line)
    if "place" in broken:
        # What it reads there says nothing; any verdict and any way is wrong by it.
        return broken | {"verdict", "way"} if line.verdict != "within" else broken
    stamped = re.match(r"([\d.]+) mm, (\d+) thou", line.leaf)
    (valve,) = (one for one in made.valves if one.number == line.valve)
    spec = made.clearance[valve.role]
    gap = float(stamped[1]) if spec.unit == "mm" else float(stamped[2]) * 0.0254
    verdict = (
        "tight"
        if gap < float(spec.low_mm) - 1e-9
        else "loose"
        if gap > float(spec.high_mm) + 1e-9
        else "within"
    )
    if line.verdict != verdict:
        broken |= {"verdict", "way"}
    return broken


@pytest.mark.parametrize("stem", ENGINES)
def test_every_other_answer_is_proved_wrong_and_shown_on_the_engine(stem):
    _, dealt = sheets(stem)
    for question in dealt:
        (line,) = (
            one for one in question.sheet if f"{one.valve}" == question.answer[0].split(":")[0]
        )
        assert question.shown_deg == line.at_deg
        for option in question.options:
            proof = why_wrong(question, [option.id])
            if is_right(question, [option.id]):
                assert proof is None
            else:
                assert question.because in proof.says
                assert proof.crank_deg == line.at_deg


def test_every_kind_of_mistake_is_made():
    _, dealt = sheets("01-p4-fire-pump")
    made = engine("01-p4-fire-pump")
    dealt += [put_anew(made, "find-the-mistake", seed) for seed in range(12, 60)]
    assert {question.answer[0].split(":")[1] for question in dealt} == set(BREAKS)


def test_a_full_turn_and_the_lobe_are_told_apart_by_the_angle():
    made = engine("01-p4-fire-pump")
    for seed in range(60):
        question = put_anew(made, "find-the-mistake", seed)
        valve, mistake = question.answer[0].split(":")
        (line,) = (one for one in question.sheet if one.valve == int(valve))
        fires = made.fire_deg[line.cylinder]
        if mistake == "full-turn-out":
            assert (line.at_deg - fires) % 720 == 360
        if mistake == "lobe-for-heel":
            assert (line.at_deg - fires) % 720 != 360


def test_an_engine_that_adjusts_itself_has_no_such_sheet():
    assert put_anew(engine(SELF_ADJUSTING), "find-the-mistake", 1) is None
