"""Where things are: the checkout, its virtual environment, and the state folder outside it."""

import hashlib
import os
import stat
from pathlib import Path

from ops.console import Trouble

ROOT = Path(__file__).resolve().parents[1]
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"


def state_dir() -> Path:
    """Databases, secrets and logs of this checkout, kept between starts.

    Outside the checkout, because PostgreSQL's own user must be able to reach it, which a
    private home folder forbids. EDRIX_STATE_DIR chooses another place. A folder that
    belongs to somebody else is refused: the default's name can be guessed.
    """
    digest = hashlib.sha256(str(ROOT).encode()).hexdigest()[:8]
    default = f"/var/tmp/edrix-{os.getuid()}-{ROOT.name}-{digest}"  # noqa: S108 (owner checked)
    folder = Path(os.environ.get("EDRIX_STATE_DIR") or default)
    folder.mkdir(mode=0o711, parents=True, exist_ok=True)
    found = folder.lstat()
    if not stat.S_ISDIR(found.st_mode) or found.st_uid != os.getuid():
        raise Trouble(f"{folder} is not yours; set EDRIX_STATE_DIR to a folder of your own")
    return folder


def private_file(name: str) -> Path:
    """A file in the state folder that only its owner can read (created empty if missing)."""
    path = state_dir() / name
    path.touch(mode=0o600, exist_ok=True)
    return path
