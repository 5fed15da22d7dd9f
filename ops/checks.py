"""`./edrix test`: every check in one go, from the quickest to the slowest."""

import json
import os
import subprocess
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextvars import ContextVar
from pathlib import Path

from ops import ratio
from ops.console import Trouble, run, say
from ops.install import need_for_tests, need_venv, need_web
from ops.paths import PYTHON, ROOT, VENV, WEB

PYTHON_CODE = ("core", "server", "ops", "tests")
TYPED = ("core/valvetrain", "server/edrix", "ops")
OPENAPI = ROOT / "docs" / "openapi.json"
ENGINE_SCHEMA = ROOT / "docs" / "engine-file.schema.json"
LESSON_SCHEMA = ROOT / "docs" / "lesson-file.schema.json"
TYPES = WEB / "src" / "api" / "schema.d.ts"
WORDS = WEB / "src" / "api" / "glossary.json"
DRAWINGS = WEB / "src" / "api" / "drawings.json"
MADE_OF_CORE = {
    ENGINE_SCHEMA: ("valvetrain.engine_file", "engine_schema"),
    LESSON_SCHEMA: ("valvetrain.lesson", "lesson_schema"),
    WORDS: ("valvetrain.glossary", "glossary"),
    DRAWINGS: ("valvetrain.glossary_drawings", "drawings"),
}
"""Files, each the JSON of what a function of the core gives."""


def run_checks(only: list[str] | None) -> int:
    """Runs the steps and goes on after a failure, so that one run tells all that is wrong."""
    steps = _steps()
    unknown = set(only or ()) - set(steps)
    if unknown:
        raise Trouble(f"there is no step {', '.join(unknown)}; steps are {', '.join(steps)}")
    need_for_tests()
    wanted = [name for name in steps if not only or name in only]
    beside = [name for name in wanted if name in BESIDE]
    failed = _side_by_side([(name, steps[name]) for name in beside])
    for name in wanted:
        if name not in BESIDE:
            say(f"── {name}")
            failed += [] if _timed(name, steps[name]) else [name]
    ratio.report()
    if failed:
        say(f"failed: {', '.join(failed)}")
    return 1 if failed else 0


BESIDE = ("format", "lint", "types", "architecture", "api", "yesterday", "ops")
"""Steps that keep one core busy, or wait: two of them are done at once, before the others."""
KEPT: ContextVar[list[str] | None] = ContextVar("kept", default=None)
"""What the tools of a step say while another is under way; None where it is shown as it comes."""


def _timed(name: str, step: Callable[[], bool]) -> bool:
    started = time.monotonic()
    passed = step()
    say(f"   {name}: {'ok' if passed else 'failed'}, {time.monotonic() - started:.0f} s")
    return passed


def _side_by_side(steps: Sequence[tuple[str, Callable[[], bool]]]) -> list[str]:
    """The names of those that failed."""

    def apart(name: str, step: Callable[[], bool]) -> bool:
        said: list[str] = []
        KEPT.set(said)
        passed = _timed(name, step)
        if not passed:
            print(f"── {name}", *said, sep="\n", flush=True)
        return passed

    with ThreadPoolExecutor(2) as both:
        passed = list(both.map(lambda one: apart(*one), steps))
    return [name for (name, _), ok in zip(steps, passed, strict=True) if not ok]


def write_api() -> int:
    """The documents that are made from code: docs/openapi.json, its types, schemas, glossary."""
    need_venv()
    need_web(build=False)
    OPENAPI.write_text(_openapi())
    for file, (module, function) in MADE_OF_CORE.items():
        file.write_text(_of_core(module, function))
    _write_types(TYPES)
    return 0


BOTH_CORES = ("-n", "2", "--dist", "worksteal")
"""Two workers, each with a database of its own; who has no test left takes some of the other's."""
BY_FILE = ("-n", "3", "--dist", "loadfile")
"""A file stays with one of them: what its tests share takes long to make. A page waits as often as
it computes, so that two processors serve three."""

ONCE_MORE = ("--reruns", "1", "--only-rerun", "Timeout", "--only-rerun", "Locator expected", "-rR")
"""What was waited for in vain, on a machine that others stall for seconds, is tried once more, and
named at the end: each is a race to be looked for. A wrong answer fails at once."""


def _steps() -> dict[str, Callable[[], bool]]:
    return {
        "format": lambda: _tool("ruff", "format", "--check", "-q", *PYTHON_CODE),
        "lint": lambda: _tool("ruff", "check", "-q", *PYTHON_CODE) and _npm("lint"),
        "types": lambda: _tool("mypy", "--exclude", "migrations", *TYPED) and _npm("types"),
        "architecture": lambda: _tool("lint-imports", "--no-logo") and _npm("arch"),
        "api": _api_is_current,
        "yesterday": lambda: _tool("pytest", "tests/yesterday"),
        "core": lambda: _tool("pytest", *BOTH_CORES, "tests/core"),
        # Most of these wait for something that was killed, or is slow on purpose.
        "ops": lambda: _tool("pytest", "-n", "4", "--dist", "loadfile", "tests/ops"),
        "server": lambda: _tool("pytest", *BOTH_CORES, "tests/server"),
        "web": lambda: _npm("test"),
        "journeys": lambda: _tool("pytest", *BOTH_CORES, "tests/journeys"),
        "browser": lambda: _tool("pytest", *BY_FILE, *ONCE_MORE, "tests/browser"),
    }


def run_journeys() -> int:
    """All journeys, where the checks run a part that holds every value of every dimension."""
    need_for_tests()
    os.environ["EDRIX_JOURNEYS"] = "all"
    passed = _tool("pytest", *BOTH_CORES, "tests/journeys")
    passed &= _tool("pytest", *BY_FILE, *ONCE_MORE, "tests/browser/test_whole_runs.py")
    return 0 if passed else 1


def _environment() -> dict[str, str]:
    path = f"{VENV / 'bin'}{os.pathsep}{os.environ['PATH']}"
    key = os.environ.get("EDRIX_SECRET_KEY", "only-for-checks")
    return {**os.environ, "PATH": path, "EDRIX_SECRET_KEY": key}


def _tool(*command: str) -> bool:
    """A development tool of the virtual environment, its output shown as it comes."""
    return _passes([str(VENV / "bin" / command[0]), *command[1:]], ROOT)


def _npm(script: str) -> bool:
    return _passes(["npm", "run", "--silent", script], WEB)


def _passes(command: Sequence[str], folder: Path) -> bool:
    said = KEPT.get()
    done = subprocess.run(
        command,
        cwd=folder,
        env=_environment(),
        check=False,
        text=True,
        stdout=None if said is None else subprocess.PIPE,
        stderr=None if said is None else subprocess.STDOUT,
    )
    if said is not None:
        said.append(done.stdout)
    return done.returncode == 0


def _openapi() -> str:
    manage = [PYTHON, ROOT / "server" / "manage.py"]
    made = run([*manage, "export_openapi_schema", "--api", "edrix.api.api"], env=_environment())
    return json.dumps(json.loads(made), indent=1, ensure_ascii=False) + "\n"


def _of_core(module: str, function: str) -> str:
    indent = None if function == "drawings" else 1
    program = (
        f"import json; from {module} import {function}; "
        f"print(json.dumps({function}(), indent={indent}, ensure_ascii=False))"
    )
    return run([PYTHON, "-c", program], env={**_environment(), "PYTHONPATH": str(ROOT / "core")})


def _write_types(target: Path) -> None:
    run(["npx", "--no-install", "openapi-typescript", OPENAPI, "-o", target], cwd=WEB)


def _api_is_current() -> bool:
    """Whether the checked-in document and types are what the server would give now."""
    fresh = WEB / "node_modules" / ".fresh-schema.d.ts"
    _write_types(fresh)
    stale = []
    if OPENAPI.read_text() != _openapi():
        stale.append("docs/openapi.json")
    if TYPES.read_text() != fresh.read_text():
        stale.append("web/src/api/schema.d.ts")
    stale += [
        str(file.relative_to(ROOT))
        for file, (module, function) in MADE_OF_CORE.items()
        if file.read_text() != _of_core(module, function)
    ]
    if stale:
        say(f"{' and '.join(stale)} out of date; run ./edrix api")
    return not stale
