"""Watches what the one command started: what ends by itself is started again.

Example: the machine runs out of memory and kills the database. Within a second it is seen, and
started again on its old port; students wait, and go on. If it ends again and again, the command
ends too, and says why.
"""

import fcntl
import os
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import NamedTuple

from ops.console import Trouble, say
from ops.paths import private_file

LOOK_S = 0.5
"""How often it is looked at."""
DELAYS_S = (0.5, 1, 2, 4, 8, 15, 30)
"""How long is waited before each start that follows another one soon."""
CALM_S = 120
"""Whoever has run so long is well again."""


class Watched(NamedTuple):
    """Something that should run: what it is called, whether it does, and how it is started."""

    name: str
    runs: Callable[[], bool]
    start: Callable[[], object]


def watch(
    things: list[Watched],
    *,
    sleep: Callable[[float], None] = time.sleep,
    calm_s: float = CALM_S,
) -> None:
    """Never comes back while everything runs or can be started again. Raises Trouble."""
    tried = {thing.name: 0 for thing in things}
    last = {thing.name: time.monotonic() for thing in things}
    while True:
        sleep(LOOK_S)
        for thing in things:
            if thing.runs():
                if time.monotonic() - last[thing.name] > calm_s:
                    tried[thing.name] = 0
                continue
            if tried[thing.name] >= len(DELAYS_S):
                raise Trouble(
                    f"{thing.name} ended {tried[thing.name]} times in a row; it is not started "
                    "again. Its log says why."
                )
            say(f"{thing.name} ended; starting it again")
            sleep(DELAYS_S[tried[thing.name]])
            tried[thing.name] += 1
            last[thing.name] = time.monotonic()
            try:
                thing.start()
            except Trouble as trouble:
                say(f"{thing.name}: {trouble}")


@contextmanager
def only_one(purpose: str) -> Iterator[Callable[[str], None]]:
    """One server for each purpose of a checkout; gives a function that notes where it answers.
    Raises Trouble that says who runs."""
    path = private_file(f"serve-{purpose}.lock")
    with path.open("r+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            who = path.read_text().strip() or "it is just starting"
            raise Trouble(
                f"Edrix runs already from this folder ({who}); use that, or stop it first"
            ) from None

        def note(text: str) -> None:
            lock.seek(0)
            lock.truncate()
            lock.write(f"process {os.getpid()}, {text}\n")
            lock.flush()

        note("starting")
        try:
            yield note
        finally:
            lock.seek(0)
            lock.truncate()
