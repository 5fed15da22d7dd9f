"""One sheet on two devices at once: what does not clash is merged, what does is told."""

import threading

import pytest
from django.db import connection
from hypothesis import given
from hypothesis import strategies as st

from edrix.errors import ServiceError
from edrix.marking import handing_in
from edrix.sheets import drafts
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from edrix.sheets.models import Draft
from tests.server.conftest import right_lines


def blank(valve):
    return {"valve": valve}


def changes(lines, based_on=None):
    """The body of a save: each line, based on nothing where nothing else is said."""
    bases = {line["valve"]: line for line in based_on or ()}
    return {
        "changes": [
            {"line": line, "based_on": bases.get(line["valve"], blank(line["valve"]))}
            for line in lines
        ]
    }


def drafts_of(lines):
    return [drafts.Change(line, TypedLine(valve=line.valve)) for line in lines]


def write(browser, school, lines, based_on=None):
    path = f"/api/sheets/{school.sheet.id}/draft"
    return browser.send("PATCH", path, changes(lines, based_on))


def line(valve, reading="", **fields):
    return {"valve": valve, "reading": reading, "unit": "mm", **fields}


def kept(browsers, school):
    draft = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["draft"]
    return {one["valve"]: one for one in draft}


def test_each_device_keeps_what_it_wrote(school, browsers):
    tablet = write(browsers["student"], school, [line(3, "0.19")])
    assert tablet.json()["clashes"] == []
    phone = write(browsers["student"], school, [line(5, "0.42")])
    # The answer brings what the other one wrote.
    assert [one["valve"] for one in phone.json()["lines"]] == [3, 5]
    assert {valve: one["reading"] for valve, one in kept(browsers, school).items()} == {
        3: "0.19",
        5: "0.42",
    }


def test_fields_of_one_line_are_merged(school, browsers):
    write(browsers["student"], school, [line(3, "0.19")])
    write(browsers["student"], school, [line(3, "", crank_deg=0.0, further={"second": "0.2"})])
    told = kept(browsers, school)[3]
    assert (told["reading"], told["crank_deg"], told["further"]) == ("0.19", 0.0, {"second": "0.2"})


def test_two_figures_for_one_field_are_told_and_neither_is_lost(school, browsers):
    first = line(3, "0.19")
    write(browsers["student"], school, [first])
    answer = write(browsers["student"], school, [line(3, "0.21")]).json()
    assert answer["clashes"] == [
        {"valve": 3, "field": "reading", "mine": "0.21 mm", "theirs": "0.19 mm"}
    ]
    assert kept(browsers, school)[3]["reading"] == "0.19"
    # Whoever has seen what stands there may put theirs in its place.
    answer = write(browsers["student"], school, [line(3, "0.21")], [first]).json()
    assert answer["clashes"] == []
    assert kept(browsers, school)[3]["reading"] == "0.21"


def test_a_figure_and_its_unit_are_one(school, browsers):
    first = line(3, "0.25")
    write(browsers["student"], school, [first])
    thou = first | {"reading": "10", "unit": "thou"}
    write(browsers["student"], school, [thou], [first])
    answer = write(browsers["student"], school, [line(3, "0.26")], [first]).json()
    assert answer["clashes"][0]["theirs"] == "10 thou"


def test_the_same_written_twice_is_no_clash(school, browsers):
    write(browsers["student"], school, [line(3, "0.19")])
    assert write(browsers["student"], school, [line(3, "0.19")]).json()["clashes"] == []


def test_a_figure_is_taken_out_where_nobody_changed_it(school, browsers):
    first = line(3, "0.19", verdict="tight")
    write(browsers["student"], school, [first])
    write(browsers["student"], school, [line(3, "", verdict="tight")], [first])
    assert kept(browsers, school)[3]["reading"] == ""
    assert kept(browsers, school)[3]["verdict"] == "tight"


def test_without_changes_it_tells_what_stands(school, browsers):
    assert write(browsers["student"], school, []).json() == {"lines": [], "clashes": []}
    assert not Draft.objects.exists(), "looking begins no sheet"
    write(browsers["student"], school, [line(3, "0.19")])
    answer = write(browsers["student"], school, [])
    assert [one["reading"] for one in answer.json()["lines"]] == ["0.19"]


def test_a_line_based_on_another_valve_is_refused(school, browsers):
    body = {"changes": [{"line": line(3), "based_on": line(4)}]}
    path = f"/api/sheets/{school.sheet.id}/draft"
    assert browsers["student"].send("PATCH", path, body).status_code == 422
    assert not Draft.objects.exists()


FIELDS = st.fixed_dictionaries(
    {},
    optional={
        "reading": st.sampled_from(["0.1", "0.2", "0.3"]),
        "crank_deg": st.sampled_from([0.0, 360.0]),
        "verdict": st.sampled_from(["tight", "loose"]),
        "further": st.sampled_from([{"second": "0.2"}, {"second": "0.3"}]),
    },
)
LINES = st.builds(lambda fields: TypedLine(valve=1, **fields), FIELDS)


@given(LINES, LINES, LINES)
def test_nothing_that_anybody_wrote_is_lost_without_a_word(base, mine, theirs):
    """Every field that this device changed is kept, or told as a clash with what stands; every
    field that it did not change stays as the other left it."""
    merged, clashes = drafts.merge(drafts.Change(mine, base), theirs)
    told = {clash.field for clash in clashes}
    was, own, there, now = map(drafts._fields, (base, mine, theirs, merged))
    for field in {*was, *own, *there}:
        if own.get(field) == was.get(field) or field in told:
            assert now.get(field) == there.get(field)
        else:
            assert now.get(field) == own.get(field)
    for field in told:
        assert own.get(field) != there.get(field) != was.get(field)


@pytest.mark.django_db(transaction=True)
def test_a_first_draft_beside_the_hand_in_does_not_stay_behind(school, monkeypatch):
    """A tablet saves for the first time while the phone hands in: it stood there as "writing" and
    "handed in" at once, or answered with a fault of ours."""
    kept, drafted = threading.Event(), []
    real = sheets.keep

    def keep_and_wait(*given):
        made = real(*given)
        device.start()
        # It waits for the sheet; it may not get further before this hand-in is whole.
        device.join(1.5)
        kept.set()
        return made

    def save():
        try:
            drafts.save(
                school.ines, school.sheet.id, drafts_of([TypedLine(valve=1, reading="0.3")])
            )
        except ServiceError as refusal:
            drafted.append(str(refusal))
        finally:
            connection.close()

    device = threading.Thread(target=save)
    monkeypatch.setattr(sheets, "keep", keep_and_wait)
    lines = [TypedLine(**one) for one in right_lines()]
    handing_in.hand_in(school.ines, school.sheet.id, lines, request_key="k" * 10, confirmed=True)
    assert kept.is_set()
    device.join(20)
    assert drafted == ["This sheet is handed in; it can no longer be changed."]
    assert not Draft.objects.exists()


@pytest.mark.django_db(transaction=True)
def test_eight_devices_at_once(school):
    """Each writes its own valve at the same moment: all eight are kept."""
    ready = threading.Barrier(8)
    faults = []

    def device(valve):
        try:
            ready.wait()
            own = TypedLine(valve=valve, reading=f"0.{valve}1")
            drafts.save(school.ines, school.sheet.id, drafts_of([own]))
        except (ServiceError, Exception) as fault:
            faults.append(fault)
        finally:
            connection.close()

    devices = [threading.Thread(target=device, args=(valve,)) for valve in range(1, 9)]
    for one in devices:
        one.start()
    for one in devices:
        one.join()
    assert faults == []
    (draft,) = Draft.objects.all()
    assert [one["reading"] for one in draft.lines] == [f"0.{valve}1" for valve in range(1, 9)]
