"""The private database: idempotent, on loopback only, mended after a crash, stopped in order."""

import os
import shutil
import signal
import tempfile
import time
from pathlib import Path

import psycopg
import pytest

from ops import install
from ops.cluster import Cluster
from ops.console import Trouble
from ops.paths import state_dir


@pytest.fixture
def state(monkeypatch):
    """A state folder that PostgreSQL's own user can reach, unlike pytest's tmp_path."""
    folder = Path(tempfile.mkdtemp(prefix="edrix-test-", dir="/var/tmp"))
    folder.chmod(0o711)
    monkeypatch.setenv("EDRIX_STATE_DIR", str(folder))
    yield folder
    shutil.rmtree(folder)


@pytest.fixture
def cluster(state):
    made = Cluster("ops", durable=False)
    yield made
    made.stop()


def server_pid(cluster):
    return int((cluster.data / "postmaster.pid").read_text().splitlines()[0])


def answers(url):
    with psycopg.connect(url, connect_timeout=5) as connection:
        return connection.execute("SELECT 1").fetchone() == (1,)


def test_starting_twice_is_starting_once(cluster):
    first = cluster.start()
    pid = server_pid(cluster)
    assert cluster.start() == first
    assert server_pid(cluster) == pid
    assert answers(first)


def test_it_listens_on_loopback_only_and_wants_the_password(cluster):
    url = cluster.start()
    with psycopg.connect(url) as connection:
        assert connection.execute("SHOW listen_addresses").fetchone() == ("127.0.0.1",)
        assert connection.execute("SHOW unix_socket_directories").fetchone() == ("",)
    with pytest.raises(psycopg.OperationalError, match="password authentication failed"):
        psycopg.connect(url.replace("edrix:", "edrix:not-", 1))


def test_after_a_crash_it_starts_again_with_its_data(state):
    cluster = Cluster("durable")
    url = cluster.start()
    with psycopg.connect(url) as connection:
        connection.execute("CREATE TABLE kept AS SELECT 7 AS figure")
    os.kill(server_pid(cluster), signal.SIGKILL)
    time.sleep(0.2)
    again = cluster.start()
    with psycopg.connect(again) as connection:
        assert connection.execute("SELECT figure FROM kept").fetchone() == (7,)
    cluster.stop()


def test_a_killed_first_start_leaves_nothing_half_done(cluster):
    half = cluster.home / "data.new"
    half.mkdir(parents=True)
    (half / "PG_VERSION").write_text("half")
    assert answers(cluster.start())
    assert not half.exists()


def test_who_stops_leaves_it_to_others_who_use_it(cluster):
    url = cluster.start()
    other = Cluster("ops", durable=False)
    other.start()
    cluster.stop()
    assert answers(url)
    other.stop()
    with pytest.raises(psycopg.OperationalError):
        psycopg.connect(url, connect_timeout=2)


def test_a_fresh_database_is_empty(cluster):
    cluster.start()
    url = cluster.fresh_database("scratch")
    with psycopg.connect(url) as connection:
        connection.execute("CREATE TABLE left_over (id int)")
    with psycopg.connect(cluster.fresh_database("scratch")) as connection:
        (count,) = connection.execute(
            "SELECT count(*) FROM pg_tables WHERE tablename = 'left_over'"
        ).fetchone()
    assert count == 0


def test_a_state_folder_of_somebody_else_is_refused(monkeypatch, tmp_path):
    monkeypatch.setenv("EDRIX_STATE_DIR", str(tmp_path))
    monkeypatch.setattr(os, "getuid", lambda: 12345)
    with pytest.raises(Trouble, match="is not yours; set EDRIX_STATE_DIR"):
        state_dir()


def test_without_the_right_to_install_the_exact_command_is_told(monkeypatch):
    monkeypatch.setattr(os, "getuid", lambda: 1000)
    monkeypatch.setattr(install, "_postgres_bin", lambda: None)
    with pytest.raises(Trouble) as told:
        install.need_postgres()
    assert "sudo apt-get update && sudo apt-get install --yes" in str(told.value)
    assert "--no-install-recommends postgresql" in str(told.value)
