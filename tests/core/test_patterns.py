"""Patterns are engine files that nobody has to mend before beginning."""

import jsonschema
import pytest

from valvetrain.engine_file import engine_schema, read_engine
from valvetrain.patterns import patterns
from valvetrain.sequences import make_plan
from valvetrain.suspicions import suspicions


@pytest.mark.parametrize("pattern", patterns(), ids=lambda pattern: pattern.id)
def test_each_is_right_unsuspicious_and_can_be_planned(pattern):
    jsonschema.validate(pattern.document, engine_schema())
    engine = read_engine(pattern.document)
    assert suspicions(engine) == ()
    assert make_plan(engine, "fewest-stops").complete


def test_ids_and_names_are_unique():
    assert len({p.id for p in patterns()}) == len({p.says for p in patterns()}) == len(patterns())


def test_each_call_gives_documents_of_its_own():
    patterns()[0].document["name"] = "spoilt"
    assert patterns()[0].document["name"] == "New engine"


def test_lettered_marks_serve_every_rocker_of_a_braked_six():
    """Each letter comes up twice in two turns, for one cylinder of its two at a time; brake rockers
    are loose there too (common practice on engines with lettered marks)."""
    (document,) = [p.document for p in patterns() if p.id == "six-lettered"]
    plan = make_plan(read_engine(document), "pair-marks")
    assert plan.complete
    assert [len(stop.valves) for stop in plan.stops] == [3] * 6
    assert plan.least_margin_deg > 10
    assert all("all loose" in stop.find_by for stop in plan.stops)
    assert [stop.find_by[:14] for stop in plan.stops] == [
        f"crank mark “{letter}”" for letter in "ABCABC"
    ]
