"""`./edrix test`: every check in one go, from the quickest to the slowest."""

import json
import os
import subprocess
import time
from collections.abc import Callable
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
    failed = []
    for name, step in steps.items():
        if only and name not in only:
            continue
        started = time.monotonic()
        say(f"── {name}")
        if not step():
            failed.append(name)
        say(
            f"   {name}: {'failed' if name in failed else 'ok'}, {time.monotonic() - started:.0f} s"
        )
    ratio.report()
    if failed:
        say(f"failed: {', '.join(failed)}")
    return 1 if failed else 0


def write_api() -> int:
    """The documents that are made from code: docs/openapi.json, its types, schemas, glossary."""
    need_venv()
    need_web(build=False)
    OPENAPI.write_text(_openapi())
    for file, (module, function) in MADE_OF_CORE.items():
        file.write_text(_of_core(module, function))
    _write_types(TYPES)
    return 0


BOTH_CORES = ("-n", "2", "--dist", "loadfile")
"""Two workers, each with a database of its own; a file stays with one of them."""

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
        "core": lambda: _tool("pytest", *BOTH_CORES, "tests/core"),
        "server": lambda: _tool("pytest", *BOTH_CORES, "tests/ops", "tests/server"),
        "yesterday": lambda: _tool("pytest", "tests/yesterday"),
        "web": lambda: _npm("test"),
        "journeys": lambda: _tool("pytest", "-n", "2", "--dist", "worksteal", "tests/journeys"),
        "browser": lambda: _tool("pytest", *BOTH_CORES, *ONCE_MORE, "tests/browser"),
    }


def run_journeys() -> int:
    """All journeys, where the checks run a part that holds every value of every dimension."""
    need_for_tests()
    os.environ["EDRIX_JOURNEYS"] = "all"
    each_alone = ("-n", "2", "--dist", "worksteal")
    passed = _tool("pytest", *each_alone, "tests/journeys")
    passed &= _tool("pytest", *BOTH_CORES, *ONCE_MORE, "tests/browser/test_whole_runs.py")
    return 0 if passed else 1


def _environment() -> dict[str, str]:
    path = f"{VENV / 'bin'}{os.pathsep}{os.environ['PATH']}"
    key = os.environ.get("EDRIX_SECRET_KEY", "only-for-checks")
    return {**os.environ, "PATH": path, "EDRIX_SECRET_KEY": key}


def _tool(*command: str) -> bool:
    """A development tool of the virtual environment, its output shown as it comes."""
    program = VENV / "bin" / command[0]
    return (
        subprocess.run(
            [program, *command[1:]], cwd=ROOT, env=_environment(), check=False
        ).returncode
        == 0
    )


def _npm(script: str) -> bool:
    command = ["npm", "run", "--silent", script]
    return subprocess.run(command, cwd=WEB, env=_environment(), check=False).returncode == 0


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
