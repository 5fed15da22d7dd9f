"""The one command: help for everything, sentences for what goes wrong."""

import subprocess
import sys

import pytest

from ops.checks import run_checks
from ops.console import Trouble, run
from ops.paths import ROOT
from ops.ratio import count


@pytest.mark.parametrize("command", ["demo", "serve", "test", "calc", "shots", "bench", "api"])
def test_every_command_has_help(command):
    done = subprocess.run(  # noqa: S603 (our own command)
        [ROOT / "edrix", command, "--help"], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0
    assert f"edrix {command}" in done.stdout


def test_calc_through_the_command(tmp_path):
    engine = ROOT / "demo" / "engines" / "01-p4-fire-pump.json"
    done = subprocess.run(  # noqa: S603 (our own command)
        [ROOT / "edrix", "calc", "rule", engine], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0
    assert '"sum": 9, "holds": true' in done.stdout


def test_an_unknown_step_is_told_with_the_known_ones():
    with pytest.raises(Trouble, match="there is no step dance; steps are format, lint, types"):
        run_checks(["dance"])


def test_a_failed_command_ends_in_a_sentence():
    with pytest.raises(Trouble, match=r"ended with 3:\nlast words"):
        run([sys.executable, "-c", "print('last words'); raise SystemExit(3)"])


def test_pins_are_exact_and_hold_no_addresses():
    for name in (
        "requirements/app.txt",
        "requirements/dev.txt",
        "requirements/mutate.txt",
        "web/package-lock.json",
    ):
        text = (ROOT / name).read_text()
        assert "://" not in text, name
    for line in (ROOT / "requirements" / "dev.txt").read_text().splitlines():
        if line and not line.startswith((" ", "#")):
            assert "==" in line


def test_the_ratio_counts_tests_among_all_lines():
    tests, total = count()
    assert 0 < tests < total
