"""Words of the trade: each explained once, with a drawing; the shown job is told in them."""

import re

import pytest

from tests.core.practice.conftest import Bench
from tests.core.practice.test_walk import follow
from valvetrain.glossary import TERMS, glossary
from valvetrain.glossary_drawings import HEIGHT, WIDTH, drawing, drawings

FORMS = [form.casefold() for term in TERMS for form in (term.word, *term.forms)]


def test_every_word_is_explained_once_and_by_others_than_itself():
    assert len(FORMS) == len(set(FORMS))
    for term in TERMS:
        assert term.means.endswith(".")
        assert not term.means.casefold().startswith(term.word.casefold())


def test_every_word_has_a_drawing_and_no_drawing_is_of_nothing():
    assert {term.drawing for term in TERMS} == set(drawings())
    assert {entry["word"] for entry in glossary()} == {term.word for term in TERMS}


@pytest.mark.parametrize("name", drawings())
def test_a_drawing_shows_what_is_told_within_its_frame(name):
    made = drawing(name)
    assert "told" in {one.ink for one in (*made.strokes, *made.letters)} or name.startswith("wheel")
    places = [point for one in made.strokes for point in one.points]
    for x, y in (*places, *(letters.at for letters in made.letters)):
        assert 0 <= x <= WIDTH
        assert 0 <= y <= HEIGHT


def test_the_cams_drawing_is_round_on_its_heel_only():
    """What the drawing teaches: heel points are equally far from the axle, nose points farther."""
    from valvetrain.glossary_drawings import CAM, HEEL_R

    def far(point):
        return ((point[0] - CAM[0]) ** 2 + (point[1] - CAM[1]) ** 2) ** 0.5

    (heel,) = (one for one in drawing("cam heel").strokes if one.ink == "told")
    (lobe,) = (one for one in drawing("cam lobe").strokes if one.ink == "told")
    assert all(abs(far(point) - HEEL_R) < 0.1 for point in heel.points)
    assert max(far(point) for point in lobe.points) > 1.3 * HEEL_R
    assert min(far(point) for point in lobe.points) > HEEL_R - 0.1


@pytest.mark.parametrize("number", [1, 5, 12, 17, 18, 19])
def test_the_shown_job_has_words_to_tap_at_nearly_every_step(number):
    found = re.compile(rf"\b({'|'.join(map(re.escape, FORMS))})\b", re.IGNORECASE)
    bench = Bench(number, level="shown")
    steps = follow(bench)
    without = [step.says for step in steps if not found.search(f"{step.says} {step.why}")]
    assert len(without) <= len(steps) / 10, without
