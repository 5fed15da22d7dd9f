"""A manual's whole page goes into the file and comes out of it; nothing is lost in silence."""

import copy
from decimal import Decimal

import jsonschema
import pytest

from tests.core.conftest import engine_document, engine_firing
from valvetrain.document import DocumentError
from valvetrain.engine import Role, ValveTrain
from valvetrain.engine_file import engine_schema, read_engine, write_engine
from valvetrain.manual import TorqueFigure, TorqueUnit

PAGE = {
    "valve_train": {"intake": "pushrod-rocker", "exhaust": "pushrod-rocker"},
    "bridges": ["intake"],
    "ignition": {
        "kind": "compression",
        "start": ["electric", "air"],
        "stop": "lever",
        "decompression_lever": True,
    },
    "cam_drive": {"sprocket_teeth": 42, "allow_teeth": 0.5},
    "torques": [{"what": "rocker cover", "lb_in": 90.0}, {"what": "cam caps", "nm": 12.0}],
    "parts": ["cover gasket"],
    "tools": ["ring spanner 17", "barring tool"],
    "interval": {"hours": 500.0, "first_hours": 50.0},
    "turning": {"reverse_allowed": False, "backlash_deg": 2.0, "with": "fan", "why": "chain jumps"},
    "decompressor": {
        "role": "exhaust",
        "opens_cycle_deg": 560.0,
        "closes_cycle_deg": 640.0,
        "lift_mm": 0.6,
        "valves": [1, 4],
    },
    "marks": [
        {
            "on": "cam",
            "label": "II",
            "deg": 0.0,
            "means": "pair",
            "pointer": "head face",
            "cylinders": [1, 4],
            "clock": 9,
        }
    ],
    "adjuster": {
        "kind": "screw",
        "pitch_mm": 1.0,
        "screw_at": "pushrod",
        "rocker_ratio": 1.45,
        "locknut_torque_lb_ft": 16.0,
    },
    "notes": "Clean the cover first.",
}


def whole(**fields):
    document = copy.deepcopy(engine_document([1, 3, 4, 2], **(PAGE | fields)))
    document["valves"][0]["label"] = "left"
    return document


def problems(document):
    with pytest.raises(DocumentError) as refused:
        read_engine(document)
    return [str(fault) for fault in refused.value.faults]


def test_every_field_comes_back_as_it_was_written():
    document = whole()
    written = write_engine(read_engine(document))
    for name in (*PAGE, "valves"):
        assert written[name] == document[name], name
    assert read_engine(written) == read_engine(document)
    jsonschema.validate(document, engine_schema())
    jsonschema.validate(written, engine_schema())


def test_the_page_is_there_to_be_asked():
    engine = read_engine(whole())
    assert engine.train_of(Role.INTAKE) is ValveTrain.PUSHROD
    assert engine.valve[1].label == "left"
    # 16 lb·ft is 21.69 N·m: 1 lb·ft = 1.3558 N·m (NIST SP 811, appendix B.8, from memory).
    assert engine.adjuster(1).screw.locknut_torque_nm == pytest.approx(21.693, abs=1e-3)
    # Half a tooth of 42: 720 / 42 / 2 crank degrees, by hand 8.57.
    assert engine.cam_drive.allow_crank_deg == pytest.approx(8.571, abs=1e-3)


def test_torques_in_three_units():
    """12 lb·in are a lb·ft; 1 lb·ft = 1.355818 N·m (NIST SP 811, appendix B.8, from memory)."""
    foot = TorqueFigure(Decimal(1), TorqueUnit.LB_FT)
    assert foot.in_unit(TorqueUnit.LB_IN) == 12
    assert float(foot.nm) == pytest.approx(1.355818, abs=5e-7)
    assert float(TorqueFigure(Decimal(10)).in_unit(TorqueUnit.LB_IN)) == pytest.approx(
        88.5075, abs=1e-4
    )


@pytest.mark.parametrize(
    ("place", "name", "says"),
    [
        ((), "ramp", "$.ramp: is not known here; did you mean “ramp_deg”?"),
        (("turning",), "revers_allowed", "did you mean “reverse_allowed”?"),
        (("valves", 2), "rol", "$.valves[2].rol: is not known here; did you mean “role”?"),
        (("timing", "intake"), "opens_bdc", "did you mean “opens_btdc”?"),
        (("clearance", "intake"), "maxi", "$.clearance.intake.maxi: is not known here"),
        (("adjuster",), "pitch", "did you mean “pitch_mm”?"),
        (("ignition",), "colour", "known are kind, distributor, start, stop"),
        (("marks", 0), "on_", "did you mean “on”?"),
    ],
)
def test_a_field_that_is_nobody_s_is_refused_wherever_it_stands(place, name, says):
    document = whole()
    at = document
    for step in place:
        at = at[step]
    at[name] = False
    (problem,) = problems(document)
    assert says in problem
    assert list(jsonschema.Draft202012Validator(engine_schema()).iter_errors(document))


def test_one_form_or_the_other_but_not_both():
    document = whole()
    document["timing"]["intake"] |= {"opens_cycle_deg": 348, "closes_cycle_deg": 586}
    assert len(problems(document)) == 2


@pytest.mark.parametrize(
    "place", [(), ("valves", 3), ("clearance", "exhaust"), ("adjuster",), ("turning",)]
)
def test_names_of_others_are_kept_and_written_back_untouched(place):
    document = whole()
    at = document
    for step in place:
        at = at[step]
    at["x_store"] = {"bin": ["A4", None], "unknown": 3}
    engine = read_engine(document)
    written = write_engine(engine)
    for step in place:
        written = written[step]
    assert written["x_store"] == {"bin": ["A4", None], "unknown": 3}
    jsonschema.validate(document, engine_schema())
    assert read_engine(write_engine(engine)) == engine


def test_a_role_has_its_spec_in_a_unit_of_its_own():
    """A brake lash in millimetres in a thou spec was read forty times too small."""
    clearance = {
        "unit": "thou",
        "intake": {"min": 9, "max": 11},
        "exhaust": {"min": 0.32, "max": 0.38, "unit": "mm"},
    }
    engine = read_engine(engine_document([1, 3, 4, 2], clearance=clearance))
    assert engine.limits_mm[Role.EXHAUST] == (Decimal("0.3200"), Decimal("0.3800"))
    assert engine.limits_mm[Role.INTAKE] == (Decimal("0.2286"), Decimal("0.2794"))
    assert write_engine(engine)["clearance"]["exhaust"]["unit"] == "mm"
    assert "unit" not in write_engine(engine)["clearance"]["intake"]
    assert read_engine(write_engine(engine)) == engine


SHIMS = {
    "kind": "shim",
    "place": "under-bucket",
    "sizes_mm": {"from": 1.2, "to": 3.5, "step": 0.05},
    "cams_out": True,
    "diameter_mm": 9.48,
}


@pytest.mark.parametrize(
    ("codes", "stamped", "size"),
    [({"times": 0.01}, "235", "2.35"), ({"A": 2.3, "B": 2.35}, "B", "2.35")],
)
def test_stamped_codes(codes, stamped, size):
    document = engine_document([1, 3, 4, 2], adjuster=SHIMS | {"codes": codes})
    jsonschema.validate(document, engine_schema())
    shim = read_engine(document).adjuster(1).shim
    assert shim.codes.size_mm(stamped) == Decimal(size)
    assert shim.codes.code_of(Decimal(size)) == stamped
    assert shim.codes.size_mm("Z9") is None
    assert write_engine(read_engine(document))["adjuster"]["codes"] == codes


@pytest.mark.parametrize(
    ("adjuster", "train"),
    [
        (SHIMS, ValveTrain.BUCKET),
        (SHIMS | {"place": "under-follower"}, ValveTrain.FINGER),
        ({"kind": "screw", "pitch_mm": 1, "screw_at": "pushrod"}, ValveTrain.PUSHROD),
        ({"kind": "screw", "pitch_mm": 1}, ValveTrain.ROCKER),
        (None, ValveTrain.ROCKER),
    ],
)
def test_a_valve_train_that_is_not_given_is_told_by_the_adjuster(adjuster, train):
    fields = {} if adjuster is None else {"adjuster": adjuster}
    engine = read_engine(engine_document([1, 3, 4, 2], **fields))
    assert engine.train_of(Role.INTAKE) is train
    assert engine.is_train_assumed(Role.INTAKE)
    given = read_engine(engine_document([1, 3, 4, 2], valve_train="side-valve", **fields))
    assert given.train(1) is ValveTrain.SIDE_VALVE
    assert not given.is_train_assumed(Role.INTAKE)


PULLED = {
    "valve_train": "positive-closing",
    "clearance": {
        "unit": "mm",
        "intake": {"min": 0.1, "max": 0.15},
        "exhaust": {"min": 0.12, "max": 0.17},
        "closing": {"intake": {"min": 0.0, "max": 0.05}, "exhaust": {"nominal": 0.03}},
    },
    "adjuster": SHIMS | {"place": "under-follower"},
    "closing_adjuster": SHIMS | {"place": "under-follower", "diameter_mm": 7},
}


def test_a_valve_that_is_pulled_shut_has_two_clearances():
    engine = read_engine(engine_document([1, 2], **PULLED))
    assert engine.closing[Role.INTAKE].high_mm == Decimal("0.05")
    assert engine.closing_adjusters[Role.EXHAUST].shim.diameter_mm == 7
    assert read_engine(write_engine(engine)) == engine
    jsonschema.validate(engine_document([1, 2], **PULLED), engine_schema())
    (problem,) = problems(engine_document([1, 2], **(PULLED | {"valve_train": "finger"})))[:1]
    assert "are not pulled shut" in problem


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"valve_train": {"intak": "bucket"}}, "did you mean “intake”?"),
        ({"torques": [{"what": "nut", "nm": 3, "lb_ft": 2}]}, "in 2 units; give one"),
        ({"torques": [{"what": "nut"}]}, "gives no torque"),
        ({"valve_train": "chain"}, '$.valve_train: is "chain"; give one of pushrod-rocker'),
        ({"bridges": ["brake"]}, "$.bridges[0]"),
        ({"ignition": {"kind": "compression", "distributor": True}}, "has no distributor"),
        ({"ignition": {"kind": "steam"}}, "give one of spark, compression"),
        ({"cam_drive": {"sprocket_teeth": 0}}, "the teeth of the cam sprocket"),
        ({"interval": {"hours": 0}}, "a number above 0"),
        ({"decompressor": PAGE["decompressor"] | {"valves": [2]}}, "has no such exhaust valve"),
        ({"marks": [PAGE["marks"][0] | {"clock": 13}]}, "an hour of the clock"),
        ({"marks": [PAGE["marks"][0] | {"cylinders": [9]}]}, "a cylinder number"),
        ({"adjuster": SHIMS | {"codes": {"times": 0.01, "A": 2}}}, "stands beside times"),
        ({"parts": [""]}, "is empty; give one of the parts"),
    ],
)
def test_what_cannot_be_is_told_with_its_path(fields, says):
    assert any(says in problem for problem in problems(whole(**fields)))


@pytest.mark.parametrize(
    "spec",
    [{"nominal": 0.15}, {"nominal": 0.15, "minus": 0.0, "plus": 0.0}, {"min": 0.1, "max": 0.2}],
)
def test_a_figure_without_a_tolerance_is_written_back_without_one(spec):
    clearance = {"unit": "mm", "intake": spec, "exhaust": {"min": 0.3, "max": 0.4}}
    engine = engine_firing([1, 2], clearance=clearance)
    assert write_engine(engine)["clearance"]["intake"] == spec
    assert engine.has_single_figures is (spec == {"nominal": 0.15})
