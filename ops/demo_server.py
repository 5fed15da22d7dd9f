"""The demo school on a fresh database, for pictures, measurements and browser tests."""

import fcntl
import hashlib
import json
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path

from ops.cluster import Cluster
from ops.console import Trouble
from ops.install import need_web
from ops.paths import ROOT, private_file, state_dir
from ops.server import App, free_port, manage, server_environment
from ops.worker import Worker


@dataclass(frozen=True)
class DemoServer:
    url: str
    passcodes: dict[str, str]
    """Sign-in name to passcode."""
    environment: dict[str, str]
    """What its server and its commands are started with."""


def fill_demo(environment: dict[str, str]) -> dict[str, str]:
    """Makes the demo school in a migrated database; gives passcodes by sign-in name."""
    with tempfile.TemporaryDirectory() as folder:
        kept = Path(folder) / "accounts.json"
        kept.touch()
        manage(environment, "demo_data", str(kept))
        people = json.loads(kept.read_text())
    return {row["sign_in_name"]: row["passcode"] for row in people}


FILLED = "demo_filled"
FILLED_BY = ("core", "server", "demo", "ops/demo_server.py")
"""What the demo school is made by and of; it is filled again when any of it has changed."""


class DemoSchool:
    """A demo school in a database of the tests' cluster. Whoever comes first fills it, and all
    others have copies: filling takes half a minute, copying none."""

    def __init__(self, cluster: Cluster, database: str):
        self._cluster = cluster
        self._database = database
        with private_file("demo-filled.json").open("r+") as kept:
            # Two who start at once: the second waits for what the first fills.
            fcntl.flock(kept, fcntl.LOCK_EX)
            known = _passcodes(kept.read())
            if known is None or not self._has_copy():
                known = self._fill()
                kept.seek(0)
                kept.truncate()
                json.dump({"made_by": _made_by(), "passcodes": known}, kept)
                self._has_copy()
        self.passcodes = known

    def _has_copy(self) -> bool:
        """Takes a copy of the filled one, if there is one."""
        try:
            self._cluster.fresh_database(self._database, like=FILLED)
        except Trouble:
            return False
        return True

    def _fill(self) -> dict[str, str]:
        environment = server_environment(self._cluster.fresh_database(FILLED), "only-for-tests")
        manage(environment, "migrate", "--verbosity=0")
        return fill_demo(environment)

    @contextmanager
    def served(self, port: int = 8700, also: str = "") -> Iterator["Served"]:
        """Serves a copy at the first free port from this one on, to the end of the block.
        also: another name that it answers to."""
        served = Served(self, port, also)
        with served.app:
            yield served

    def copy(self) -> dict[str, str]:
        """A fresh copy in place of the one before; what a server of it is started with."""
        url = self._cluster.fresh_database(f"{self._database}_served", like=self._database)
        return server_environment(url, "only-for-tests")


class Served:
    """A copy of the demo school at an address. Tests of long work start a worker, too."""

    def __init__(self, school: DemoSchool, port: int, also: str):
        self._school = school
        environment = school.copy()
        if also:
            environment["EDRIX_HOSTS"] = f"localhost,127.0.0.1,{also}"
        free = free_port("127.0.0.1", port)
        # As in a school: what is printed leads phones to a name of the house.
        environment["EDRIX_ADDRESS"] = f"http://{also or 'edrix.workshop'}:{free}"
        self.app = App(environment, ("127.0.0.1", free))
        self.demo = DemoServer(self.app.url, dict(school.passcodes), environment)

    def reset(self) -> None:
        """Serves a fresh copy at the same address, which is quicker than a new start."""
        self._school.copy()
        # A test that had a new passcode made wrote it here; the copy knows the old one.
        self.demo = replace(self.demo, passcodes=dict(self._school.passcodes))
        self.app.reload()

    @contextmanager
    def worker(self) -> Iterator[Worker]:
        log = state_dir() / f"worker-{self.app.url.rpartition(':')[2]}.log"
        with Worker(self.demo.environment, log) as worker:
            worker.wait_until_up()
            yield worker


def _passcodes(kept: str) -> dict[str, str] | None:
    """Those of the filled school, by sign-in name; None if other code filled it, or another day
    did: its week begins today."""
    said = json.loads(kept or "{}")
    return said["passcodes"] if said.get("made_by") == _made_by() else None


def _made_by() -> str:
    found = hashlib.sha256(time.strftime("%Y-%m-%d").encode())
    for name in FILLED_BY:
        place = ROOT / name
        files = [place] if place.is_file() else place.rglob("*")
        for file in sorted(
            one for one in files if one.is_file() and "__pycache__" not in one.parts
        ):
            found.update(str(file.relative_to(ROOT)).encode() + b"\0" + file.read_bytes())
    return found.hexdigest()


@contextmanager
def demo_school(database: str) -> Iterator[DemoSchool]:
    """A new demo school in the tests' cluster, which is stopped with the block."""
    need_web()
    cluster = Cluster("tests", durable=False)
    cluster.start()
    try:
        yield DemoSchool(cluster, database)
    finally:
        cluster.stop()


@contextmanager
def demo_server(database: str, port: int = 8700, also: str = "") -> Iterator[DemoServer]:
    """Serves a new demo school; everything ends with the block."""
    with demo_school(database) as school, school.served(port, also) as served, served.worker():
        yield served.demo
