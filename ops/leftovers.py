"""What a start is served by ends with it, however it ends.

Example: somebody kills `./edrix` with a signal that nobody can catch. Linux ends its server, its
front and its worker for it; and if one of them is still there at the next start, that start ends it
before it takes the port. Only what carries this folder's own mark is ever touched.
"""

import os
import signal
import time
from collections.abc import Mapping
from contextlib import suppress
from pathlib import Path

from ops.console import say
from ops.paths import state_dir

WITH_PARENT = ("setpriv", "--pdeathsig", "TERM")
"""Before a command: it is asked to end when whoever started it has ended. Of util-linux, which
every Debian has."""
MARK = "EDRIX_SERVES"
GRACE_S = 10
"""So long it may take to end in good order."""


def marked(environment: Mapping[str, str], purpose: str) -> dict[str, str]:
    """An environment by which a later start knows whose processes they are."""
    return {**environment, MARK: _mark(purpose)}


def end_leftovers(purpose: str) -> None:
    """Ends what an earlier start for this purpose has left running; waits until it has."""
    left = leftovers(purpose)
    if not left:
        return
    say("an earlier start was killed; ending what it left running")
    _signal(left, signal.SIGTERM)
    deadline = time.monotonic() + GRACE_S
    while (left := leftovers(purpose)) and time.monotonic() < deadline:
        time.sleep(0.1)
    _signal(left, signal.SIGKILL)
    while leftovers(purpose):
        time.sleep(0.1)


def leftovers(purpose: str) -> set[int]:
    """Processes of this user with the mark of this folder and purpose; never this one itself."""
    wanted = f"{MARK}={_mark(purpose)}".encode()
    found = set()
    for folder in Path("/proc").iterdir():
        if not folder.name.isdigit() or int(folder.name) == os.getpid():
            continue
        # Others' processes, and those that have ended meanwhile, cannot be read.
        with suppress(OSError):
            if wanted in (folder / "environ").read_bytes().split(b"\0"):
                found.add(int(folder.name))
    return found


def _mark(purpose: str) -> str:
    return f"{state_dir()} {purpose}"


def _signal(processes: set[int], number: int) -> None:
    for process in processes:
        with suppress(ProcessLookupError):
            os.kill(process, number)
