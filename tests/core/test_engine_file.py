"""The engine file: reading, refusing with a path, writing, and its JSON Schema."""

import json
import math
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_document, engine_firing
from valvetrain.document import DocumentError, parse_json
from valvetrain.engine import Role
from valvetrain.engine_file import engine_schema, read_engine, remarks, write_engine
from valvetrain.suspicions import suspicions

DEMO_FILES = sorted((Path(__file__).parents[2] / "demo" / "engines").glob("*.json"))


def full_document():
    """Every field that the format has, none at its default."""
    return engine_document(
        [1, 2],
        layout="vee",
        banks=[[1], [2]],
        firing_intervals_deg=[270, 450],
        rotation="counterclockwise",
        turning={"reverse_allowed": False, "backlash_deg": 3, "with": "barring tool"},
        geometry={"bore_mm": 80, "stroke_mm": 70, "rod_mm": 120},
        timing={
            "intake": {"opens_btdc": -4, "closes_abdc": 30},
            "exhaust": {"opens_bbdc": 200, "closes_atdc": -5},
            "brake": {"opens_cycle_deg": 700, "closes_cycle_deg": 40},
        },
        lift_mm={"intake": 7.5, "exhaust": 7, "brake": 2},
        ramp_deg=12.5,
        valves=[
            {"number": 11, "cylinder": 1, "role": "intake"},
            {"number": 12, "cylinder": 1, "role": "exhaust"},
            {"number": 21, "cylinder": 2, "role": "intake"},
            {"number": 22, "cylinder": 2, "role": "exhaust"},
            {"number": 23, "cylinder": 2, "role": "brake"},
        ],
        clearance={
            "unit": "thou",
            "engine": "hot",
            "intake": {"nominal": 10, "minus": 1, "plus": 2},
            "exhaust": {"min": 12, "max": 15},
            "brake": {"min": 30, "max": 32, "running": {"min": 20, "max": 40}},
        },
        adjuster={
            "intake": {"kind": "screw", "pitch_mm": 0.75, "screw_at": "valve"},
            "exhaust": {
                "kind": "shim",
                "place": "under-bucket",
                "sizes_mm": {"from": 2.0, "to": 3.2, "step": 0.05},
                "cams_out": True,
            },
            "brake": {"kind": "hydraulic"},
        },
        decompressor={
            "role": "exhaust",
            "opens_cycle_deg": 600,
            "closes_cycle_deg": 660,
            "lift_mm": 0.5,
        },
        marks=[{"on": "cam", "label": "A", "deg": 700, "means": "pin"}],
        maker_chart=[{"crank_deg": 20, "set": [11, 12]}],
        notes="From the plate.",
    )


def changed(path, value):
    """The full document with one place changed; path like `valves.0.role`."""
    document = json.loads(json.dumps(full_document()))
    *steps, last = [int(step) if step.isdigit() else step for step in path.split(".")]
    place = document
    for step in steps:
        place = place[step]
    if value is ...:
        del place[last]
    else:
        place[last] = value
    return document


@pytest.mark.parametrize(
    "document", [full_document(), engine_document([1, 3, 4, 2]), engine_document([1])]
)
def test_written_files_read_back_equal(document):
    engine = read_engine(document)
    written = json.loads(json.dumps(write_engine(engine)))
    assert read_engine(written) == engine
    jsonschema.validate(written, engine_schema())


def test_events_on_the_cycle():
    engine = read_engine(full_document())
    intake, exhaust, brake = (engine.events[role] for role in Role)
    assert (intake.opens_cycle_deg, intake.closes_cycle_deg) == (364, 570)
    assert (exhaust.opens_cycle_deg % 720, exhaust.closes_cycle_deg % 720) == (700, 355)
    assert (brake.opens_cycle_deg, brake.closes_cycle_deg) == (700, 760)


def test_nominal_with_tolerances_is_a_range():
    spec = read_engine(full_document()).clearance[Role.INTAKE]
    assert (float(spec.low_mm), float(spec.high_mm)) == pytest.approx((0.2286, 0.3048))


REFUSED = [
    # path changed, value, path named, words in the sentence; whether the schema sees it too
    ("format", "edrix-engine/2", "$.format", 'give "edrix-engine/1"', True),
    ("name", ..., "$.name", "is missing; give the engine's name", True),
    ("name", "x" * 500, "$.name", "give at most 200", True),
    ("name", "a\x00b", "$.name", "control characters", False),
    ("cylinders", 1000, "$.cylinders", "a whole number from 1 to 24", True),
    ("cylinders", True, "$.cylinders", "a whole number from 1 to 24", True),
    ("cylinders", 2.5, "$.cylinders", "a whole number from 1 to 24", True),
    ("firing_order", [1, 1], "$.firing_order", "cylinder 1 stands in it twice", False),
    ("firing_order", [1], "$.firing_order", "cylinder 2 is missing", False),
    ("firing_order", "1-2", "$.firing_order", "give a list of cylinder numbers", True),
    ("firing_intervals_deg", [180, 500], "$.firing_intervals_deg", "adds up to 680", False),
    ("firing_intervals_deg", [720], "$.firing_intervals_deg", "give 2, one for each", False),
    ("banks", [[1], [1, 2]], "$.banks", "cylinder 1 stands in it twice", False),
    ("rotation", "left", "$.rotation", "give one of clockwise, counterclockwise", True),
    ("geometry.rod_mm", 30, "$.geometry.rod_mm", "longer than the crank radius 35", False),
    ("timing.intake", ..., "$.timing.intake", "is missing", False),
    ("timing.intake.opens_btdc", "12", "$.timing.intake.opens_btdc", 'is "12"', True),
    ("timing.intake.opens_btdc", math.nan, "$.timing.intake.opens_btdc", "from -180 to 360", False),
    ("timing.exhaust.closes_atdc", 360, "$.timing.exhaust", "events overlap themselves", False),
    # 180 + 0 − 180: it closes in the degree in which it opens.
    (
        "timing.intake",
        {"opens_btdc": 0, "closes_abdc": -180},
        "$.timing.intake",
        "closes 0 degrees before it opens",
        False,
    ),
    ("ramp_deg", 0, "$.ramp_deg", "crank degrees of ramp, usually 10 to 30", True),
    ("valves.2.cylinder", 7, "$.valves[2].cylinder", "from 1 to 2", False),
    ("valves.1.number", 11, "$.valves[1].number", "11 is taken", False),
    ("valves.0.role", "inlet", "$.valves[0].role", "one of intake, exhaust, brake", True),
    ("valves", [], "$.valves", "list every valve", True),
    ("clearance.unit", "inch", "$.clearance.unit", "one of mm, thou", True),
    ("clearance.brake", ..., "$.clearance.brake", "is missing", False),
    ("clearance.exhaust", {"min": 15, "max": 12}, "$.clearance.exhaust", "swap them", False),
    ("clearance.exhaust.min", -1, "$.clearance.exhaust.min", "from 0", True),
    ("adjuster.intake.pitch_mm", 0, "$.adjuster.intake.pitch_mm", "above 0", True),
    ("adjuster.exhaust.sizes_mm.step", 0, "$.adjuster.exhaust.sizes_mm.step", "above 0", True),
    ("decompressor.role", "none", "$.decompressor.role", "one of intake", True),
    ("marks.0.deg", 999, "$.marks[0].deg", "degrees on the cam", True),
    ("maker_chart.0.set", [99], "$.maker_chart[0].set[0]", "no such valve", False),
]


@pytest.mark.parametrize(("place", "value", "path", "says", "in_schema"), REFUSED)
def test_bad_files_are_refused_with_path_reason_and_remedy(place, value, path, says, in_schema):
    document = changed(place, value)
    with pytest.raises(DocumentError) as caught:
        read_engine(document)
    named = {fault.path: fault.problem for fault in caught.value.faults}
    assert path in named
    assert says in named[path]
    if in_schema:
        with pytest.raises(jsonschema.ValidationError):
            jsonschema.validate(document, engine_schema())


def test_all_faults_are_told_at_once():
    document = changed("rotation", "left") | {"ramp_deg": -3}
    with pytest.raises(DocumentError, match=r"\(and 1 more\)") as caught:
        read_engine(document)
    assert len(caught.value.faults) == 2


@pytest.mark.parametrize(
    ("text", "says"),
    [("{", "is not JSON"), ("[" * 100_000, "nested too deep"), ("9" * 5000, "too long a number")],
)
def test_text_that_is_no_json(text, says):
    with pytest.raises(DocumentError, match=says):
        parse_json(text)


JUNK = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda inside: st.lists(inside, max_size=4) | st.dictionaries(st.text(max_size=8), inside),
    max_leaves=8,
)


@given(st.sampled_from(sorted(full_document())), JUNK)
def test_the_reader_survives_junk_in_any_field(field, junk):
    document = full_document() | {field: junk}
    try:
        read_engine(document)
    except DocumentError as refusal:
        faults = refusal.faults
    else:
        faults = ()
    assert all(fault.path.startswith("$") and fault.problem for fault in faults)


@given(JUNK)
def test_the_reader_survives_junk_for_a_whole_file(junk):
    with pytest.raises(DocumentError):
        read_engine(junk)


def test_the_published_schema_is_current():
    published = Path(__file__).parents[2] / "docs" / "engine-file.schema.json"
    assert json.loads(published.read_text()) == engine_schema()


def test_what_was_assumed_or_not_used_is_said():
    document = engine_document([1])
    del document["lift_mm"]
    document["timing"]["brake"] = {"opens_cycle_deg": 655, "closes_cycle_deg": 75}
    said = remarks(document)
    assert "$.timing.brake is given, but no valve of this engine is a brake." in said
    assert any("$.lift_mm.intake is not given; 8 mm is assumed" in text for text in said)


SPEC = {"unit": "mm", "intake": {"min": 0.22, "max": 0.28}, "exhaust": {"min": 0.32, "max": 0.38}}


BUMP = {"role": "exhaust", "opens_cycle_deg": 560, "closes_cycle_deg": 640, "lift_mm": 0.6}
PAIR = {"on": "crank", "label": "A", "deg": 0, "means": "pair"}


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        (
            {"clearance": SPEC | {"exhaust": {"min": 0.1, "max": 0.2}}},
            "is tighter than the intake's",
        ),
        ({"clearance": SPEC | {"exhaust": {"min": 8, "max": 9}}}, "was it written in thou?"),
        ({"clearance": SPEC | {"unit": "thou"}}, "was it written in millimetres?"),
        ({"clearance": SPEC | {"intake": {"nominal": 0.25}}}, "with no tolerance"),
        ({"notes": "Set to 0.10 mm (5 thou) cold."}, "they do not agree"),
        ({"marks": [{"on": "crank", "label": "T", "deg": 9, "means": "tdc"}]}, "lies 9 degrees"),
        (
            {"adjuster": {"kind": "screw", "pitch_mm": 1, "screw_at": "pushrod"}},
            "no rocker_ratio is given",
        ),
        (
            {
                "timing": {
                    "intake": {"opens_btdc": -10, "closes_abdc": 40},
                    "exhaust": {"opens_bbdc": 40, "closes_atdc": -5},
                }
            },
            "There is no overlap: the exhaust shuts 15 degrees",
        ),
        ({"lift_mm": {"intake": 80, "exhaust": 8}}, "lift 80 mm"),
        ({"decompressor": BUMP | {"lift_mm": 8}}, "lifts its valve 8 mm"),
        (
            {"decompressor": BUMP | {"opens_cycle_deg": 200, "closes_cycle_deg": 300}},
            "where the exhaust valve is open anyway",
        ),
        # At 0 the companion, cylinder 4, is in overlap: neither of its valves can be set.
        (
            {"maker_chart": [{"crank_deg": 0, "set": [1, 2, 7, 8]}]},
            "table sets valve 7, 8 at 0 degrees",
        ),
        (
            {"marks": [PAIR | {"cylinders": [2, 3]}]},
            "serves cylinder 2 by the file, but that is 180 degrees from its top",
        ),
    ],
)
def test_suspicions(fields, says):
    assert any(says in text for text in suspicions(engine_firing([1, 3, 4, 2], **fields)))


def test_a_brake_rocker_may_stand_seven_millimetres_off():
    braked = json.loads(next(p for p in DEMO_FILES if "brake" in p.stem).read_text())
    braked["clearance"]["brake"] = {"min": 6.8, "max": 7.2}
    assert not [text for text in suspicions(read_engine(braked)) if "very large" in text]
    braked["clearance"]["brake"] |= {"unit": "thou"}
    assert any("very small for thou" in text for text in suspicions(read_engine(braked)))


def test_a_decompressor_in_the_compression_stroke_is_not_suspicious():
    assert suspicions(engine_firing([1, 3, 4, 2], decompressor=BUMP)) == ()


def test_a_plain_engine_is_not_suspicious():
    assert suspicions(engine_firing([1, 3, 4, 2], notes="0.25 mm (10 thou) cold")) == ()


@pytest.mark.parametrize("path", DEMO_FILES, ids=lambda path: path.stem)
def test_demo_engines_are_right(path):
    document = json.loads(path.read_text())
    jsonschema.validate(document, engine_schema())
    # The label of the flat six is wrong on purpose: its two units do not agree. The mill's manual
    # prints single figures.
    told_of = suspicions(read_engine(document))
    assert bool(told_of) == (path.stem in ("14-crane-flat-six", "18-mill-side-valve"))
    if path.stem == "18-mill-side-valve":
        assert all("shop tolerance of ±1 thou" in sentence for sentence in told_of)
