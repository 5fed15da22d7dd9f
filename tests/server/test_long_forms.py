"""Long forms on several devices of one person: nothing wipes anything, nobody reads another's."""

import threading

import pytest
from django.db import connections

from edrix.longforms import services as longforms
from edrix.longforms.models import LongForm

PAPER = "/api/long-forms/paper-7"


def keep(browser, typed, revision, path=PAPER):
    return browser.send("PUT", path, {"typed": typed, "revision": revision})


def test_what_one_device_typed_another_goes_on_with(browsers):
    tove = browsers["instructor"]
    assert tove.get(PAPER).json() == {"typed": None, "revision": 0}
    assert keep(tove, {"3/1": "0.25"}, 0).json()["revision"] == 1
    assert tove.get(PAPER).json() == {"typed": {"3/1": "0.25"}, "revision": 1}
    assert keep(tove, {"3/1": "0.25", "3/2": "0.2"}, 1).json()["revision"] == 2


@pytest.mark.parametrize("stale", [0, 1, 3])
def test_the_slower_device_is_refused_and_wipes_nothing(browsers, stale):
    tove = browsers["instructor"]
    keep(tove, {"a": "1"}, 0)
    keep(tove, {"a": "2"}, 1)
    refused = keep(tove, {"a": "old"}, stale)
    assert refused.status_code == 409
    assert "Another device" in refused.json()["detail"]
    assert tove.get(PAPER).json() == {"typed": {"a": "2"}, "revision": 2}


def test_a_device_that_did_not_hear_that_it_was_saved_does_not_bring_it_back(browsers):
    tove = browsers["instructor"]
    keep(tove, {"a": "1"}, 0)
    assert tove.send("DELETE", PAPER).status_code == 204
    assert tove.send("DELETE", PAPER).status_code == 204
    assert keep(tove, {"a": "1", "b": "2"}, 1).status_code == 409
    assert tove.get(PAPER).json()["typed"] is None


def test_each_has_their_own(browsers):
    keep(browsers["instructor"], {"a": "1"}, 0)
    rolf = browsers["other instructor"]
    assert rolf.get(PAPER).json()["typed"] is None
    rolf.send("DELETE", PAPER)
    assert browsers["instructor"].get(PAPER).json()["typed"] == {"a": "1"}


@pytest.mark.parametrize("place", ["paper", "Paper-1", "paper-1%20", "paper-" + "1" * 60, "../x-1"])
def test_a_place_is_one_of_ours(browsers, place):
    answer = keep(browsers["instructor"], {"a": "1"}, 0, f"/api/long-forms/{place}")
    assert answer.status_code in (404, 405, 422)
    assert not LongForm.objects.exists()


def test_a_form_has_its_limits(browsers, school, monkeypatch):
    long = keep(browsers["instructor"], {"a": "x" * longforms.MOST_BYTES}, 0)
    assert long.status_code == 422
    assert "too long" in long.json()["detail"]
    monkeypatch.setattr(longforms, "MOST_FORMS", 3)
    for number in range(5):
        longforms.keep(school.tove, f"paper-{number}", {}, 0)
    kept = LongForm.objects.values_list("place", flat=True).order_by("place")
    assert list(kept) == ["paper-2", "paper-3", "paper-4"]


@pytest.mark.django_db(transaction=True)
def test_of_two_devices_at_once_one_is_kept(school):
    longforms.keep(school.tove, "paper-7", {}, 0)
    both = threading.Barrier(2)
    done = []

    def device(name):
        both.wait()
        try:
            longforms.keep(school.tove, "paper-7", {"by": name}, 1)
        except longforms.ConflictError:
            done.append("refused")
        else:
            done.append("kept")
        finally:
            connections.close_all()

    threads = [threading.Thread(target=device, args=(name,)) for name in ("tablet", "desk")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(done) == ["kept", "refused"]
    assert LongForm.objects.get().revision == 2
