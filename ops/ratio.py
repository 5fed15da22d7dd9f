"""How much of the code is tests. Generated files and blank lines do not count."""

import re
from pathlib import Path

from ops.console import run
from ops.paths import ROOT

CODE = {".py", ".ts", ".tsx", ".css", ".sh", ".js", ".mjs", ".html"}
GENERATED = re.compile(r"(schema\.d\.ts$|/migrations/)")
TEST = re.compile(r"(^tests/|\.test\.tsx?$)")


def count() -> tuple[int, int]:
    """(test lines, all lines) of the tracked code files."""
    tests = total = 0
    for name in run(["git", "ls-files"], cwd=ROOT).splitlines():
        path = ROOT / name
        if (path.suffix not in CODE and path.name != "edrix") or GENERATED.search(name):
            continue
        lines = _lines(path)
        total += lines
        tests += lines if TEST.search(name) else 0
    return tests, total


def report() -> None:
    tests, total = count()
    if total:
        print(f"test lines: {tests} of {total} lines of code, {100 * tests / total:.0f} %")


def _lines(path: Path) -> int:
    return sum(1 for line in path.read_text().splitlines() if line.strip()) if path.exists() else 0
