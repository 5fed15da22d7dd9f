"""The lists before and after: short, fitting the engine, each line known by its id."""

import json
from pathlib import Path

import pytest

from tests.core.conftest import engine_firing
from valvetrain.cautions import (
    DEFERS,
    LOOKED_AT,
    StartKind,
    closing_list,
    isolated,
    likely_starts,
    opening_list,
)
from valvetrain.engine_file import read_engine

SHELF = Path(__file__).parents[2] / "demo" / "engines"


def shelf(file):
    return read_engine(json.loads((SHELF / f"{file}.json").read_text()))


def closed(file):
    """The closing list of a demo engine, started as its file says."""
    engine = shelf(file)
    return closing_list(engine, likely_starts(engine)[0])


@pytest.mark.parametrize("start", StartKind)
def test_every_list_is_short_and_names_what_fits(start, four):
    lines = opening_list(four, start)
    assert 4 <= len(lines) <= 8
    assert len({line.id for line in lines}) == len(lines)
    said = " ".join(line.says for line in lines).lower()
    assert {"spark": "plugs", "diesel": "fuel valve shut", "air": "bottles shut"}[start] in said
    assert "engine cold" in said
    assert "pressure released" in said


def test_hot_engines_and_wheels_have_lines_of_their_own():
    hot = engine_firing([1, 3, 4, 2], turning={"with": "back wheel, in gear"})
    lines = {line.id: line.says for line in opening_list(hot, StartKind.SPARK)}
    assert "Back wheel" in lines["secured"]
    document = json.loads((SHELF / "07-ridge-vee-twin.json").read_text())
    assert "hot" in {line.id for line in opening_list(read_engine(document), StartKind.SPARK)}


@pytest.mark.parametrize(
    ("file", "likely"),
    [
        ("03-lamp-single", StartKind.SPARK),
        ("02-six-snow-tug", StartKind.DIESEL),
        ("15-dam-vee-twelve", StartKind.AIR),
    ],
)
def test_what_a_file_lets_expect(file, likely):
    document = json.loads((SHELF / f"{file}.json").read_text())
    assert likely_starts(read_engine(document))[0] is likely


def test_closing_up_counts_tools_and_takes_the_turning_tool_off():
    said = " ".join(line.says for line in closed("01-p4-fire-pump"))
    for part in ("counted", "Turning tool off", "lock nut rechecked, to 22 N·m", "gasket"):
        assert part in said
    assert "supervising licensed person" in DEFERS


def test_shims_close_with_shims_and_cams_and_not_with_lock_nuts():
    lines = {line.id: line.says for line in closed("13-trail-single-five")}
    assert {"shims", "cam-caps", "cam-marks"} <= set(lines)
    assert "lock-nuts" not in lines
    over = {line.id for line in closed("09-cable-five")}
    assert "shims" in over
    assert "cam-caps" not in over
    assert "pin" in {line.id for line in closed("10-boat-flat-four")}


@pytest.mark.parametrize(
    ("file", "start", "says", "never"),
    [
        ("03-lamp-single", StartKind.SPARK, "Starting handle or rope off", "battery"),
        ("08-hut-three", StartKind.DIESEL, "Decompression lever lifted", "solenoid"),
        (
            "02-six-snow-tug",
            StartKind.DIESEL,
            "Stop solenoid without current, which stops this engine",
            "Stop lever",
        ),
        ("16-tunnel-vee-24", StartKind.AIR, "bottles shut", "battery"),
        ("18-mill-side-valve", StartKind.SPARK, "Spark plugs out", "battery"),
    ],
)
def test_isolation_follows_how_the_engine_is_fired_and_started(file, start, says, never):
    engine = shelf(file)
    assert likely_starts(engine)[0] is start
    said = " ".join(line.says for line in opening_list(engine, start))
    assert says in said
    assert never not in said


def test_a_flywheel_is_no_back_wheel():
    by_hand = engine_firing([1, 3, 4, 2], turning={"with": "bar in the flywheel"})
    lines = {line.id: line.says for line in opening_list(by_hand, StartKind.DIESEL)}
    assert "Gearbox in neutral" in lines["secured"]
    over = {line.id: line.says for line in closing_list(by_hand, StartKind.DIESEL)}
    assert over["turning-tool"] == "Barring tool out and put away."


@pytest.mark.parametrize(
    ("file", "off", "covered"),
    [
        ("01-p4-fire-pump", "Turning tool off the crank nut.", "seals"),
        ("07-ridge-vee-twin", "Out of gear, back wheel and stand as they were.", "seals"),
        ("13-trail-single-five", "Out of gear, back wheel and stand as they were.", "plug seals"),
        ("14-crane-flat-six", "Turning tool off the fan hub.", "plug seals"),
        ("15-dam-vee-twelve", "Barring gear out of mesh and locked.", "seals"),
        ("18-mill-side-valve", "Starting handle off and out of reach.", "seals"),
    ],
)
def test_closing_up_follows_what_turned_it_and_what_the_cover_holds(file, off, covered):
    """Common practice. Plugs go down through a cover that the cams lie under."""
    lines = {line.id: line.says for line in closed(file)}
    assert lines["turning-tool"] == off
    assert lines["cover"].startswith(f"Cover gasket and {covered} sound")


FILES = sorted(path.stem for path in SHELF.glob("*.json"))


@pytest.mark.parametrize("start", StartKind)
@pytest.mark.parametrize("file", FILES)
def test_whatever_is_taken_out_or_shut_off_is_put_back(file, start):
    """The closing list mirrors the opening list item by item; fuel, air and battery come last."""
    engine = shelf(file)
    closing = [line.id for line in closing_list(engine, start)]
    for item in isolated(engine, start):
        assert bool(item.back) != (item.line.id in LOOKED_AT), item.line.id
        assert {one.line.id for one in item.back} <= set(closing), item.line.id
    assert len(closing) == len(set(closing))
    work = closing.index("cover")
    last = {"fuel-on", "fuel-run", "battery-on", "air-on"} & set(closing)
    assert last
    assert all(closing.index(one) > work for one in last)
    starts = {"battery-on", "air-on"} & last
    assert all(closing.index(one) > closing.index(two) for one in starts for two in last - starts)


@pytest.mark.parametrize(
    ("solenoid", "says", "never"),
    [
        (None, "Fuel shut-off in the STOP position and secured, fuel valve shut", "current"),
        ("energised-to-run", "without current, which stops this engine", "does not hold"),
        ("energised-to-stop", "does not hold the fuel shut without current", "which stops"),
    ],
)
def test_a_solenoid_that_stops_by_current_is_never_isolated_by_taking_it_away(
    solenoid, says, never
):
    """Fact of the trade: where current stops the engine, an isolated battery leaves its fuel on."""
    fired = {"kind": "compression", "start": ["electric"], "stop": "solenoid"}
    if solenoid:
        fired["stop_solenoid"] = solenoid
    engine = engine_firing([1, 3, 4, 2], ignition=fired)
    said = " ".join(line.says for line in opening_list(engine, StartKind.DIESEL))
    assert says in said
    assert never not in said
    assert "fuel valve shut" in said


def test_indicator_cocks_only_where_the_file_has_them():
    fired = {"kind": "compression", "start": ["air"]}
    for cocks in (True, False):
        engine = engine_firing([1, 3, 4, 2], ignition=fired | {"indicator_cocks": cocks})
        said = " ".join(line.says for line in opening_list(engine, StartKind.AIR))
        assert ("Indicator cocks" in said) is cocks
        assert ("as the manual says" in said) is not cocks
        shut = {line.id for line in closing_list(engine, StartKind.AIR)}
        assert ("cocks-shut" in shut) is cocks


@pytest.mark.parametrize(
    ("file", "says"),
    [
        ("01-p4-fire-pump", "Every lock nut rechecked, to 22 N·m."),
        (
            "12-hauler-brake-six",
            "Every lock nut rechecked, intake and exhaust to 45 N·m, brake to 30 N·m.",
        ),
        ("18-mill-side-valve", "Every lock nut rechecked, to 12 lb·ft."),
        ("06-saw-twin-360", "Every lock nut rechecked, to its torque where the maker gives one."),
    ],
)
def test_each_torque_is_given_with_its_nut(file, says):
    assert {line.id: line.says for line in closed(file)}["lock-nuts"] == says


def test_a_hand_started_engine_has_no_key_and_no_battery():
    said = " ".join(line.says for line in opening_list(shelf("03-lamp-single"), StartKind.SPARK))
    assert "key" not in said
    assert "starter off" not in said


def test_hydraulic_followers_have_nothing_to_set():
    lines = {line.id: line.says for line in closed("11-plough-vee-eight")}
    assert lines["hydraulic"].startswith("Hydraulic followers: no clearance to set")
    assert "lock-nuts" not in lines


def test_a_printed_face_lies_down_only_where_a_cam_would_rub_it():
    over, under = closed("09-cable-five"), closed("05-sled-twin-270")
    assert any("printed face down, away from the cam" in line.says for line in over)
    assert not any("face" in line.says for line in under)
    caps = {line.id: line.says for line in under}["cam-caps"]
    assert caps.endswith("tightened evenly in the manual's order to 10 N·m.")


def test_an_engine_s_own_items_are_on_its_closing_list():
    own = ("New O-rings on the cover bolts", "Oil on the tappets")
    engine = engine_firing([1, 3, 4, 2], closing=list(own))
    said = [line.says for line in closing_list(engine, StartKind.DIESEL)]
    assert set(own) <= set(said)


def test_a_decompression_lever_is_put_back():
    assert "decompression" in {line.id for line in closed("08-hut-three")}
    assert "decompression" not in {line.id for line in closed("01-p4-fire-pump")}


def test_a_handle_that_turns_the_engine_is_not_put_out_of_reach_first():
    opening = opening_list(shelf("18-mill-side-valve"), StartKind.SPARK)
    lines = {line.id: line.says for line in opening}
    assert "pulled up" in lines["crank-handle"]
    assert "out of reach" not in " ".join(lines.values())


def test_signs_tell_the_stroke_at_both_turns_of_a_mark(four):
    """Facts of the trade: both loose and a push of air at the end of compression; in overlap
    neither rocker is loose."""
    from valvetrain.cycle_table import segments

    def signs_at(cycle_deg):
        found = segments(four)
        return next(s.signs for s in found if s.from_deg <= cycle_deg < s.to_deg)

    assert signs_at(715).followers == "both rockers loose"
    assert "pushed out hard" in signs_at(715).air
    assert "loose" not in signs_at(355).followers
    assert "intake valve still lets" in signs_at(560).air
    assert "sucked" in signs_at(90).air
    assert "leaves by the exhaust" in signs_at(270).air
    assert "comes in by the intake" in signs_at(450).air
    assert "clear of their rockers" in signs_at(10).lobes
