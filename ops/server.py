"""Runs the application: database, migrations, gunicorn; stops in good order what it started."""

import os
import secrets
import signal
import socket
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import NamedTuple

from ops.cluster import Cluster
from ops.console import Trouble, run, say
from ops.front import Front, Https
from ops.install import need_nginx, need_together, need_venv, need_web
from ops.lan import ONLY_HERE, chosen_host, name_for_devices, with_names
from ops.leftovers import WITH_PARENT, end_leftovers, marked
from ops.paths import PYTHON, ROOT, private_file, state_dir
from ops.watch import Watched, only_one, watch
from ops.worker import Worker

START_PATIENCE_S = 120


class Database(NamedTuple):
    """environment: of a server process with a database that is up and migrated; cluster: None
    where EDRIX_DATABASE_URL names an outside PostgreSQL."""

    environment: dict[str, str]
    cluster: Cluster | None


@contextmanager
def database(purpose: str) -> Iterator[Database]:
    """Without EDRIX_DATABASE_URL a private cluster is started, and stopped at the end."""
    cluster = None
    url = os.environ.get("EDRIX_DATABASE_URL")
    if not url:
        cluster = Cluster(purpose)
        url = cluster.start()
    environment = server_environment(url, _secret_key())
    if cluster:
        environment["EDRIX_DISK"] = str(cluster.data)
    try:
        manage(environment, "migrate", "--verbosity=0")
        yield Database(environment, cluster)
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


def serve(*, demo: bool, host: str | None, port: int, https_port: int | None = None) -> int:
    """host: None is this machine only for the demo, and for a school what was chosen. https_port:
    with a certificate of the school's own there; 0 is the first that is free."""
    need_together(need_venv, lambda: need_web(build=False), need_nginx)
    need_web()
    purpose = "demo" if demo else "main"
    with _stoppable(), only_one(purpose) as note:
        end_leftovers(purpose)
        host = host or (ONLY_HERE if demo else chosen_host())
        with database(purpose) as kept:
            _serve(kept, purpose, note, host=host, port=port, https_port=https_port)
    return 0


def _serve(
    kept: "Database",
    purpose: str,
    note: Callable[[str], None],
    *,
    host: str,
    port: int,
    https_port: int | None,
) -> None:
    """To the stop signal."""
    demo = purpose == "demo"
    command = "demo_data" if demo else "first_account"
    accounts = manage(kept.environment, command, str(_accounts_file(demo))).strip()
    environment = with_names(host, marked(kept.environment, purpose))
    address = (host, _need_free(host, port) if port else free_port(host))
    name = name_for_devices(host, environment)
    if https_port is None:
        environment["EDRIX_ADDRESS"] = _url("http", (name, address[1])) if name else ""
        served = App(environment, address, purpose)
    else:
        served = _with_https(environment, address, name, purpose, https_port)
    with served as app, Worker(environment) as worker:
        note(app.url)
        print(f"\n  Edrix is ready:  {app.url}\n")
        if app.address:
            print(f"  Phones open  {app.address}\n")
        if app.plain_url != app.url:
            print(f"  Devices get the school's certificate at  {app.plain_url}\n")
        if accounts:
            print("\n".join(f"  {line}" for line in accounts.splitlines()))
        print("\n  Ctrl-C stops it.\n", flush=True)
        things = [
            Watched("the server", app.runs, app.start),
            Watched("the front", app.front.runs, app.front.start),
            Watched("the worker", worker.runs, worker.start),
        ]
        if kept.cluster:
            cluster = kept.cluster
            things.insert(0, Watched("the database", cluster.runs, cluster.start_again))
        watch(things)


def work(url: str) -> int:
    """One more worker for the school in that database, watched until it is stopped."""
    need_venv()
    with _stoppable(), Worker(server_environment(url, _secret_key())) as worker:
        say("working for the school in that database; Ctrl-C stops it")
        watch([Watched("the worker", worker.runs, worker.start)])
    return 0


def account(what: str, name: str, *, demo: bool) -> int:
    """A command on the school's accounts, whether its server runs or not."""
    need_venv()
    program = [str(PYTHON), str(ROOT / "server" / "manage.py"), "account", what]
    with database("demo" if demo else "main") as kept:
        done = subprocess.run(
            [*program, *([name] if name else []), "--skip-checks"],
            env=kept.environment,
            check=False,
        )
    return done.returncode


def _with_https(
    environment: dict[str, str],
    plain: tuple[str, int],
    name: str | None,
    purpose: str,
    port: int,
) -> "App":
    """The application over https, with a certificate for what EDRIX_HOSTS calls this machine."""
    host = plain[0]
    folder = state_dir() / "certificate"
    names = [one for one in environment.get("EDRIX_HOSTS", "").split(",") if one]
    run([PYTHON, "-m", "ops.certificate", folder, *names], cwd=ROOT)
    address = (host, _need_free(host, port) if port else free_port(host, 8443))
    # No promise of https for a year: on this name, plain http gives the certificate.
    environment = {**environment, "EDRIX_HTTPS": "1", "EDRIX_HSTS_S": "0"}
    environment["EDRIX_ADDRESS"] = _url("https", (name, address[1])) if name else ""
    return App(environment, address, purpose, https=Https(folder, plain))


class App:
    """gunicorn with the application behind its front, from the first answer to the orderly end."""

    def __init__(
        self,
        environment: dict[str, str],
        address: tuple[str, int],
        purpose: str = "tests",
        https: Https | None = None,
    ):
        port = address[1]
        proxies = [one for one in environment.get("EDRIX_PROXIES", "").split(",") if one]
        self.front = Front(
            state_dir() / f"front-{purpose}-{port}",
            address,
            proxies,
            behind_https=https is None and environment.get("EDRIX_HTTPS") == "1",
            https=https,
            environment=environment,
        )
        self._environment = {**environment, "EDRIX_FRONT": "1"}
        self._log = state_dir() / "server.log"
        self._process: subprocess.Popen[bytes] | None = None
        self.address = environment.get("EDRIX_ADDRESS", "")
        """Where phones open it; empty where they cannot."""
        self.url = _url("http" if https is None else "https", address)
        self.plain_url = self.url if https is None else _url("http", https.plain)

    def __enter__(self) -> "App":
        try:
            self.front.start()
            self.start()
        except BaseException:
            self.stop()
            raise
        return self

    def __exit__(self, *_: object) -> None:
        self.stop()

    def start(self) -> None:
        """Raises Trouble where it does not answer."""
        config = str(ROOT / "ops" / "gunicorn_config.py")
        with self._log.open("a") as out:
            self._process = subprocess.Popen(
                [*WITH_PARENT, str(PYTHON), "-m", "gunicorn", "--config", config,
                 "--bind", f"unix:{self.front.socket}", "edrix.wsgi"],
                env=self._environment,
                stdout=out,
                stderr=out,
            )  # fmt: skip
        _wait_for(self.plain_url, self._process, self._log)

    def runs(self) -> bool:
        return self._process is not None and self._process.poll() is None

    def pid(self) -> int | None:
        return self._process.pid if self._process is not None and self.runs() else None

    def worker_pid(self) -> int | None:
        """One of the processes that answer requests."""
        pid = self.pid()
        return min(_children(pid), default=None) if pid is not None else None

    def reload(self) -> None:
        """Replaces the processes that answer; the code stays loaded. The new ones know nothing of
        the database that the old ones had read. Raises Trouble if they do not start."""
        process = self._process
        if process is None or process.poll() is not None:
            raise Trouble(f"the server does not run; see {self._log}")
        before = _children(process.pid)
        process.send_signal(signal.SIGHUP)
        deadline = time.monotonic() + START_PATIENCE_S
        while before & _children(process.pid):
            if time.monotonic() > deadline:
                raise Trouble(f"the server does not let its processes go; see {self._log}")
            time.sleep(0.05)
        _wait_for(self.plain_url, process, self._log)

    def stop(self) -> None:
        """The front last: whoever is served gets their answer."""
        process = self._process
        if process is not None:
            process.terminate()
            try:
                process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
        self.front.stop()


def _children(pid: int) -> set[int]:
    """The processes that one has started; none where it has ended."""
    try:
        found = Path(f"/proc/{pid}/task/{pid}/children").read_text()
    except OSError:
        return set()
    return {int(one) for one in found.split()}


def _url(scheme: str, address: tuple[str, int]) -> str:
    host, port = address
    shown = "127.0.0.1" if host == "0.0.0.0" else host  # noqa: S104 (only compared)
    return f"{scheme}://{shown}:{port}"


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


def _need_free(host: str, port: int) -> int:
    """Another program there would answer in our place. Raises Trouble."""
    if not _is_free(host, port):
        raise Trouble(
            f"port {port} of {host} is taken by another program; stop that, or choose another "
            "port with --port"
        )
    return port


def _is_free(host: str, port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError:
            return False
        return True


def free_port(host: str, first: int = 8000) -> int:
    """The first free port of a hundred. Raises Trouble."""
    for port in range(first, first + 100):
        if _is_free(host, port):
            return port
    raise Trouble(f"ports {first} to {first + 99} are all in use; choose one with --port")
