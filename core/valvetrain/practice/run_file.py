"""Practice runs as files: `edrix-run/1`, an engine, what it hides, and everything that was done.

Everything that is wrong with a file is found at once, each with its JSONPath. What cannot be done
at the engine as it stands is no fault of the file: it is refused as it would be live, and told.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any, NamedTuple, get_args

from valvetrain.angles import CYCLE_DEG
from valvetrain.document import DocumentError, Node, read_inside
from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine, write_engine
from valvetrain.practice import actions as a
from valvetrain.practice.boxes import BOXES
from valvetrain.practice.closing import Outcome
from valvetrain.practice.constants import MOST_ACTIONS, MOST_SEED, PRACTICE_VERSION
from valvetrain.practice.debrief import Debrief, debrief_of
from valvetrain.practice.observation import RefusedActionError
from valvetrain.practice.run import Stretch, apply
from valvetrain.practice.setup import (
    FaultKind,
    Level,
    PlantedFault,
    Setup,
    SetupError,
    deal_setup,
)
from valvetrain.practice.state import first_state

RUN_FORMAT = "edrix-run/1"
OUTCOMES = {
    Outcome.QUIET: "runs-quietly",
    Outcome.TICKS: "ticks",
    Outcome.HARD: "runs-badly",
    Outcome.DEAD: "does-not-run",
    Outcome.DAMAGE: "damage",
}
"""As the file format names them."""
_DEALT = frozenset({"format", "engine", "seed", "level", "box", "bridged", "faults", "gaps_mm"})
_FIELDS = _DEALT | {"start_deg", "actions", "title", "student"}


@dataclass(frozen=True, slots=True)
class RunFile:
    setup: Setup
    actions: tuple[a.Action, ...]
    title: str = ""
    student: str = ""


def read_run(document: Any) -> RunFile:
    """Raises DocumentError with every fault that was found."""
    root = Node(document)
    if not root.is_object("an object, as edrix-run/1 describes it"):
        raise DocumentError(root.faults)
    root["format"].choice(RUN_FORMAT)
    for name in root.value:
        if name not in _FIELDS and not name.startswith("x_"):
            root[name].fault(f"is nobody's; known are {', '.join(sorted(_FIELDS))}")
    engine = read_inside(root["engine"], read_engine, "an edrix-engine/1 object")
    setup = None if engine is None else _setup(root, engine)
    actions = [
        read_inside(node, a.read_action, "an action")
        for node in root["actions"].items("a list of what was done", most=MOST_ACTIONS)
    ]
    title, student = (
        "" if root[name].missing else root[name].text(f"the {name}", empty=True)
        for name in ("title", "student")
    )
    if root.faults or setup is None:
        raise DocumentError(root.faults)
    return RunFile(setup, tuple(one for one in actions if one is not None), title, student)


def _setup(root: Node, engine: Engine) -> Setup | None:
    seed, level, box, bridged = (root[name] for name in ("seed", "level", "box", "bridged"))
    start = root["start_deg"]
    faults = [] if root["faults"].missing else _faults(root["faults"])
    start_deg = (
        None if start.missing else start.number("crank degrees", low=0, high=CYCLE_DEG) % CYCLE_DEG
    )
    before = len(root.faults)
    given: dict[str, Any] = {
        "seed": 0 if seed.missing else seed.whole("the seed", low=0, high=MOST_SEED),
        "box": "metric" if box.missing else box.choice(*BOXES),
        "level": "alone" if level.missing else level.choice(*get_args(Level)),
        "bridged": None if bridged.missing or bridged.value is None else bridged.yes_no(),
    }
    gaps_mm = {} if root["gaps_mm"].missing else _gaps(root["gaps_mm"], engine)
    if len(root.faults) > before:
        return None
    try:
        setup = deal_setup(engine, faults=faults, **given)
    except SetupError as refusal:
        root["faults"].fault(str(refusal))
        return None
    hidden = tuple(
        one._replace(clearance_mm=gaps_mm.get(valve.number, one.clearance_mm))
        for valve, one in zip(engine.valves, setup.hidden, strict=True)
    )
    return replace(setup, hidden=hidden, start_deg=start_deg)


def _faults(node: Node) -> list[PlantedFault]:
    found = []
    for item in node.items("a list of planted faults", most=MOST_ACTIONS):
        if not item.is_object("an object with kind and valve"):
            continue
        valve = item["valve"]
        number = (
            None
            if valve.missing or valve.value is None
            else valve.whole("the valve's number", low=1, high=9999)
        )
        found.append(PlantedFault(FaultKind(item["kind"].choice(*map(str, FaultKind))), number))
    return found


def _gaps(node: Node, engine: Engine) -> dict[int, float]:
    """True cold gaps by valve number, as JSON's text keys hold it."""
    gaps: dict[int, float] = {}
    if not node.is_object('an object like {"3": 0.21}'):
        return gaps
    for name in node.value:
        valve = engine.valve.get(int(name)) if str(name).isdecimal() else None
        if valve is None:
            node[name].fault("is no valve of this engine; give its number")
        else:
            gaps[valve.number] = node[name].number("the true gap in mm", low=-5, high=20)
    return gaps


def write_run(
    setup: Setup, done: Iterable[a.Action], *, title: str = "", student: str = ""
) -> dict[str, Any]:
    """A run as JSON values; `read_run` reads it back to the same engine and the same actions."""
    return {
        "format": RUN_FORMAT,
        "title": title,
        "student": student,
        "engine": write_engine(setup.engine),
        "seed": setup.seed,
        "level": setup.level,
        "box": setup.box,
        "bridged": setup.bridged,
        "faults": [{"kind": fault.kind.value, "valve": fault.valve} for fault in setup.faults],
        "gaps_mm": {
            str(valve.number): one.clearance_mm
            for valve, one in zip(setup.engine.valves, setup.hidden, strict=True)
        },
        "start_deg": first_state(setup).crank_deg,
        "actions": [a.write_action(action) for action in done],
    }


class Observed(NamedTuple):
    """One action of a file as it went: step counts the list from 1."""

    step: int
    do: str
    refused: bool
    says: str


class Replayed(NamedTuple):
    observations: tuple[Observed, ...]
    told: Debrief
    place: dict[int, int]
    """The step in the list by the step of the run, which counts what was not refused."""


def replay_file(file: RunFile) -> Replayed:
    """Everything that was done, done again; what is refused changes nothing."""
    state, run, seen, place = first_state(file.setup), [], [], {}
    for step, action in enumerate(file.actions, start=1):
        name = a.write_action(action)["do"]
        try:
            after, observation = apply(file.setup, state, action)
        except RefusedActionError as refusal:
            seen.append(Observed(step, name, refused=True, says=str(refusal)))
            continue
        run.append(Stretch(state, action, observation, after))
        seen.append(Observed(step, name, refused=False, says=observation.says))
        state = after
        place[state.step] = step
    return Replayed(tuple(seen), debrief_of(file.setup, run), place)


def write_replayed(replayed: Replayed) -> dict[str, Any]:
    """The answer of `edrix calc run`."""
    told = replayed.told
    return {
        "rules_version": PRACTICE_VERSION,
        "observations": [one._asdict() for one in replayed.observations],
        "debrief": {
            "outcome": OUTCOMES[told.result.start],
            "headline": told.result.headline,
            "passed": told.passed,
            "remarks": [
                {
                    "kind": one.kind.value,
                    "valves": list(one.valves),
                    "step": None if one.step is None else replayed.place[one.step],
                    "says": one.says,
                    "led_to": one.led_to,
                }
                for one in told.remarks
            ],
            "done_well": list(told.done_well),
            "consequences": [one.says for one in told.result.consequences],
            "later": list(told.result.later),
            "valves": [
                {
                    "valve": one.valve,
                    "found_mm": one.found_mm,
                    "left_mm": one.left_mm,
                    "within": one.within,
                    "measured": one.measured,
                    "rechecked": one.rechecked,
                }
                for one in told.valves
            ],
        },
    }
