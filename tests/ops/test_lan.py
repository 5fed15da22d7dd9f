"""Which address phones of the house get: found, asked for once, kept, and never one's own."""

import pytest

from ops import lan


@pytest.fixture
def state(monkeypatch, tmp_path):
    monkeypatch.setenv("EDRIX_STATE_DIR", str(tmp_path))
    return tmp_path


def at_a_terminal(monkeypatch, answer):
    """Somebody who answers so; None where nobody is there."""
    monkeypatch.setattr("sys.stdin.isatty", lambda: answer is not None, raising=False)
    asked = []

    def told(question):
        asked.append(question)
        return answer

    monkeypatch.setattr("builtins.input", told)
    return asked


@pytest.mark.parametrize(
    ("answer", "host"), [("", lan.EVERYWHERE), ("y", lan.EVERYWHERE), ("n", lan.ONLY_HERE)]
)
def test_it_asks_once(state, monkeypatch, answer, host):
    monkeypatch.setattr(lan, "address_in_house", lambda: "192.0.2.7")
    asked = at_a_terminal(monkeypatch, answer)
    assert [lan.chosen_host(), lan.chosen_host()] == [host, host]
    assert len(asked) == 1


def test_nobody_is_asked_who_cannot_answer(state, monkeypatch, capsys):
    monkeypatch.setattr(lan, "address_in_house", lambda: "192.0.2.7")
    asked = at_a_terminal(monkeypatch, None)
    assert lan.chosen_host() == lan.ONLY_HERE
    assert asked == []
    assert "--host 192.0.2.7" in capsys.readouterr().err
    at_a_terminal(monkeypatch, "y")
    assert lan.chosen_host() == lan.EVERYWHERE, "whoever can answer is asked at a later start"


def test_without_a_network_it_is_for_this_machine(state, monkeypatch):
    monkeypatch.setattr(lan, "address_in_house", lambda: None)
    at_a_terminal(monkeypatch, "y")
    assert lan.chosen_host() == lan.ONLY_HERE


@pytest.mark.parametrize(
    ("host", "hosts", "name"),
    [
        ("127.0.0.1", "", None),
        ("localhost", "edrix.workshop", None),
        ("0.0.0.0", "", "192.0.2.7"),  # noqa: S104
        ("192.0.2.9", "", "192.0.2.9"),
        ("0.0.0.0", "localhost,edrix.workshop", "edrix.workshop"),  # noqa: S104
        ("0.0.0.0", "*", "192.0.2.7"),  # noqa: S104
    ],
)
def test_what_phones_call_it(monkeypatch, host, hosts, name):
    monkeypatch.setattr(lan, "address_in_house", lambda: "192.0.2.7")
    environment = {"EDRIX_HOSTS": hosts} if hosts else {}
    assert lan.name_for_devices(host, environment) == name
    answers_to = lan.with_names(host, environment).get("EDRIX_HOSTS", "")
    assert answers_to == hosts if hosts or name is None else name in answers_to.split(",")


def test_the_address_in_the_house_is_no_loopback():
    found = lan.address_in_house()
    assert found is None or not lan.is_only_here(found)
