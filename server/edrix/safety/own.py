"""Lines of the school's own on the isolation and closing lists.

Example: Tove's hall has a floor drain that must be covered before fuel is let off. She adds that
line for every engine; the tug's alone says that its bilge pump stays on. Students tick them like
the others. What was ticked keeps its words when a line is taken off again.
"""

from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.errors import FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.names import tidy
from edrix.safety.models import OwnLine as OwnLine
from valvetrain.cautions import Caution

MOST_LINES = 20
"""On one list of one engine: more is read by nobody."""
MOST_LONG = 200


def lines_of(engine_id: int) -> tuple[list[Caution], list[Caution]]:
    """Those that an engine's opening and closing lists have, oldest first."""
    before: list[Caution] = []
    after: list[Caution] = []
    for line in _found(engine_id):
        (before if line.on == OwnLine.On.OPENING else after).append(
            Caution(f"own-{line.id}", line.says)
        )
    return before, after


def listed(user: User, engine_id: int) -> list[OwnLine]:
    """The same with what an instructor needs to change them."""
    _require_teacher(user)
    engines.get_version(engine_id)
    return _found(engine_id)


def add(user: User, engine_id: int, on: str, says: str, *, all_engines: bool) -> OwnLine:
    """Raises InvalidError for a line that cannot be, and for one too many."""
    _require_teacher(user)
    engine = engines.get_version(engine_id).engine
    words = tidy(says, "The line is empty.", field="says", problem="say what is to be done")
    if len(words) > MOST_LONG:
        problem = f"has {len(words)} characters; a line to tick has at most {MOST_LONG}"
        raise InvalidError(f"The line {problem}.", [FieldFault("says", problem)])
    if sum(line.on == on for line in _found(engine_id)) >= MOST_LINES:
        problem = f"has {MOST_LINES} lines of its own already; take one off first"
        raise InvalidError(f"This list {problem}.", [FieldFault("on", problem)])
    return OwnLine.objects.create(
        on=on, says=words, engine=None if all_engines else engine, made_by=user
    )


def take_off(user: User, line_id: int) -> None:
    """Lists that were ticked keep its words."""
    _require_teacher(user)
    deleted, _ = OwnLine.objects.filter(id=line_id).delete()
    if not deleted:
        raise NotFoundError(f"There is no line {line_id} on the lists; look at them again.")


def _found(engine_id: int) -> list[OwnLine]:
    everywhere = OwnLine.objects.filter(engine__isnull=True)
    return list((everywhere | OwnLine.objects.filter(engine_id=engine_id)).order_by("id"))


def _require_teacher(user: User) -> None:
    if not user.may_teach:
        raise NotAllowedError("Only people who teach add lines to these lists.")
