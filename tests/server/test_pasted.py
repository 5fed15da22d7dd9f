"""Pasted class lists: what people paste, and anything at all."""

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from edrix.accounts.models import User
from edrix.accounts.services import PASSCODE_LETTERS, free_sign_in_name, new_passcode
from edrix.classes import roll
from edrix.classes.pasted import MOST_LINES, Line, read_list
from edrix.errors import InvalidError
from tests.server.conftest import Browser


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


@pytest.mark.parametrize(
    ("text", "name", "sign_in"),
    [
        ("Baker, Tom", "Tom Baker", None),
        ("Müller, Jürgen", "Jürgen Müller", None),
        ("Müller, Jürgen; juergen.m", "Jürgen Müller", "juergen.m"),
        ("Baker, Tom, tbaker", "Tom Baker", "tbaker"),
        ("van der Berg, Jan Willem", "Jan Willem van der Berg", None),
        ("Żak\tŁucja", "Żak Łucja", None),
        ("Last name\tFirst name\nŻak\tŁucja", "Łucja Żak", None),
        ("First name;Last name\nŁucja;Żak", "Łucja Żak", None),
        ("Name\nTom Baker", "Tom Baker", None),
        ("Анна Петрова", "Анна Петрова", None),
        ("Петрова, Анна", "Анна Петрова", None),
        ("Tom Baker, tom-b", "Tom Baker", "tom-b"),
    ],
)
def test_names_as_people_write_them(text, name, sign_in):
    assert read_list(text) == [Line(name, sign_in)]


@pytest.mark.parametrize(
    ("name", "signs_in"),
    [
        ("Ines Falkner", "ines.falkner"),
        ("Łukasz Żak", "lukasz.zak"),
        ("Åse Brækkel", "ase.braekkel"),
        ("Jürgen Müller", "jurgen.muller"),
        ("Анна Петрова", "anna.petrova"),
        ("Sigríður Þórsdóttir", "sigridur.thorsdottir"),
        ("O'Brien, J.", "obrien.j"),
        ("Bo", "student.bo"),
        ("!?", "student"),
    ],
)
def test_sign_in_names_are_typed_on_any_keyboard(name, signs_in):
    """Transliterations as the library's tables have them (Unicode's names of letters)."""
    assert free_sign_in_name(name, set()) == signs_in


def test_a_list_is_seen_before_anybody_is_added(school, browsers):
    text = (
        "Baker, Tom\nTom Baker\nInes Falkner\nBo, bo.hallgrim\nRolf, rolf\n12\nSuvi, suvi.arnholt"
    )
    path = f"/api/classes/{school.class_a}/roll/preview"
    before = User.objects.count()
    seen = browsers["instructor"].send("POST", path, {"text": text}).json()
    assert User.objects.count() == before
    assert [(one["display_name"], one["sign_in_name"]) for one in seen[:3]] == [
        ("Tom Baker", "tom.baker"),
        ("Tom Baker", "tom.baker2"),
        ("Ines Falkner", "ines.falkner2"),
    ]
    assert "Tom Baker is in this class already" in seen[1]["says"]
    assert "Ines Falkner is in this class already" in seen[2]["says"]
    assert seen[3]["problem"] == "is in this class already"
    assert seen[4]["problem"] == "is a teacher's sign-in name"
    assert seen[5]["problem"] == "has no name in it"
    assert (seen[6]["joins"], seen[6]["display_name"]) == (True, "Suvi Arnholt")


def test_passcodes_for_the_whole_class_and_their_slips(school, browsers):
    roll.add_students(school.tove, school.class_a, "Suvi, suvi.arnholt\nŁucja Żak")
    tove, ines = browsers["instructor"], browsers["student"]
    assert ines.get("/api/work").status_code == 200
    fresh = tove.send("POST", f"/api/classes/{school.class_a}/passcodes").json()
    by_name = {one["sign_in_name"]: one["passcode"] for one in fresh}
    assert by_name.pop("suvi.arnholt") is None, "her account is class B's"
    assert ines.get("/api/work").status_code == 401, "the old one has ended"
    for name, passcode in by_name.items():
        assert Browser().sign_in(name, passcode).status_code == 200
    people = [{"id": one["id"], "passcode": one["passcode"]} for one in fresh if one["passcode"]]
    slips = tove.send("POST", f"/api/classes/{school.class_a}/slips.pdf", {"people": people})
    text = "".join(page.extract_text() for page in PdfReader(io.BytesIO(slips.content)).pages)
    for one in fresh:
        if one["passcode"]:
            assert one["passcode"] in text
            assert one["sign_in_name"] in text
    assert "Łucja Żak" in text
    assert "Suvi" not in text


def test_slips_are_printed_for_ones_own_class_only(school, browsers):
    body = {"people": [{"id": school.bo.id, "passcode": "abcd-efgh"}]}
    own = browsers["other instructor"].send(
        "POST", f"/api/classes/{school.class_b}/slips.pdf", body
    )
    assert own.status_code == 422


def test_names_stand_in_the_schools_order(school, browsers, settings):
    """As the Common Locale Data Repository has it: Å is a kind of A in English, and follows Z in
    Swedish (both from memory)."""
    roll.add_students(school.tove, school.class_a, "Zita Moe\nÅse Lind\nada Berg")
    path = f"/api/classes/{school.class_a}"
    for collation, order in (
        ("en-x-icu", ["ada Berg", "Åse Lind", "Bo Hallgrim", "Ines Falkner", "Zita Moe"]),
        ("sv-x-icu", ["ada Berg", "Bo Hallgrim", "Ines Falkner", "Zita Moe", "Åse Lind"]),
    ):
        settings.COLLATION = collation
        found = browsers["instructor"].get(path).json()["students"]
        assert [one["display_name"] for one in found] == order
