"""Installing: only what is missing, once, and with a sentence where it cannot be."""

import json
import sys
import threading
import time

import pytest

from ops import install
from ops.console import Trouble


@pytest.fixture
def place(monkeypatch, tmp_path):
    """A checkout of its own in which every command is only noted."""
    ran = []
    (tmp_path / "requirements").mkdir()
    (tmp_path / "requirements" / "app.txt").write_text("one==1")
    venv = tmp_path / ".venv"
    monkeypatch.setattr(install, "ROOT", tmp_path)
    monkeypatch.setattr(install, "VENV", venv)
    monkeypatch.setattr(install, "PYTHON", venv / "bin" / "python")

    def note(command, **_):
        ran.append(" ".join(map(str, command)))
        if "venv" in command:
            (venv / "bin").mkdir(parents=True)
            (venv / "bin" / "python").touch()
        return "v20.19.1"

    monkeypatch.setattr(install, "run", note)
    return tmp_path, ran


def test_packages_are_installed_once_and_again_when_the_pins_change(place):
    folder, ran = place
    install.need_venv()
    assert [line.split(" -m ")[1].split()[0] for line in ran] == ["venv", "pip"]
    assert "--require-hashes" in ran[1]
    ran.clear()
    install.need_venv()
    assert ran == []
    (folder / "requirements" / "app.txt").write_text("one==2")
    install.need_venv()
    assert len(ran) == 1


def test_npm_packages_follow_the_lock_file(place, monkeypatch):
    folder, ran = place
    web = folder / "web"
    (web / "node_modules").mkdir(parents=True)
    for name in ("package.json", "package-lock.json"):
        (web / name).write_text(json.dumps({"name": name}))
    monkeypatch.setattr(install, "WEB", web)
    monkeypatch.setattr(install.shutil, "which", lambda program: f"/usr/bin/{program}")
    install.need_web(build=False)
    install.need_web(build=False)
    assert [line for line in ran if line.startswith("npm")] == ["npm ci --no-audit --no-fund"]


def test_two_builds_at_once_are_one(monkeypatch, tmp_path):
    """The tests' two workers find the same stale front end at the same moment."""
    (tmp_path / "dist").mkdir()
    built = []

    def build():
        built.append(1)
        time.sleep(0.3)

    monkeypatch.setattr(install, "WEB", tmp_path)
    monkeypatch.setattr(install, "_digest", lambda *_, **__: "of these sources")
    monkeypatch.setattr(install, "_run_build", build)
    workers = [threading.Thread(target=install._build_web, args=("packages",)) for _ in range(2)]
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join()
    assert built == [1]


def test_an_old_python_is_told(monkeypatch):
    monkeypatch.setattr(sys, "version_info", (3, 9, 2))
    with pytest.raises(Trouble, match=r"is too old; install Python 3\.11 or newer"):
        install.need_python()


@pytest.mark.parametrize(
    ("which", "version", "says"),
    [
        (None, "", r"Node\.js 20\.19 or newer with npm is needed"),
        ("/usr/bin/node", "v18.20.4", r"Node\.js 18\.20\.4 is too old; install 20\.19 or newer"),
    ],
)
def test_a_missing_or_old_node_is_told(monkeypatch, which, version, says):
    monkeypatch.setattr(install.shutil, "which", lambda _program: which)
    monkeypatch.setattr(install, "run", lambda *_, **__: version)
    with pytest.raises(Trouble, match=says):
        install.need_web(build=False)


def test_root_installs_from_debian_itself(monkeypatch):
    ran = []
    found = iter([None, "/usr/bin/chromium"])
    monkeypatch.setattr(install.os, "getuid", lambda: 0)
    monkeypatch.setattr(
        install.shutil,
        "which",
        lambda program: next(found) if program == "chromium" else f"/usr/bin/{program}",
    )
    monkeypatch.setattr(install, "run", lambda command, **_: ran.append(" ".join(command)))
    assert install.need_chromium() == "/usr/bin/chromium"
    assert ran == [
        "apt-get update -qq",
        "apt-get install --yes --no-install-recommends chromium",
    ]


def test_what_is_needed_at_once_is_begun_at_once_and_its_trouble_told_after_all():
    """Each lane waits for the other: one after the other, none would ever end."""
    both, ended = threading.Barrier(2, timeout=10), []

    def fails():
        both.wait()
        raise Trouble("no network")

    def works():
        both.wait()
        time.sleep(0.2)
        ended.append("works")

    with pytest.raises(Trouble, match="no network"):
        install.need_together(fails, works)
    assert ended == ["works"]
