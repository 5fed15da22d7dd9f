"""What a person can do at a practice engine, and how an action is written as a document.

`read_action({"do": "feel", "valve": 3, "leaves_um": [250]})`. Everything is checked for shape
here; whether it can be done now is for `apply`.
"""

from collections.abc import Callable
from typing import Any, Literal, NamedTuple

from valvetrain.document import DocumentError, Node

MOST_TURN_DEG = 1440.0
MOST_STACK = 6
MOST_NOTE = 20

How = Literal["straight", "skewed", "tip", "one-side"]


class Turn(NamedTuple):
    by_deg: float


class Rock(NamedTuple):
    """A little forward and back about the place, watching the rockers."""


class Wiggle(NamedTuple):
    valve: int


class Push(NamedTuple):
    """A brake rocker pushed back to its detent."""

    valve: int


class Look(NamedTuple):
    at: Literal["marks", "rotor", "lobes", "threads", "engine"]


class Try(NamedTuple):
    """A leaf or a stack put in, and felt."""

    valve: int
    leaves_um: tuple[int, ...]
    how: How = "straight"
    oiled: bool = False
    pressing: bool = False


class Loosen(NamedTuple):
    valve: int
    oil: bool = False


class Tighten(NamedTuple):
    """By hand where torque_nm is None."""

    valve: int
    torque_nm: float | None = None


class Screw(NamedTuple):
    valve: int
    by_deg: float


class SetByLeaf(NamedTuple):
    """The screw turned until the leaf drags."""

    valve: int
    leaves_um: tuple[int, ...]
    how: How = "straight"
    pressing: bool = False


class Zero(NamedTuple):
    """The screw turned until there is just no gap; backing off is a `Screw`."""

    valve: int


class TakeShim(NamedTuple):
    valve: int


class ReadShim(NamedTuple):
    valve: int
    by: Literal["stamp", "micrometer"]


class FitShim(NamedTuple):
    valve: int
    size_um: int
    face_down: bool = True


class Cams(NamedTuple):
    out: bool


class LockCrank(NamedTuple):
    locked: bool


class Done(NamedTuple):
    valve: int
    done: bool = True


class Write(NamedTuple):
    """A figure on the notepad; an empty text wipes it."""

    valve: int
    column: Literal["first", "second", "after", "running"]
    text: str


class CountTools(NamedTuple):
    pass


class ToolOff(NamedTuple):
    pass


class Cover(NamedTuple):
    on: bool


class FirstStart(NamedTuple):
    pass


Action = (
    Turn | Rock | Wiggle | Push | Look | Try | Loosen | Tighten | Screw | SetByLeaf | Zero
    | TakeShim | ReadShim | FitShim | Cams | LockCrank | Done | Write | CountTools | ToolOff
    | Cover | FirstStart
)  # fmt: skip


def read_action(document: Any) -> Action:
    """An action from its document. Raises DocumentError naming what is wrong."""
    root = Node(document)
    if not root.is_object("an object with `do` and what it needs"):
        raise DocumentError(root.faults)
    name = root["do"].choice(*_READERS)
    action = _READERS[name](root) if not root.faults else None
    if action is None or root.faults:
        raise DocumentError(root.faults)
    return action


def write_action(action: Action) -> dict[str, Any]:
    """The document of an action; `read_action` gives the same action back."""
    fields = {
        key: list(value) if isinstance(value, tuple) else value
        for key, value in action._asdict().items()
    }
    return {"do": _NAMES[type(action)], **fields}


def _valve(root: Node) -> int:
    return root["valve"].whole("the valve's number", low=1, high=9999)


def _leaves(root: Node) -> tuple[int, ...]:
    nodes = root["leaves_um"].items("a list of leaves in µm", most=MOST_STACK)
    leaves = tuple(node.whole("a leaf's thickness in µm", low=1, high=10_000) for node in nodes)
    if not leaves and not root.faults:
        root["leaves_um"].fault("is empty; give at least one leaf")
    return leaves


def _flag(root: Node, key: str, *, default: bool = False) -> bool:
    return default if root[key].missing else root[key].yes_no()


def _how(root: Node) -> How:
    node = root["how"]
    return "straight" if node.missing else node.choice("straight", "skewed", "tip", "one-side")


def _torque(root: Node) -> float | None:
    node = root["torque_nm"]
    if node.missing or node.value is None:
        return None
    return node.number("a torque in N·m", low=0, high=1000, above=True)


def _turning(root: Node, most_deg: float) -> float:
    return root["by_deg"].number("degrees", low=-most_deg, high=most_deg)


def _text(root: Node) -> str:
    return root["text"].text("what to write", most=MOST_NOTE, empty=True)


_READERS: dict[str, Callable[[Node], Action]] = {
    "turn": lambda root: Turn(_turning(root, MOST_TURN_DEG)),
    "rock": lambda root: Rock(),
    "wiggle": lambda root: Wiggle(_valve(root)),
    "push": lambda root: Push(_valve(root)),
    "look": lambda root: Look(root["at"].choice("marks", "rotor", "lobes", "threads", "engine")),
    "try": lambda root: Try(
        _valve(root), _leaves(root), _how(root), _flag(root, "oiled"), _flag(root, "pressing")
    ),
    "loosen": lambda root: Loosen(_valve(root), _flag(root, "oil")),
    "tighten": lambda root: Tighten(_valve(root), _torque(root)),
    "screw": lambda root: Screw(_valve(root), _turning(root, 3600.0)),
    "set": lambda root: SetByLeaf(_valve(root), _leaves(root), _how(root), _flag(root, "pressing")),
    "zero": lambda root: Zero(_valve(root)),
    "take-shim": lambda root: TakeShim(_valve(root)),
    "read-shim": lambda root: ReadShim(_valve(root), root["by"].choice("stamp", "micrometer")),
    "fit-shim": lambda root: FitShim(
        _valve(root),
        root["size_um"].whole("a shim's thickness in µm", low=1, high=20_000),
        _flag(root, "face_down", default=True),
    ),
    "cams": lambda root: Cams(root["out"].yes_no()),
    "lock-crank": lambda root: LockCrank(root["locked"].yes_no()),
    "done": lambda root: Done(_valve(root), _flag(root, "done", default=True)),
    "write": lambda root: Write(
        _valve(root), root["column"].choice("first", "second", "after", "running"), _text(root)
    ),
    "count-tools": lambda root: CountTools(),
    "tool-off": lambda root: ToolOff(),
    "cover": lambda root: Cover(root["on"].yes_no()),
    "start": lambda root: FirstStart(),
}
_NAMES: dict[type, str] = {
    Turn: "turn", Rock: "rock", Wiggle: "wiggle", Push: "push", Look: "look", Try: "try",
    Loosen: "loosen", Tighten: "tighten", Screw: "screw", SetByLeaf: "set", Zero: "zero",
    TakeShim: "take-shim", ReadShim: "read-shim", FitShim: "fit-shim", Cams: "cams",
    LockCrank: "lock-crank", Done: "done", Write: "write", CountTools: "count-tools",
    ToolOff: "tool-off", Cover: "cover", FirstStart: "start",
}  # fmt: skip
