"""Words of the trade: found as they stand in a text, each with what it means."""

import pytest

from tests.core.practice.conftest import Bench
from tests.core.practice.test_walk import follow
from valvetrain.glossary import TERMS, terms_in


def test_every_word_is_explained_once_and_by_others_than_itself():
    forms = [form.casefold() for term in TERMS for form in (term.word, *term.forms)]
    assert len(forms) == len(set(forms))
    for term in TERMS:
        assert term.means.endswith(".")
        assert not term.means.casefold().startswith(term.word.casefold())


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("Loosen the lock nut of valve 3.", ["lock nut", "valve"]),
        ("Push rods, both rockers and the heel.", ["push rods", "rockers", "heel"]),
        ("The closing shim comes first.", ["closing shim"]),
        ("It is wheeled, marketed and sheltered.", []),
        ("The heel, the heel.", ["heel"]),
    ],
)
def test_words_are_found_whole_and_the_longest_first(text, words):
    assert [word for word, _ in terms_in(text)] == words


@pytest.mark.parametrize("number", [1, 5, 12, 17, 18, 19])
def test_the_shown_job_has_words_to_tap_at_nearly_every_step(number):
    bench = Bench(number, level="shown")
    steps = follow(bench)
    without = [step.says for step in steps if not terms_in(step.says, step.why)]
    assert len(without) <= len(steps) / 10, without
