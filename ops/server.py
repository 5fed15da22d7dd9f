"""Runs the application: database, migrations, gunicorn; stops in good order what it started."""

import os
import secrets
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from ops.cluster import Cluster
from ops.console import Trouble, run, say
from ops.install import need_venv, need_web
from ops.paths import PYTHON, ROOT, private_file, state_dir

START_PATIENCE_S = 120


@contextmanager
def database(purpose: str) -> Iterator[dict[str, str]]:
    """The environment of a server process, with a database that is up and migrated.

    EDRIX_DATABASE_URL names an outside PostgreSQL; without it a private cluster is used.
    """
    cluster = None
    url = os.environ.get("EDRIX_DATABASE_URL")
    if not url:
        cluster = Cluster(purpose)
        url = cluster.start()
    environment = server_environment(url, _secret_key())
    try:
        manage(environment, "migrate", "--verbosity=0")
        yield environment
    finally:
        if cluster:
            cluster.stop()


def server_environment(database_url: str, secret_key: str) -> dict[str, str]:
    """What a server process is started with, whatever this one was started with."""
    return {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "edrix.settings",
        "PYTHONPATH": os.pathsep.join(str(ROOT / folder) for folder in ("core", "server")),
        "EDRIX_DATABASE_URL": database_url,
        "EDRIX_SECRET_KEY": secret_key,
    }


def manage(environment: dict[str, str], *arguments: str) -> str:
    """A command of the application, without Django's checks: they load all of it, and are run by
    the tests."""
    program = ROOT / "server" / "manage.py"
    return run([PYTHON, program, *arguments, "--skip-checks"], env=environment)


def serve(*, demo: bool, host: str, port: int) -> int:
    need_venv()
    need_web()
    with _stoppable(), database("demo" if demo else "main") as environment:
        command = "demo_data" if demo else "first_account"
        accounts = manage(environment, command, str(_accounts_file(demo))).strip()
        address = (host, port or free_port(host))
        with running(environment, address) as url:
            print(f"\n  Edrix is ready:  {url}\n")
            if accounts:
                print("\n".join(f"  {line}" for line in accounts.splitlines()))
            print("\n  Ctrl-C stops it.\n", flush=True)
            signal.pause()
    return 0


@contextmanager
def running(environment: dict[str, str], address: tuple[str, int]) -> Iterator[str]:
    """gunicorn with the application, from its first answer to its orderly end."""
    host, port = address
    log = state_dir() / "server.log"
    config, bind = str(ROOT / "ops" / "gunicorn_config.py"), f"{host}:{port}"
    with log.open("a") as out:
        process = subprocess.Popen(
            [str(PYTHON), "-m", "gunicorn", "--config", config, "--bind", bind, "edrix.wsgi"],
            env=environment,
            stdout=out,
            stderr=out,
        )
    url = f"http://{'127.0.0.1' if host == '0.0.0.0' else host}:{port}"  # noqa: S104 (only compared)
    try:
        _wait_for(url, process, log)
        yield url
    finally:
        process.terminate()
        try:
            process.wait(timeout=10)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()


def _wait_for(url: str, process: subprocess.Popen[bytes], log: Path) -> None:
    deadline = time.monotonic() + START_PATIENCE_S
    while time.monotonic() < deadline:
        if process.poll() is not None:
            last = "\n".join(log.read_text().splitlines()[-10:])
            raise Trouble(f"the server did not start; its log {log} ends with:\n{last}")
        try:
            with urllib.request.urlopen(f"{url}/api/health", timeout=2):  # noqa: S310 (our own)
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    raise Trouble(f"the server does not answer at {url}; see {log}")


class _Stop(BaseException):
    """Raised by a stop signal, so that every `finally` on the way out is run."""


@contextmanager
def _stoppable() -> Iterator[None]:
    def stop(_number: int, _frame: object) -> None:
        raise _Stop

    signal.signal(signal.SIGTERM, stop)
    signal.signal(signal.SIGINT, stop)
    try:
        yield
    except _Stop:
        say("stopping")


def _secret_key() -> str:
    """EDRIX_SECRET_KEY, or one made at the first start and kept in the state folder."""
    if os.environ.get("EDRIX_SECRET_KEY"):
        return os.environ["EDRIX_SECRET_KEY"]
    kept = private_file("secret-key")
    if not kept.read_text():
        kept.write_text(secrets.token_urlsafe(48))
    return kept.read_text()


def _accounts_file(demo: bool) -> Path:
    return private_file("demo-accounts.json" if demo else "first-account.json")


def free_port(host: str, first: int = 8000) -> int:
    """The first free port of a hundred. Raises Trouble."""
    for port in range(first, first + 100):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((host, port))
            except OSError:
                continue
            return port
    raise Trouble(f"ports {first} to {first + 99} are all in use; choose one with --port")
