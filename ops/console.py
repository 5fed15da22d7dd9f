"""Saying what happens, and running commands whose failure ends in a sentence."""

import subprocess
import sys
from collections.abc import Mapping, Sequence
from pathlib import Path


class Trouble(Exception):
    """Something that the person at the keyboard has to mend; the message says how."""


def say(text: str) -> None:
    print(f"edrix: {text}", file=sys.stderr, flush=True)


def run(
    command: Sequence[str | Path],
    *,
    cwd: Path | None = None,
    env: Mapping[str, str] | None = None,
) -> str:
    """Runs a command quietly and gives its output. Raises Trouble with its last lines."""
    done = subprocess.run(
        [str(word) for word in command],
        cwd=cwd,
        env=env,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        check=False,
    )
    if done.returncode != 0:
        last = "\n".join(done.stdout.strip().splitlines()[-15:])
        raise Trouble(f"`{' '.join(map(str, command))}` ended with {done.returncode}:\n{last}")
    return done.stdout
