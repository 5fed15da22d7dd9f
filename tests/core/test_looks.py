"""What may be looked at, by valve train and ignition: facts of the trade."""

import json
from pathlib import Path

import pytest

from tests.core.conftest import engine_document, engine_firing
from valvetrain.cycle_table import segments
from valvetrain.engine_file import read_engine
from valvetrain.looks import lobes_hidden, looks, loose_words, overlap_words, valves_called
from valvetrain.sequences import compare_methods
from valvetrain.signs import rotor_of

SHELF = sorted((Path(__file__).parents[2] / "demo" / "engines").glob("*.json"))


def shelf(number):
    (path,) = (path for path in SHELF if path.stem.startswith(f"{number:02d}-"))
    return read_engine(json.loads(path.read_text()))


@pytest.mark.parametrize(
    ("number", "called", "names"),
    [
        (1, "rockers", ["followers", "rods", "air", "companion"]),
        (4, "rockers", ["followers", "lobes", "air"]),
        (5, "buckets", ["lobes", "air"]),
        (14, "rockers", ["followers", "lobes", "rotor", "air", "companion"]),
        (17, "opening rockers", ["followers", "lobes", "air"]),
        (18, "tappets", ["followers", "air", "companion"]),
        (19, "fingers", ["followers", "lobes", "rotor", "air", "companion"]),
    ],
)
def test_every_engine_offers_the_looks_that_it_has(number, called, names):
    engine = shelf(number)
    assert valves_called(engine) == called
    assert [look.name for look in looks(engine)] == names


@pytest.mark.parametrize("path", SHELF, ids=lambda path: path.stem)
def test_what_is_not_there_is_never_told(path):
    """Whatever Edrix says of a place: no rocker on a bucket engine, no lobe that lies in a block,
    no rotor without a distributor."""
    engine = read_engine(json.loads(path.read_text()))
    trains = {engine.train_of(role).value for role in engine.roles}
    said = [look.does for look in looks(engine)]
    for compared in compare_methods(engine):
        said.append(compared.recognise)
        if compared.offered:
            said += [stop.find_by for stop in compared.plan.stops]
    for segment in segments(engine):
        said += [words for words in segment.signs if words is not None]
    words = " ".join(said).lower()
    if trains == {"bucket"}:
        assert "rocker" not in words
        assert "rocks" not in words
        assert "wiggle" not in words
    if trains <= {"pushrod-rocker", "side-valve"}:
        assert " lobe" not in words.replace("the lobe pointing straight away", "")
    if "pushrod-rocker" not in trains:
        assert "push rod" not in words
    if engine.ignition is None or not engine.ignition.distributor:
        assert "rotor" not in words


def test_a_method_whose_sign_is_out_of_sight_is_not_offered_and_says_why():
    by_method = {c.plan.method: c for c in compare_methods(shelf(1))}
    assert not by_method["lobe-away"].offered
    assert "in the block, out of sight" in by_method["lobe-away"].says
    assert {c.plan.method for c in compare_methods(shelf(5)) if not c.offered} == set()
    assert lobes_hidden(shelf(5)) is None


def test_four_rockers_are_all_loose_and_two_bridges_both():
    assert loose_words(shelf(1), 1) == "rockers of cylinder 1 both loose"
    assert loose_words(shelf(15), 1) == "rockers of cylinder 1 all loose"
    assert loose_words(shelf(12), 1) == "rockers of cylinder 1 both loose"
    assert loose_words(shelf(5), 2) == "lobes of cylinder 2 all pointing away"
    assert overlap_words(shelf(9), 1) == (
        "cylinder 1 is in overlap, its lobes pressing on exhaust and intake"
    )


def test_a_lettered_mark_says_at_each_pass_whose_it_is():
    """Mark A of the hauler serves cylinders 1 and 6, 102 degrees after each has fired."""
    chart = {c.plan.method: c.plan for c in compare_methods(shelf(12))}["maker-chart"]
    by_place = {stop.crank_deg: stop.find_by for stop in chart.stops}
    assert "mark “A” lines up and rockers of cylinder 1 all loose, not 6" in by_place[102]
    assert "mark “A” lines up and rockers of cylinder 6 all loose, not 1" in by_place[462]


def test_mixed_trains_are_told_role_by_role():
    mixed = engine_firing([1, 2], valve_train={"intake": "bucket", "exhaust": "pushrod-rocker"})
    assert valves_called(mixed) == "buckets and rockers"
    at_fire = segments(mixed)[0].signs
    assert at_fire.followers == "exhaust rocker loose"
    assert at_fire.rods == "exhaust push rod spins free"
    assert at_fire.lobes == "intake lobe clear of its bucket"
    assert lobes_hidden(mixed) == "The cam of the exhaust valves lies in the block, out of sight."


def test_the_rotor_points_at_who_fires_nearest():
    """1-3-4-2 fires every 180 degrees: the rotor changes its lead half-way (by hand)."""
    assert [tuple(stretch) for stretch in rotor_of(shelf(19))] == [
        (90, 3),
        (270, 4),
        (450, 2),
        (630, 1),
    ]


def test_lobes_out_of_sight_are_said_to_be_so():
    """An engine file of before gives no valve train: the look is answered, never with “None”."""
    from valvetrain.practice import apply, deal_setup, first_state, read_action

    document = engine_document([1, 3, 4, 2], adjuster={"kind": "screw", "pitch_mm": 1.0,
                                                       "screw_at": "pushrod"})  # fmt: skip
    setup = deal_setup(read_engine(document), 3)
    _, seen = apply(setup, first_state(setup), read_action({"do": "look", "at": "lobes"}))
    assert "None" not in seen.says
    assert "out of sight" in seen.says
