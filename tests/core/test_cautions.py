"""The lists before and after: short, fitting the engine, each line known by its id."""

import json
from pathlib import Path

import pytest

from tests.core.conftest import engine_firing
from valvetrain.cautions import DEFERS, StartKind, closing_list, likely_starts, opening_list
from valvetrain.engine_file import read_engine

SHELF = Path(__file__).parents[2] / "demo" / "engines"


def shelf(file):
    return read_engine(json.loads((SHELF / f"{file}.json").read_text()))


@pytest.mark.parametrize("start", StartKind)
def test_every_list_is_short_and_names_what_fits(start, four):
    lines = opening_list(four, start)
    assert 4 <= len(lines) <= 7
    assert len({line.id for line in lines}) == len(lines)
    said = " ".join(line.says for line in lines).lower()
    assert {"spark": "plugs", "diesel": "stop lever", "air": "bottles shut"}[start] in said
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
    said = " ".join(line.says for line in closing_list(shelf("01-p4-fire-pump")))
    for part in ("counted", "Turning tool off", "lock nut rechecked, to 22 N·m", "gasket"):
        assert part in said
    assert "supervising licensed person" in DEFERS


def test_shims_close_with_shims_and_cams_and_not_with_lock_nuts():
    lines = {line.id: line.says for line in closing_list(shelf("13-trail-single-five"))}
    assert {"shims", "cam-caps", "cam-marks"} <= set(lines)
    assert "lock-nuts" not in lines
    over = {line.id for line in closing_list(shelf("09-cable-five"))}
    assert "shims" in over
    assert "cam-caps" not in over
    assert "pin" in {line.id for line in closing_list(shelf("10-boat-flat-four"))}


@pytest.mark.parametrize(
    ("file", "start", "says", "never"),
    [
        ("03-lamp-single", StartKind.SPARK, "Starting handle or rope off", "battery"),
        ("08-hut-three", StartKind.DIESEL, "released by the decompression lever", "solenoid"),
        ("02-six-snow-tug", StartKind.DIESEL, "Stop solenoid without current", "Stop lever"),
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
    over = {line.id: line.says for line in closing_list(by_hand)}
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
    lines = {line.id: line.says for line in closing_list(shelf(file))}
    assert lines["turning-tool"] == off
    assert lines["cover"].startswith(f"Cover gasket and {covered} sound")


def test_a_decompression_lever_is_put_back():
    assert "decompression" in {line.id for line in closing_list(shelf("08-hut-three"))}
    assert "decompression" not in {line.id for line in closing_list(shelf("01-p4-fire-pump"))}


def test_a_handle_that_turns_the_engine_is_not_put_out_of_reach_first():
    opening = opening_list(shelf("18-mill-side-valve"), StartKind.SPARK)
    lines = {line.id: line.says for line in opening}
    assert "pulled up" in lines["handle"]
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
