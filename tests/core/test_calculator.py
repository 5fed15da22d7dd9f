"""`edrix calc`: promised keys, exit status, one line of complaint."""

import io
import json

import pytest

from tests.core.conftest import engine_document
from valvetrain.calculator import main


@pytest.fixture
def engine_path(tmp_path):
    path = tmp_path / "engine.json"
    path.write_text(json.dumps(engine_document([1, 3, 4, 2])))
    return str(path)


def run(capsys, *arguments):
    status = main(list(arguments))
    out, err = capsys.readouterr()
    return status, out, err


@pytest.mark.parametrize(
    ("command", "keys"),
    [
        (["check"], {"ok", "warnings"}),
        (["state", "--at", "2"], {"crank_deg", "cylinders", "valves"}),
        (["overlap"], {"cylinders"}),
        (["rule"], {"sum", "holds", "pairs", "reason"}),
        (
            ["plan", "--method", "two-stop"],
            {
                "method",
                "complete",
                "stops",
                "unset",
                "total_turn_deg",
                "least_margin_deg",
                "warnings",
            },
        ),
    ],
)
def test_promised_keys(capsys, engine_path, command, keys):
    status, out, err = run(capsys, command[0], engine_path, *command[1:])
    assert (status, err) == (0, "")
    assert keys <= set(json.loads(out))


def test_state_rows(capsys, engine_path):
    _, out, _ = run(capsys, "state", engine_path, "--at", "-718")
    answer = json.loads(out)
    assert answer["crank_deg"] == 2
    assert answer["cylinders"][0] == {
        "cylinder": 1,
        "cycle_deg": 2.0,
        "stroke": "power",
        "piston_from_tdc_mm": None,
    }
    assert answer["valves"][1] == {
        "valve": 2,
        "cylinder": 1,
        "role": "intake",
        "state": "heel",
        "lift_mm": 0.0,
        "gap_mm": 0.25,
        "settable": True,
        "margin_deg": 120.0,
    }


def test_plan_stops(capsys, engine_path):
    _, out, _ = run(capsys, "plan", engine_path, "--method", "two-stop", "--start", "350")
    first = json.loads(out)["stops"][0]
    assert (first["stop"], first["crank_deg"], first["turn_deg"]) == (1, 360, 10)
    assert first["set"] == [4, 6, 7, 8]
    assert "mark “0” lines up" in first["find_by"]


def test_engine_from_standard_input(capsys, monkeypatch):
    text = json.dumps(engine_document([1])).encode()
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(text)))
    status, out, _ = run(capsys, "check", "-")
    assert status == 0
    assert json.loads(out)["ok"] is True


@pytest.mark.parametrize(
    ("text", "answer"),
    [
        ("5 thou", {"mm": 0.127, "thou": 5.0}),
        ("0.12 mm", {"mm": 0.12, "thou": 4.724409}),
        (
            "5 thou = 0.10 mm",
            {
                "mm": 0.127,
                "thou": 5.0,
                "agrees": False,
                "difference_mm": 0.027,
                "says": "5 thou is 0.127 mm, not 0.1: they do not agree.",
            },
        ),
        (
            "0.2 mm = 9 thou",
            {
                "mm": 0.2,
                "thou": 7.874016,
                "agrees": False,
                "difference_mm": -0.0286,
                "says": "0.2 mm is 7.9 thou, not 9: they do not agree.",
            },
        ),
        (
            "5 thou = 0.12 mm",
            {
                "mm": 0.127,
                "thou": 5.0,
                "agrees": True,
                "difference_mm": 0.007,
                "says": "5 thou is 0.127 mm: they agree.",
            },
        ),
        ('0.01 "', {"mm": 0.254, "thou": 10.0}),
        ("1 inch", {"mm": 25.4, "thou": 1000.0}),
        ("12 thousandths", {"mm": 0.3048, "thou": 12.0}),
        # 1 lb·ft = 1.355818 N·m (NIST SP 811, appendix B.8, from memory); 12 lb·in in a lb·ft.
        ("16 lb·ft", {"nm": 21.693087, "lb_ft": 16.0, "lb_in": 192.0}),
        (
            "22 Nm = 16 lb-ft",
            {
                "nm": 22.0,
                "lb_ft": 16.226367,
                "lb_in": 194.716407,
                "agrees": True,
                "difference_nm": 0.306913,
            },
        ),
    ],
)
def test_convert(capsys, text, answer):
    _, out, _ = run(capsys, "convert", text)
    assert json.loads(out) == answer


def test_text_for_people(capsys, engine_path):
    _, out, _ = run(capsys, "plan", engine_path, "--method", "each-cylinder", "--text")
    assert "complete: yes" in out
    assert "  stop 1  crank_deg 0  turn_deg 0  cylinders 1  set 1 2" in out


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["state", "ENGINE", "--at", "1e9"], "--at is 1e+09; give crank degrees, 0 up to 720"),
        (["state", "ENGINE", "--at", "-1e9"], "--at is -1e+09"),
        (["state", "ENGINE", "--at", "nan"], "--at is nan; give crank degrees"),
        (["state", "ENGINE", "--at", "north"], "“north” is not a number of degrees"),
        (["state", "ENGINE"], "the following arguments are required: --at"),
        (["plan", "ENGINE", "--method", "by-ear"], "the method is “by-ear”; give one of"),
        (["plan", "ENGINE", "--method", "two-stop", "--min-margin", "-5"], "--min-margin is -5"),
        (["plan", "ENGINE", "--method", "two-stop", "--direction", "up"], "invalid choice: 'up'"),
        (["check", "/no/such/engine.json"], "cannot be read (No such file or directory)"),
        (["check", "/"], "cannot be read (Is a directory)"),
        (["convert", "5"], "has no unit"),
        (["convert", "1 mm = 2 mm = 3 mm"], "give one length, or a pair"),
        (["convert", "22 Nm = 16 thou"], "one of the two is a torque"),
        (["dance"], "invalid choice: 'dance'"),
        ([], "required: COMMAND"),
    ],
)
def test_wrong_input_is_one_line_and_status_2(capsys, engine_path, arguments, says):
    arguments = [engine_path if word == "ENGINE" else word for word in arguments]
    status, out, err = run(capsys, *arguments)
    assert (status, out) == (2, "")
    assert says in err
    assert err.count("\n") == 1


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"{", "bad.json: $: is not JSON"),
        (b"\xff\xfe", "is not UTF-8 text"),
        (b"[]", "$: is []; give an object"),
        (b" " * 2_000_001, "is larger than 2 MB"),
        (json.dumps(engine_document([1], cylinders=0)).encode(), "$.cylinders: is 0"),
    ],
)
def test_bad_engine_files(capsys, tmp_path, content, says):
    path = tmp_path / "bad.json"
    path.write_bytes(content)
    status, out, err = run(capsys, "check", str(path))
    assert (status, out) == (2, "")
    assert says in err
    assert err.count("\n") == 1


@pytest.mark.parametrize(
    ("command", "keys"),
    [
        (
            "gauge --spec 0.22:0.28 --try 0.25=drag 0.27=no",
            {"low_mm", "high_mm", "estimate_mm", "verdict", "next_leaf_mm"},
        ),
        ("stack --leaves 0.05,0.20,0.08 --target 0.28", {"leaves", "total_mm", "error_mm"}),
        ("screw --pitch 1 --from 0.35 --to 0.25", {"turn_deg", "direction", "divisions"}),
        (
            "shim --fitted 2.70 --measured 0.08 --spec 0.10:0.15 --sizes 2.00:3.50:0.05",
            {"wanted_mm", "choose_mm", "clearance_mm", "choices", "verdict"},
        ),
    ],
)
def test_promised_keys_of_lengths(capsys, command, keys):
    status, out, err = run(capsys, *command.split())
    assert (status, err) == (0, "")
    assert keys <= set(json.loads(out))


def test_gauge_in_thou_answers_in_mm(capsys):
    command = "gauge --spec 9:11 --unit thou --try 10=drag --try 11=no"
    _, out, _ = run(capsys, *command.split())
    answer = json.loads(out)
    assert (answer["low_mm"], answer["high_mm"], answer["verdict"]) == (0.254, 0.2794, "within")


def test_gauge_takes_its_uncertainty_from_the_leaves(capsys):
    tries = "--spec 0.22:0.28 --try 0.22=drag 0.28=no"
    _, sure, _ = run(capsys, "gauge", *tries.split())
    _, worn, _ = run(capsys, "gauge", *tries.split(), "--tolerance", "worn")
    _, told, _ = run(capsys, "gauge", *tries.split(), "--u", "0")
    assert [json.loads(out)["verdict"] for out in (sure, worn, told)] == [
        "within",
        "undecided",
        "within",
    ]
    assert json.loads(worn)["u_mm"] > 0


def test_a_gauge_in_thou_answers_in_thou_too(capsys):
    """6 thou without a tolerance: ±1 thou by the shop (common practice); 1 thou = 0.0254 mm."""
    command = "gauge --spec 6 --unit thou --try 6=drag"
    answer = json.loads(run(capsys, *command.split())[1])
    lengths = {key for key in answer if key.endswith("_mm")}
    assert {key.replace("_mm", "_thou") for key in lengths} <= set(answer)
    assert answer["low_thou"] == 6
    assert answer["next_leaf_thou"] == 7
    assert "±1 thou" in answer["rests_on"]
    assert "7 thou (0.1778 mm)" in answer["says"]
    proved = json.loads(run(capsys, *command.split(), "7=no")[1])
    assert proved["verdict"] == "within"


def test_a_school_states_its_own_tolerance(capsys):
    command = "gauge --spec 0.15 --try 0.14=drag 0.16=no"
    usual, strict = (
        json.loads(run(capsys, *command.split(), *more)[1]) for more in ((), ("--shop", "0.005"))
    )
    assert (usual["verdict"], strict["verdict"]) == ("within", "undecided")
    assert "±0.005 mm" in strict["rests_on"]


def test_stack_answers_in_the_unit_given(capsys):
    _, out, _ = run(capsys, *["stack", "--leaves", "2,3,8", "--target", "11", "--unit", "thou"])
    answer = json.loads(out)
    assert answer["leaves"] == [8, 3]
    assert answer["total_mm"] == pytest.approx(0.2794)


@pytest.mark.parametrize(
    ("command", "says"),
    [
        ("gauge --spec 0.22-", "--spec: “0.22-” is not a number; give one like 0.25"),
        ("gauge --spec 0.22 --shop -1", "--shop is -1"),
        ("gauge --spec 0.22 --shop a-bit", "--shop: “a-bit” is not a number"),
        ("gauge --spec 0.3:0.2", "the spec is 0.3 to 0.2 mm"),
        ("gauge --spec 0.2:0.3 --try 0.25=soft", "free, drag, tight or no"),
        ("gauge --spec 0.2:0.3 --try 0.25", "give LEAF=FEEL"),
        ("gauge --spec 0.2:0.3 --try nan=no", "“nan” is not a number"),
        ("gauge --spec 0.2:0.3 --u -1", "the uncertainty is -1 mm"),
        ("stack --leaves 0.1,,0.2 --target 0.3", "--leaves: “” is not a number"),
        ("stack --leaves 0.1 --target 0.3 --most two", "“two” is not a whole number"),
        ("screw --pitch 0 --from 0 --to 1", "the pitch is 0"),
        ("screw --pitch 1 --from -0.1 --to 1", "--from is -0.1"),
        ("shim --fitted 2 --measured 0.1 --spec 0.1:0.2 --sizes 2:3", "FROM:TO:STEP"),
        ("shim --fitted 0 --measured 0.1 --spec 0.1:0.2 --sizes 2:3:0.05", "fitted shim is 0 mm"),
        ("shim-swap /nowhere.json", "cannot be read"),
    ],
)
def test_lengths_refused_in_one_line(capsys, command, says):
    status, out, err = run(capsys, *command.split())
    assert (status, out) == (2, "")
    assert says in err
    assert err.count("\n") == 1
