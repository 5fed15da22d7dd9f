"""`./edrix mutate`: changes the core's code a little at a time, and counts what the tests notice.

mutmut does it, in a copy outside the checkout: it needs the package at the top, and writes its
mutants beside it. Slow, so it is no part of `./edrix test`.
"""

import json
import shutil
import subprocess
from pathlib import Path

from ops.console import Trouble, say
from ops.install import need_venv
from ops.paths import PYTHON, ROOT, state_dir

CHOSEN = (
    "angles",
    "heel",
    "rocking",
    "units",
    "grading/measured",
    "practice/closing",
    "practice/measuring",
)
"""Rules that a wrong sign would not show at once on a screen."""
COPIED = ("demo", "docs", "ops")
WANTED_PERCENT = 90

SETTINGS = """[tool.mutmut]
source_paths = ["valvetrain"]
only_mutate = {modules}
also_copy = {copied}
pytest_add_cli_args_test_selection = ["tests/core"]
pytest_add_cli_args = ["-x", "-q", "-p", "no:cacheprovider"]

[tool.pytest.ini_options]
pythonpath = ["."]
"""


def mutate(modules: list[str]) -> int:
    """Prints the score, and the mutants that lived; 1 where it is below what is wanted."""
    need_venv("mutate")
    folder = _copy([f"valvetrain/{name.removesuffix('.py')}.py" for name in modules or CHOSEN])
    say(f"changing {', '.join(modules or CHOSEN)} in {folder}; this takes minutes")
    _mutmut(folder, "run", quiet=True)
    _mutmut(folder, "export-cicd-stats", quiet=True)
    told = json.loads((folder / "mutants" / "mutmut-cicd-stats.json").read_text())
    noticed = told["killed"] + told["timeout"] + told.get("segfault", 0)
    lived = told["survived"] + told["no_tests"] + told["suspicious"]
    if noticed + lived == 0:
        raise Trouble("there is nothing to change in these modules; see core/valvetrain")
    _mutmut(folder, "results")
    percent = 100 * noticed / (noticed + lived)
    say(f"{noticed} of {noticed + lived} changes noticed: {percent:.0f} %, {WANTED_PERCENT} wanted")
    return 0 if percent >= WANTED_PERCENT else 1


def _copy(modules: list[str]) -> Path:
    missing = [name for name in modules if not (ROOT / "core" / name).is_file()]
    if missing:
        raise Trouble(f"core has no {', '.join(missing)}; give modules like heel or grading/marks")
    folder = state_dir() / "mutate"
    shutil.rmtree(folder, ignore_errors=True)
    skipped = shutil.ignore_patterns("__pycache__")
    shutil.copytree(ROOT / "core" / "valvetrain", folder / "valvetrain", ignore=skipped)
    shutil.copytree(ROOT / "tests" / "core", folder / "tests" / "core", ignore=skipped)
    shutil.copy(ROOT / "tests" / "__init__.py", folder / "tests")
    for name in COPIED:
        shutil.copytree(ROOT / name, folder / name, ignore=skipped)
    text = SETTINGS.format(modules=json.dumps(modules), copied=json.dumps(COPIED))
    (folder / "pyproject.toml").write_text(text)
    return folder


def _mutmut(folder: Path, command: str, *, quiet: bool = False) -> None:
    done = subprocess.run(
        [PYTHON, "-m", "mutmut", command],
        cwd=folder,
        stdout=subprocess.PIPE if quiet else None,
        stderr=subprocess.STDOUT if quiet else None,
        text=True,
        check=False,
    )
    if done.returncode != 0:
        last = "\n".join((done.stdout or "").strip().splitlines()[-15:])
        raise Trouble(f"mutmut {command} ended with {done.returncode}:\n{last}")
