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


@contextmanager
def demo_server(database: str, port: int = 8700, also: str = "") -> Iterator[DemoServer]:
    """Serves a new demo school from the tests' cluster, at the first free port from this one on;
    everything ends with the block. also: another name that it answers to."""
    need_web()
    cluster = Cluster("tests", durable=False)
    cluster.start()
    try:
        environment = server_environment(cluster.fresh_database(database), "only-for-tests")
        if also:
            environment["EDRIX_HOSTS"] = f"localhost,127.0.0.1,{also}"
        manage(environment, "migrate", "--verbosity=0")
        passcodes = fill_demo(environment)
        with App(environment, ("127.0.0.1", free_port("127.0.0.1", port))) as app:
            yield DemoServer(app.url, passcodes, environment)
    finally:
        cluster.stop()
