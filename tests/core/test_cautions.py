"""The lists before and after: short, fitting the engine, each line known by its id."""

import json
from pathlib import Path

import pytest

from tests.core.conftest import engine_firing
from valvetrain.cautions import DEFERS, StartKind, closing_list, likely_starts, opening_list
from valvetrain.engine_file import read_engine

SHELF = Path(__file__).parents[2] / "demo" / "engines"


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
    said = " ".join(line.says for line in closing_list())
    for part in ("counted", "Turning tool off", "lock nut"):
        assert part in said
    assert "supervising licensed person" in DEFERS


def test_signs_tell_the_stroke_at_both_turns_of_a_mark(four):
    """Facts of the trade: both loose and a push of air at the end of compression; in overlap
    neither rocker is loose."""
    from valvetrain.cycle_table import segments

    def signs_at(cycle_deg):
        found = segments(four)
        return next(s.signs for s in found if s.from_deg <= cycle_deg < s.to_deg)

    assert signs_at(715).rockers == "both rockers loose"
    assert "pushed out hard" in signs_at(715).air
    assert "loose" not in signs_at(355).rockers
    assert "intake valve still lets" in signs_at(560).air
    assert "sucked" in signs_at(90).air
    assert "leaves by the exhaust" in signs_at(270).air
    assert "comes in by the intake" in signs_at(450).air
    assert "clear of their followers" in signs_at(10).lobes
