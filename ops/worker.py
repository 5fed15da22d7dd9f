"""Does the long work: one process that takes jobs from the queue in the database.

Any number of them may run, on any machine that reaches the same PostgreSQL; each job goes to one.
What is running when a worker is killed is begun again by another.
"""

import subprocess
import time
from pathlib import Path

from ops.console import Trouble
from ops.leftovers import WITH_PARENT
from ops.paths import PYTHON, ROOT, state_dir

AT_ONCE = 2
"""Jobs of one worker side by side: a long rota keeps no archive waiting."""
GRACE_S = 5
"""So long what is running may still come to its end when the worker is stopped."""
LOWER = 10
"""By how much people who wait for a page come first."""
PATIENCE_S = 120
IS_UP = b"Launching a worker"
"""What it writes when it has loaded all and begins to look for jobs."""


class Worker:
    def __init__(self, environment: dict[str, str], log: Path | None = None):
        self._environment = environment
        self._log = log or state_dir() / "worker.log"
        self._process: subprocess.Popen[bytes] | None = None
        self._began_at = 0

    def __enter__(self) -> "Worker":
        self.start()
        return self

    def __exit__(self, *_: object) -> None:
        self.stop()

    def start(self) -> None:
        with self._log.open("a") as out:
            self._began_at = out.tell()
            self._process = subprocess.Popen(
                command(), env=self._environment, stdout=out, stderr=out,
            )  # fmt: skip

    def runs(self) -> bool:
        return self._process is not None and self._process.poll() is None

    def wait_until_up(self) -> None:
        """A busy machine takes many seconds to start it. Raises Trouble where it does not start."""
        deadline = time.monotonic() + PATIENCE_S
        while self.runs() and time.monotonic() < deadline:
            if IS_UP in self._log.read_bytes()[self._began_at :]:
                return
            time.sleep(0.1)
        raise Trouble(f"the worker did not start; see {self._log}")

    def pid(self) -> int | None:
        return self._process.pid if self._process is not None and self.runs() else None

    def stop(self) -> None:
        process = self._process
        if process is None:
            return
        process.terminate()
        try:
            process.wait(timeout=GRACE_S + 2)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()


def command() -> list[str]:
    return [
        *WITH_PARENT, "nice", "-n", str(LOWER),
        str(PYTHON), str(ROOT / "server" / "manage.py"), "procrastinate",
        "--skip-checks", "worker", "--concurrency", str(AT_ONCE),
        "--shutdown-graceful-timeout", str(GRACE_S),
    ]  # fmt: skip
