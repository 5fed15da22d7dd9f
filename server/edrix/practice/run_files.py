"""Run files opened: replayed and told, and kept nowhere."""

from dataclasses import dataclass
from typing import Any

from edrix.accounts.models import User
from edrix.errors import FieldFault, InvalidError, NotAllowedError
from valvetrain.document import DocumentError, parse_json
from valvetrain.practice import write_debrief
from valvetrain.practice.run_file import Observed, read_run, replay_file

MOST_BYTES = 4_000_000


@dataclass(frozen=True, slots=True)
class OpenedRun:
    engine: str
    level: str
    told: dict[str, Any]
    refused: list[Observed]
    """What could not be done at the engine as it stood; it changed nothing."""


def open_file(user: User, data: bytes) -> OpenedRun:
    """For whoever teaches: a run file holds all that it hides. Raises InvalidError for one that
    cannot be read, with every fault's place."""
    if not user.may_teach:
        raise NotAllowedError("Run files hold what a run hides; they are opened by instructors.")
    if len(data) > MOST_BYTES:
        raise _refused(f"is {len(data) / 1e6:.1f} MB; give at most {MOST_BYTES / 1e6:.0f} MB")
    try:
        file = read_run(parse_json(data.decode("utf-8-sig")))
    except UnicodeDecodeError:
        raise _refused("is not UTF-8 text; save it as UTF-8") from None
    except DocumentError as refusal:
        faults = [FieldFault(fault.path, fault.problem) for fault in refusal.faults[:20]]
        first = refusal.faults[0]
        raise InvalidError(f"This run file: {first.path} {first.problem}.", faults) from None
    replayed = replay_file(file)
    return OpenedRun(
        file.setup.engine.name,
        file.setup.level,
        write_debrief(replayed.told),
        [one for one in replayed.observations if one.refused],
    )


def _refused(problem: str) -> InvalidError:
    return InvalidError(f"This file {problem}.", [FieldFault("file", problem)])
