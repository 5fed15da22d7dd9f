"""Installs what is missing, says so, and does nothing twice.

Each step leaves a stamp with the hash of what it was made from; an unchanged hash means
there is nothing to do.
"""

import fcntl
import hashlib
import os
import shutil
import sys
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

from ops.console import Trouble, run, say
from ops.paths import PYTHON, ROOT, VENV, WEB, private_file

OLDEST_PYTHON = (3, 11)
OLDEST_NODE = (20, 19)


def need_for_tests() -> None:
    """All that the checks use, on a machine with nothing prepared."""
    need_together(lambda: need_venv("dev"), lambda: need_web(build=False), _need_programs)
    need_web()


def need_together(*needs: Callable[[], object]) -> None:
    """Several needs at once, as each waits for another registry most of its time. All are awaited;
    the first one's Trouble is raised then."""
    with ThreadPoolExecutor(len(needs)) as lanes:
        for begun in [lanes.submit(need) for need in needs]:
            begun.result()


def _need_programs() -> None:
    need_postgres()
    need_nginx()
    need_chromium()


def need_python() -> None:
    if sys.version_info < OLDEST_PYTHON:
        raise Trouble(f"Python {sys.version.split()[0]} is too old; install Python 3.11 or newer")


def need_postgres() -> Path:
    """The folder of PostgreSQL's server programs, installed from Debian if need be."""
    found = _postgres_bin()
    if found is None:
        _need_debian("postgresql", why="the database")
        found = _postgres_bin()
    if found is None:
        raise Trouble("PostgreSQL is installed but its initdb was not found in /usr/lib/postgresql")
    return found


def need_nginx() -> str:
    found = _nginx()
    if found is None:
        _need_debian("nginx-light", why="the server's front")
        found = _nginx()
    if found is None:
        raise Trouble("nginx is installed but was found neither on the PATH nor in /usr/sbin")
    return found


def _nginx() -> str | None:
    return shutil.which("nginx") or shutil.which("nginx", path="/usr/sbin")


def need_chromium() -> str:
    found = shutil.which("chromium")
    if found is None:
        _need_debian("chromium", why="the browser tests and pictures")
        found = shutil.which("chromium")
    if found is None:
        raise Trouble("chromium is installed but not on the PATH")
    return found


def need_venv(kind: str = "app") -> None:
    """A virtual environment with the pinned packages of requirements/<kind>.txt."""
    need_python()
    pins = ROOT / "requirements" / f"{kind}.txt"
    stamp = VENV / f".edrix-{kind}"
    digest = _digest([pins], salt=sys.version)
    if _stamped(stamp, digest):
        return
    if not PYTHON.exists():
        say("making a virtual environment in .venv")
        try:
            run([sys.executable, "-m", "venv", VENV])
        except Trouble:
            shutil.rmtree(VENV, ignore_errors=True)
            _need_debian("python3-venv", why="the virtual environment")
            run([sys.executable, "-m", "venv", VENV])
    say(f"installing Python packages ({pins.name})")
    # Most of what is installed for checks is never imported: what is, is compiled then.
    how = ["--quiet", "--no-compile", "--require-hashes"]
    run([PYTHON, "-m", "pip", "install", *how, "-r", pins], cwd=ROOT)
    stamp.write_text(digest)


def need_web(*, build: bool = True) -> None:
    """npm packages as locked and, with build, the front end built into web/dist."""
    _need_node()
    stamp = WEB / "node_modules" / ".edrix"
    digest = _digest([WEB / "package.json", WEB / "package-lock.json"])
    if not _stamped(stamp, digest):
        say("installing npm packages")
        run(["npm", "ci", "--no-audit", "--no-fund"], cwd=WEB)
        stamp.write_text(digest)
    if build:
        _build_web(digest)


def _build_web(packages_digest: str) -> None:
    sources = [p for folder in ("src", "public") for p in (WEB / folder).rglob("*") if p.is_file()]
    guide = [ROOT / "docs" / "guide", ROOT / "docs" / "screenshots"]
    sources += [p for folder in guide for p in folder.iterdir()]
    config = ("index.html", "vite.config.ts", "offline.ts", "tsconfig.json")
    sources += [WEB / name for name in config]
    digest = _digest(sources, salt=packages_digest)
    stamp = WEB / "dist" / ".edrix"
    with _alone("build"):
        if _stamped(stamp, digest):
            return
        _run_build()
        stamp.write_text(digest)


@contextmanager
def _alone(what: str) -> Iterator[None]:
    """Two commands at once (the tests' two workers) would make the same thing over each other: the
    second waits, and finds it made."""
    with private_file(f"{what}.lock").open() as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def _run_build() -> None:
    say("building the front end")
    run(["npm", "run", "--silent", "build"], cwd=WEB)
    site = WEB / "dist" / "site"
    (site / "index.html").replace(WEB / "dist" / "index.html")
    run([PYTHON, "-m", "whitenoise.compress", "--quiet", site])


def _need_node() -> None:
    wanted = ".".join(map(str, OLDEST_NODE))
    if shutil.which("node") is None or shutil.which("npm") is None:
        raise Trouble(f"Node.js {wanted} or newer with npm is needed; install it and start again")
    version = run(["node", "--version"]).strip().lstrip("v")
    if tuple(int(part) for part in version.split(".")[:2]) < OLDEST_NODE:
        raise Trouble(f"Node.js {version} is too old; install {wanted} or newer")


def _postgres_bin() -> Path | None:
    folders = Path("/usr/lib/postgresql").glob("*/bin/initdb")
    newest = sorted(folders, key=lambda path: int(path.parts[-3]), reverse=True)
    if newest:
        return newest[0].parent
    other = shutil.which("initdb")
    return Path(other).parent if other else None


def _need_debian(package: str, *, why: str) -> None:
    """Installs a Debian package as root; otherwise says the exact command."""
    install = ["apt-get", "install", "--yes", "--no-install-recommends", package]
    if os.getuid() != 0 or shutil.which("apt-get") is None:
        raise Trouble(
            f"{package} is needed for {why}. Run this, then start again:\n"
            f"    sudo apt-get update && sudo {' '.join(install)}"
        )
    say(f"installing {package} ({why})")
    quiet = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    # Debian's own lock would refuse the second of two at once.
    with _alone("debian"), _nothing_started():
        run(["apt-get", "update", "-qq"], env=quiet)
        run(install, env=quiet)


@contextmanager
def _nothing_started() -> Iterator[None]:
    """Debian starts the server of a package that it installs, and asks this program before. Ours
    are started by us, on ports of their own."""
    asked = Path("/usr/sbin/policy-rc.d")
    if asked.exists():
        yield
        return
    asked.write_text("#!/bin/sh\nexit 101\n")
    asked.chmod(0o755)
    try:
        yield
    finally:
        asked.unlink(missing_ok=True)


def _digest(files: Iterable[Path], salt: str = "") -> str:
    total = hashlib.sha256(salt.encode())
    for path in sorted(files):
        total.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes())
    return total.hexdigest()


def _stamped(stamp: Path, digest: str) -> bool:
    return stamp.exists() and stamp.read_text() == digest
