"""Pasted class lists: what people paste, and anything at all."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from edrix.accounts.services import PASSCODE_LETTERS, free_sign_in_name, new_passcode
from edrix.classes.pasted import MOST_LINES, Line, read_list
from edrix.errors import InvalidError


@pytest.mark.parametrize(
    ("text", "lines"),
    [
        ("Ines Falkner", [Line("Ines Falkner", None)]),
        ("  Ines   Falkner  \r\n\r\nBo", [Line("Ines Falkner", None), Line("Bo", None)]),
        ("Ines Falkner, INES.F", [Line("Ines Falkner", "ines.f")]),
        ("Ines Falkner;ines.f;", [Line("Ines Falkner", "ines.f")]),
        ("Ines\tines-1\t\t", [Line("Ines", "ines-1")]),
        ("Åse Ó Brían", [Line("Åse Ó Brían", None)]),
        ("王小明", [Line("王小明", None)]),
    ],
)
def test_lists_as_they_are_pasted(text, lines):
    assert read_list(text) == lines


def test_every_wrong_line_is_named_at_once():
    with pytest.raises(InvalidError) as caught:
        read_list("Pim\n---\nBo, x\nOla, ola.one\nOle, ola.one")
    assert [fault.path for fault in caught.value.faults] == ["line 2", "line 3", "line 5"]


@given(st.text(max_size=300))
def test_any_text_is_a_list_or_is_refused_in_words(text):
    try:
        lines = read_list(text)
    except InvalidError as refusal:
        faults = refusal.faults
        lines = []
    else:
        faults = []
        assert 0 < len(lines) <= MOST_LINES
    assert bool(lines) != bool(faults)
    assert all(fault.problem for fault in faults)
    assert all(line.display_name.strip() for line in lines)


@given(st.text(min_size=1, max_size=80), st.integers(0, 5))
def test_a_sign_in_name_is_always_found_and_free(display_name, crowd):
    taken = set()
    for _ in range(crowd):
        taken.add(free_sign_in_name(display_name, taken))
    assert len(taken) == crowd
    fresh = free_sign_in_name(display_name, taken)
    assert fresh not in taken
    assert fresh == fresh.lower()
    assert 1 <= len(fresh) <= 60


def test_passcodes_are_typed_easily_and_never_repeat():
    codes = {new_passcode() for _ in range(500)}
    assert len(codes) == 500
    for code in codes:
        assert len(code) == 9
        assert set(code.replace("-", "")) <= set(PASSCODE_LETTERS)
    # Nothing that is read as something else: no vowels, no 0 and O, no 1 and l.
    assert not set("aeiou01l") & set(PASSCODE_LETTERS)
