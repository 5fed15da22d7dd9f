"""Signing in: sessions, CSRF, a pause after wrong passcodes, strict headers."""

from datetime import timedelta

import argon2
import pytest
from axes.models import AccessAttempt
from django.contrib.auth.hashers import Argon2PasswordHasher
from django.utils import timezone

from edrix.accounts.hashers import PasscodeHasher
from tests.server.conftest import PASSCODE, Browser


def test_signing_in_and_out(school):
    browser = Browser()
    assert browser.get("/api/session").json()["person"] is None
    answer = browser.sign_in(" Ines.Falkner ")
    assert answer.json()["person"]["display_name"] == "Ines Falkner"
    assert browser.get("/api/session").json()["person"]["may_teach"] is False
    assert browser.send("DELETE", "/api/session").status_code == 204
    assert browser.get("/api/work").status_code == 401


@pytest.mark.parametrize(("name", "passcode"), [("tove", "wrong"), ("nobody", PASSCODE)])
def test_a_wrong_name_and_a_wrong_passcode_look_the_same(school, name, passcode):
    answer = Browser().sign_in(name, passcode)
    assert answer.status_code == 401
    assert answer.json()["detail"] == (
        "Sign-in name or passcode is wrong; check both and try again."
    )


def test_five_wrong_passcodes_pause_that_name_only(school):
    browser = Browser()
    statuses = [browser.sign_in("tove", f"guess-{n}").status_code for n in range(6)]
    assert statuses[0] == 401
    assert statuses[-1] == 429
    locked = browser.sign_in("tove")
    assert locked.status_code == 429
    assert "Wait 10 minutes, then try again" in locked.json()["detail"]
    assert locked["Retry-After"] == "600"
    assert browser.sign_in("ines.falkner").status_code == 200


def paused(name, tries=6):
    for n in range(tries):
        Browser().sign_in(name, f"guess-{n}")


def test_the_pause_ends_when_it_was_said_to_end(school):
    """More tries meanwhile, by the right person too, do not make it longer."""
    paused("tove")
    AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=7, seconds=30))
    again = Browser().sign_in("tove")
    assert again.status_code == 429
    assert "Wait 3 minutes" in again.json()["detail"]
    AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=10, seconds=1))
    assert Browser().sign_in("tove").status_code == 200


def test_a_classmate_does_not_lock_somebody_out_of_their_own_phone(school):
    """All of a class share one address; the phone on which Ines has signed in is counted apart."""
    phone = Browser()
    assert phone.sign_in("ines.falkner").status_code == 200
    phone.send("DELETE", "/api/session")
    paused("ines.falkner")
    assert Browser().sign_in("ines.falkner").status_code == 429
    assert phone.sign_in("ines.falkner").status_code == 200


def test_a_phone_of_somebody_else_is_no_way_round(school):
    """Bo's phone knows Bo; on it, Ines's name has no more tries than anywhere."""
    phone = Browser()
    phone.sign_in("bo.hallgrim")
    paused("ines.falkner", tries=3)
    assert [phone.sign_in("ines.falkner", f"g-{n}").status_code for n in range(3)][-1] == 429


def test_a_phone_that_is_known_has_five_tries_too(school):
    phone = Browser()
    phone.sign_in("ines.falkner")
    assert [phone.sign_in("ines.falkner", f"g-{n}").status_code for n in range(6)][-1] == 429


@pytest.mark.parametrize("forged", ["", "x", "W1siYSJdXQ:1:2", "\0"])
def test_a_forged_device_is_no_device(school, forged):
    browser = Browser()
    browser.get("/api/session")
    browser.cookies["edrix_device"] = forged
    assert browser.sign_in("ines.falkner").status_code == 200


def test_what_a_client_calls_itself_or_its_address_changes_nothing(school):
    statuses = []
    for n in range(7):
        browser = Browser()
        headers = {"User-Agent": f"agent {n}", "X-Forwarded-For": f"10.0.0.{n}"}
        headers |= {"X-Real-IP": f"10.0.1.{n}"}
        body = {"sign_in_name": "tove", "passcode": f"guess-{n}"}
        statuses.append(browser.send("POST", "/api/session", body, **headers).status_code)
    assert statuses[-1] == 429


def test_behind_the_front_its_word_counts(school, settings):
    settings.BEHIND_FRONT = True

    def guess(address, n):
        body = {"sign_in_name": "tove", "passcode": f"guess-{n}"}
        return Browser().send("POST", "/api/session", body, **{"X-Real-IP": address}).status_code

    assert [guess("10.0.0.1", n) for n in range(6)][-1] == 429
    assert guess("10.0.0.2", 1) == 401


def test_requests_without_a_csrf_token_are_refused(school, browsers):
    anonymous = Browser().post(
        "/api/session", {"sign_in_name": "tove", "passcode": PASSCODE}, "application/json"
    )
    assert anonymous.status_code == 403
    signed_in = browsers["instructor"].post("/api/classes", {"name": "X"}, "application/json")
    assert signed_in.status_code == 403
    assert "reload it" in signed_in.json()["detail"]


def test_a_new_passcode_signs_the_student_out(school, browsers):
    path = f"/api/classes/{school.class_a}/students/{school.ines.id}/passcode"
    browsers.sign_in("student")
    fresh = browsers["instructor"].send("POST", path).json()
    assert browsers["student"].get("/api/work").status_code == 401
    assert Browser().sign_in("ines.falkner").status_code == 401
    assert Browser().sign_in("ines.falkner", fresh["passcode"]).status_code == 200


def test_only_the_class_that_made_an_account_gives_its_passcode(school, browsers):
    from edrix.classes import roll

    roll.add_students(school.rolf, school.class_b, "Ines, ines.falkner")
    path = f"/api/classes/{school.class_b}/students/{school.ines.id}/passcode"
    refused = browsers["other instructor"].send("POST", path)
    assert refused.status_code == 403
    assert "This account was made in Class A" in refused.json()["detail"]
    assert browsers["student"].get("/api/work").status_code == 200


def test_teachers_who_are_students_elsewhere_keep_their_passcode(school, browsers):
    from edrix.classes.models import Membership

    Membership.objects.create(teaching_class_id=school.class_a, user=school.rolf, role="student")
    path = f"/api/classes/{school.class_a}/students/{school.rolf.id}/passcode"
    assert browsers["instructor"].send("POST", path).status_code == 403


def test_each_person_has_a_first_unit(school, browsers):
    assert (
        browsers["student"].send("PUT", "/api/me/unit", {"unit": "thou"}).json()["unit"] == "thou"
    )
    refused = browsers["student"].send("PUT", "/api/me/unit", {"unit": "cm"})
    assert refused.status_code == 422
    assert refused.json()["detail"] == "The unit is not known; give mm or thou."


def test_security_headers(school, browsers):
    answer = browsers["student"].get("/api/session")
    policy = answer["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self'" in policy
    # Style attributes alone are let in: they run nothing. Scripts and style elements never are.
    assert "style-src-attr 'unsafe-inline'" in policy
    assert policy.count("unsafe") == 1
    # In whatever order they come: the last one has no semicolon behind it.
    assert "style-src 'self'" in [directive.strip() for directive in policy.split(";")]
    assert answer["X-Frame-Options"] == "DENY"
    assert answer["X-Content-Type-Options"] == "nosniff"


def test_passcodes_are_hashed_as_strongly_as_owasp_asks():
    """OWASP Password Storage Cheat Sheet, from memory: Argon2id, 19 MiB, t=2, p=1 at least."""
    made = PasscodeHasher().encode("kept-well", "a salt of its own")
    found = argon2.extract_parameters(made.removeprefix("argon2"))
    assert found.type is argon2.Type.ID
    assert found.memory_cost >= 19 * 1024
    assert found.time_cost >= 2
    assert found.parallelism >= 1
    assert PasscodeHasher().verify("kept-well", made)
    assert not PasscodeHasher().verify("kept well", made)


def test_a_hash_of_other_strength_still_opens_and_is_made_anew(school, settings):
    settings.PASSWORD_HASHERS = ["edrix.accounts.hashers.PasscodeHasher"]
    school.ines.password = Argon2PasswordHasher().encode(PASSCODE, "a salt of its own")
    school.ines.save()
    assert Browser().sign_in("ines.falkner").status_code == 200
    school.ines.refresh_from_db()
    assert "m=19456,t=2,p=1" in school.ines.password
    assert Browser().sign_in("ines.falkner").status_code == 200
