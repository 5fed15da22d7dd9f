"""The demo school on a fresh database, for pictures, measurements and browser tests."""

import json
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from ops.cluster import Cluster
from ops.install import need_web
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


class DemoSchool:
    """A demo school in a database of the tests' cluster, filled once; what serves it has a copy."""

    def __init__(self, cluster: Cluster, database: str):
        self._cluster = cluster
        self._database = database
        environment = server_environment(cluster.fresh_database(database), "only-for-tests")
        manage(environment, "migrate", "--verbosity=0")
        self.passcodes = fill_demo(environment)

    @contextmanager
    def served(self, port: int = 8700, also: str = "") -> Iterator[DemoServer]:
        """Serves a fresh copy at the first free port from this one on, to the end of the block.
        also: another name that it answers to."""
        url = self._cluster.fresh_database(f"{self._database}_served", like=self._database)
        environment = server_environment(url, "only-for-tests")
        if also:
            environment["EDRIX_HOSTS"] = f"localhost,127.0.0.1,{also}"
        with (
            App(environment, ("127.0.0.1", free_port("127.0.0.1", port))) as app,
            Worker(environment),
        ):
            yield DemoServer(app.url, dict(self.passcodes), environment)


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
    with demo_school(database) as school, school.served(port, also) as server:
        yield server
