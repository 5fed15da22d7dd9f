"""What a person can do at a practice engine, and how an action is written as a document.

`read_action({"do": "try", "valve": 3, "leaves_um": [250]})`. Everything is checked for shape
here; whether it can be done now is for `apply`. To add an action: its class, with bounds beside
its fields, a name for it in `ACTIONS`, and what it does in `run`. How it is read, and its type on
the wire, follow from the class.
"""

from types import NoneType, UnionType
from typing import (
    Annotated,
    Any,
    Literal,
    NamedTuple,
    get_args,
    get_origin,
    get_type_hints,
)

from valvetrain.document import DocumentError, Node
from valvetrain.practice.constants import (
    MOST_HOURS,
    MOST_NOTE,
    MOST_SCREW_DEG,
    MOST_STACK,
    MOST_TURN_DEG,
)

How = Literal["straight", "skewed", "tip", "one-side"]
GapKind = Literal["opening", "closing", "running"]
"""Which gap of a valve: the one that all have, the one under the rocker that pulls a valve shut, or
a brake rocker's running gap."""


class Bounds(NamedTuple):
    """What a number may be; wanted says it in words. above: low itself is too small."""

    low: float
    high: float
    wanted: str
    above: bool = False


class TypedLength(NamedTuple):
    """How long a text or a list may be; wanted says what it is."""

    most: int
    wanted: str


ValveNumber = Annotated[int, Bounds(1, 9999, "the valve's number")]
Leaves = Annotated[
    tuple[int, ...],
    TypedLength(MOST_STACK, "a list of leaves in µm"),
    Bounds(1, 10_000, "a leaf's thickness in µm"),
]


class Turn(NamedTuple):
    by_deg: Annotated[float, Bounds(-MOST_TURN_DEG, MOST_TURN_DEG, "degrees")]


class Rock(NamedTuple):
    """A little forward and back about the place, watching the rockers."""


class Wiggle(NamedTuple):
    """The rocker wiggled; for the closing gap its shim turned between two fingers."""

    valve: ValveNumber
    gap: GapKind = "opening"


class Push(NamedTuple):
    """A brake rocker pushed back to its detent, a push rod pressed down, a follower lifted."""

    valve: ValveNumber


class Paint(NamedTuple):
    """A dot of one's own on the pulley, at the pointer; or that one wiped off."""

    wipe: bool = False


class Wait(NamedTuple):
    """The engine left to stand, and to cool."""

    hours: Annotated[float, Bounds(0, MOST_HOURS, "hours", above=True)]


class Look(NamedTuple):
    at: Literal["marks", "rotor", "lobes", "threads", "pads", "engine"]


class Try(NamedTuple):
    """A leaf or a stack put in, and felt."""

    valve: ValveNumber
    leaves_um: Leaves
    how: How = "straight"
    oiled: bool = False
    pressing: bool = False
    gap: GapKind = "opening"
    body_um: Annotated[int | None, Bounds(1, 10_000, "a leaf's thickness in µm")] = None
    """Of a step leaf: its thick body, pushed on behind its tip."""
    angled: bool = False
    """Whether it is bent to 45 degrees, for gaps that are hard to get at."""


class Loosen(NamedTuple):
    valve: ValveNumber
    oil: bool = False


class Tighten(NamedTuple):
    """By hand where torque_nm is None."""

    valve: ValveNumber
    torque_nm: Annotated[float | None, Bounds(0, 1000, "a torque in N·m", above=True)] = None


class Screw(NamedTuple):
    valve: ValveNumber
    by_deg: Annotated[float, Bounds(-MOST_SCREW_DEG, MOST_SCREW_DEG, "degrees")]


class SetByLeaf(NamedTuple):
    """The screw turned until the leaf drags."""

    valve: ValveNumber
    leaves_um: Leaves
    how: How = "straight"
    pressing: bool = False
    angled: bool = False


class Zero(NamedTuple):
    """The screw turned until there is just no gap; backing off is a `Screw`."""

    valve: ValveNumber


class TakeShim(NamedTuple):
    valve: ValveNumber
    gap: GapKind = "opening"


class ReadShim(NamedTuple):
    valve: ValveNumber
    by: Literal["stamp", "micrometer"]
    gap: GapKind = "opening"


class FitShim(NamedTuple):
    valve: ValveNumber
    size_um: Annotated[int, Bounds(1, 20_000, "a shim's thickness in µm")]
    face_down: bool = True
    gap: GapKind = "opening"


class Cams(NamedTuple):
    out: bool


class LockCrank(NamedTuple):
    locked: bool


class Done(NamedTuple):
    valve: ValveNumber
    done: bool = True


class Write(NamedTuple):
    """A figure on the notepad, or in the column `leave` why a valve is left as it is; an empty text
    wipes it."""

    valve: ValveNumber
    column: Literal[
        "first",
        "second",
        "settled",
        "after",
        "running",
        "closing",
        "closing-after",
        "fitted",
        "chosen",
        "torque",
        "leave",
    ]
    text: Annotated[str, TypedLength(MOST_NOTE, "what to write")]


class CountTools(NamedTuple):
    pass


class ToolOff(NamedTuple):
    pass


class Cover(NamedTuple):
    on: bool


class FirstStart(NamedTuple):
    pass


Action = (
    Turn | Rock | Wiggle | Push | Paint | Wait | Look | Try | Loosen | Tighten | Screw | SetByLeaf
    | Zero | TakeShim | ReadShim | FitShim | Cams | LockCrank | Done | Write | CountTools | ToolOff
    | Cover | FirstStart
)  # fmt: skip
ACTIONS: dict[str, type[Action]] = {
    "turn": Turn, "rock": Rock, "wiggle": Wiggle, "push": Push, "paint": Paint,
    "wait": Wait,
    "look": Look, "try": Try,
    "loosen": Loosen, "tighten": Tighten, "screw": Screw, "set": SetByLeaf, "zero": Zero,
    "take-shim": TakeShim, "read-shim": ReadShim, "fit-shim": FitShim, "cams": Cams,
    "lock-crank": LockCrank, "done": Done, "write": Write, "count-tools": CountTools,
    "tool-off": ToolOff, "cover": Cover, "start": FirstStart,
}  # fmt: skip
"""Every action by the name that documents give it."""
_NAMES = {action: name for name, action in ACTIONS.items()}


class Field(NamedTuple):
    """One field of an action: its plain type, its limits, and whether it may be left out."""

    name: str
    plain: Any
    bounds: Bounds | None
    length: TypedLength | None
    optional: bool


def fields_of(action: type[Action]) -> tuple[Field, ...]:
    """What an action needs, told from its class."""
    return _FIELDS[action]


def _fields(action: type[Action]) -> tuple[Field, ...]:
    told = get_type_hints(action, include_extras=True)
    defaults = action._field_defaults
    fields = []
    for name in action._fields:
        hint: Any = told[name]
        limits: list[Any] = []
        if get_origin(hint) is Annotated:
            hint, *limits = get_args(hint)
        bounds = next((one for one in limits if isinstance(one, Bounds)), None)
        length = next((one for one in limits if isinstance(one, TypedLength)), None)
        fields.append(Field(name, hint, bounds, length, name in defaults))
    return tuple(fields)


_FIELDS = {action: _fields(action) for action in ACTIONS.values()}


def read_action(document: Any) -> Action:
    """An action from its document. Raises DocumentError naming what is wrong."""
    root = Node(document)
    if not root.is_object("an object with `do` and what it needs"):
        raise DocumentError(root.faults)
    name = root["do"].choice(*ACTIONS)
    if root.faults:
        raise DocumentError(root.faults)
    kind = ACTIONS[name]
    given = {
        field.name: _read(root[field.name], field)
        for field in fields_of(kind)
        if not (field.optional and _left_out(root[field.name], field))
    }
    if root.faults:
        raise DocumentError(root.faults)
    return kind(**given)


def write_action(action: Action) -> dict[str, Any]:
    """The document of an action; `read_action` gives the same action back."""
    fields = {
        key: list(value) if isinstance(value, tuple) else value
        for key, value in action._asdict().items()
    }
    return {"do": _NAMES[type(action)], **fields}


def _left_out(node: Node, field: Field) -> bool:
    return node.missing or (node.value is None and _may_be_none(field.plain))


def _may_be_none(plain: Any) -> bool:
    return get_origin(plain) is UnionType and NoneType in get_args(plain)


def _read(node: Node, field: Field) -> Any:
    plain = get_args(field.plain)[0] if _may_be_none(field.plain) else field.plain
    if get_origin(plain) is Literal:
        return node.choice(*get_args(plain))
    if plain is bool:
        return node.yes_no()
    if plain is str and field.length is not None:
        return node.text(field.length.wanted, most=field.length.most, empty=True)
    if field.bounds is None:
        raise TypeError(f"{field.name} has no bounds: give it some in its class")
    if get_origin(plain) is tuple and field.length is not None:
        return _read_list(node, field.bounds, field.length)
    return _read_number(node, field.bounds, whole=plain is int)


def _read_number(node: Node, bounds: Bounds, *, whole: bool) -> int | float:
    if whole:
        return node.whole(bounds.wanted, low=int(bounds.low), high=int(bounds.high))
    return node.number(bounds.wanted, low=bounds.low, high=bounds.high, above=bounds.above)


def _read_list(node: Node, bounds: Bounds, length: TypedLength) -> tuple[int | float, ...]:
    nodes = node.items(length.wanted, most=length.most)
    found = tuple(_read_number(one, bounds, whole=True) for one in nodes)
    if not found and not node.faults:
        node.fault("is empty; give at least one leaf")
    return found
