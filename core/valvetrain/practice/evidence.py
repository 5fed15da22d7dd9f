"""What the leaves of a run prove of a valve, and whether a written figure rests on any of them.

A gap is one thing as long as its valve is not changed: that is a *stint*. Within it leaves belong
together only where the crank stood still between them, a *chain*: turned on, the next leaf begins
anew, and off the heel a leaf proves nothing of the clearance.
"""

from collections.abc import Iterable, Iterator, Sequence
from decimal import Decimal
from itertools import groupby, pairwise
from typing import Any, NamedTuple

from valvetrain.angles import TURN_DEG
from valvetrain.constants import DRAG_BAND_MM, FORCED_BAND_MM, UM_PER_MM
from valvetrain.engine import Clearance
from valvetrain.gauges import Feel, LeafTry
from valvetrain.manual import parse_torque
from valvetrain.practice import actions as a
from valvetrain.practice.constants import ANGLE_MM, FIGURE_MM, TURNED_SHIM_MM
from valvetrain.practice.measuring import margin_now_deg
from valvetrain.practice.run import Stretch
from valvetrain.practice.running import CHANGES
from valvetrain.practice.setup import Setup
from valvetrain.units import LengthError, Unit, parse_figure, parse_mm

GAP_OF_COLUMN: dict[str, a.GapKind] = {
    "first": "opening",
    "second": "opening",
    "settled": "opening",
    "after": "opening",
    "running": "running",
    "closing": "closing",
    "closing-after": "closing",
}


class Felt(NamedTuple):
    """One leaf as it was felt; margin_deg is below zero where the valve was off its heel."""

    step: int
    leaf: LeafTry
    margin_deg: float
    pull: float = 0.0
    """How hard it was held, 0 to 1."""
    leaves: int = 1
    """How many lay together."""


class Chain(NamedTuple):
    """Leaves at one place of the crank: turns is how often it had been turned by then, turned
    whether it was since the valve was last changed."""

    turns: int
    turned: bool
    felt: tuple[Felt, ...]


class Stint(NamedTuple):
    """A valve's gap between two changes of it, from this step on; the first begins at 0."""

    from_step: int
    chains: tuple[Chain, ...]
    shim_turned: bool
    """Whether a closing shim was felt between two fingers."""
    angle_mm: float | None = None
    """The gap by the angle of the screw: turned until there was none, or backed off from none."""
    play: str | None = None
    """How a closing shim was last felt to turn between two fingers."""

    @property
    def felt(self) -> list[Felt]:
        return [felt for chain in self.chains for felt in chain.felt]


class Own(NamedTuple):
    """Something that was done at one valve, and how often the crank had been turned by then."""

    stretch: Stretch
    turns: int


class History(NamedTuple):
    """A run by what was done at each valve, in one reading of it."""

    setup: Setup
    own: dict[int, list[Own]]
    turns: int
    """How often the crank was turned in all."""


def pushed_on(run: Sequence[Stretch]) -> frozenset[int]:
    """The steps that tried the near side of a bridge and were followed at once by the same leaf
    under both sides. The two are one push, and only its second half measures the gap."""
    return frozenset(
        near.before.step
        for near, far in pairwise(run)
        if isinstance(near.action, a.Try)
        and isinstance(far.action, a.Try)
        and near.action.how == "one-side"
        and near.action._replace(how="straight") == far.action
    )


def history(setup: Setup, run: Sequence[Stretch]) -> History:
    own: dict[int, list[Own]] = {valve: [] for valve in setup.engine.valve}
    turns, passed_by = 0, pushed_on(run)
    for stretch in run:
        if stretch.before.step in passed_by:
            continue
        valve = getattr(stretch.action, "valve", None)
        if isinstance(stretch.action, a.Turn):
            turns += 1
        elif valve is not None:
            own[valve].append(Own(stretch, turns))
    return History(setup, own, turns)


def stints(of: History, valve: int, gap: a.GapKind = "opening") -> list[Stint]:
    """At least one; the first is the gap as it was found."""
    found: list[Stint] = []
    from_step, since, tries, play = 0, 0, list[Own](), None
    angle_mm: float | None = None
    for done in of.own[valve]:
        action = done.stretch.action
        if isinstance(action, CHANGES):
            turned_mm = _by_angle_mm(of.setup, done.stretch) if gap == "opening" else None
            ended_mm = turned_mm if isinstance(action, a.Zero) else angle_mm
            found.append(
                _stint(of.setup, from_step, since, tries, play)._replace(angle_mm=ended_mm)
            )
            angle_mm = _after_change_mm(action, turned_mm, angle_mm)
            from_step, since = done.stretch.before.step + 1, done.turns
            tries, play = [], None
        elif isinstance(action, a.Wiggle) and action.gap == gap == "closing":
            play = str(done.stretch.seen.facts["play"])
        elif isinstance(action, a.Try) and action.gap == gap:
            tries.append(done)
    last = _stint(of.setup, from_step, since, tries, play)
    return [*found, last._replace(angle_mm=angle_mm)]


def _by_angle_mm(setup: Setup, stretch: Stretch) -> float | None:
    """What an angle of the screw says, in mm of gap: turned in to no gap, or by how much it was
    turned; None of other changes, and where the valve was not on its heel."""
    action = stretch.action
    if not isinstance(action, a.Zero | a.Screw):
        return None
    screw = setup.engine.adjuster(action.valve).screw
    if screw is None or margin_now_deg(setup, stretch.before, action.valve) < 0:
        return None
    deg = stretch.seen.facts["turned_deg"] if isinstance(action, a.Zero) else action.by_deg
    return float(str(deg)) / TURN_DEG * screw.gap_per_turn_mm


def _after_change_mm(
    action: a.Action, turned_mm: float | None, before_mm: float | None
) -> float | None:
    """The gap that is known by the screw's angle after a change; None where none is."""
    if isinstance(action, a.Zero):
        return None if turned_mm is None else 0.0
    if isinstance(action, a.Screw) and before_mm is not None and turned_mm is not None:
        return before_mm - turned_mm
    return None


def _stint(setup: Setup, from_step: int, since: int, tries: list[Own], play: str | None) -> Stint:
    """since: how often the crank had been turned when the stint began."""
    chains = tuple(
        Chain(turns, turns > since, tuple(f for one in chain for f in _felt(setup, one.stretch)))
        for turns, chain in groupby(tries, key=lambda one: one.turns)
    )
    return Stint(from_step, chains, play is not None, play=play)


def felt_here(of: History, valve: int, gap: a.GapKind = "opening") -> tuple[Felt, ...]:
    """The leaves of this gap since its valve was last changed and the crank last turned."""
    chains = stints(of, valve, gap)[-1].chains
    return chains[-1].felt if chains and chains[-1].turns == of.turns else ()


def _felt(setup: Setup, stretch: Stretch) -> Iterator[Felt]:
    """One leaf; of a step leaf its tip, and its body where that came to the gap."""
    action: Any = stretch.action
    margin = margin_now_deg(setup, stretch.before, action.valve)
    facts = stretch.seen.facts
    thick = [(sum(action.leaves_um), facts["feel"])]
    if "body_feel" in facts:
        thick.append((action.body_um, facts["body_feel"]))
    pull = float(str(facts.get("pull", 0.0)))
    for leaf_um, feel in thick:
        leaf = LeafTry(Decimal(leaf_um) / UM_PER_MM, Feel(str(feel)))
        yield Felt(stretch.before.step + 1, leaf, margin, pull, len(action.leaves_um))


def supports(setup: Setup, valve: int, stint: Stint, figure_mm: Decimal) -> bool:
    """Whether the leaves of any one chain say that the gap may be this: it is no smaller than what
    went in and no larger than what did not. A leaf that drags tells both ends. Where none refused,
    the thickest that went is a figure that was felt, and nothing beyond it is."""
    if stint.shim_turned and figure_mm <= TURNED_SHIM_MM:
        return True
    if stint.angle_mm is not None and abs(Decimal(str(stint.angle_mm)) - figure_mm) <= ANGLE_MM:
        return True
    smallest_mm = Decimal(min(setup.leaves_at(valve))) / UM_PER_MM
    for chain in stint.chains:
        low, high = _between(chain.felt, smallest_mm)
        if low is None:
            continue
        if high is None:
            high = low
        low, high = min(low, high), max(low, high)
        if low - FIGURE_MM <= figure_mm <= high + FIGURE_MM:
            return True
    return False


def bounds_gap(setup: Setup, valve: int, stint: Stint, spec: Clearance) -> bool:
    """Whether a gap was measured: on the heel, and well enough to tell in spec from out of spec.

    That is a leaf that drags, which tells both ends; a leaf that goes and one that does not, which
    lie on one side of each limit or between which the box has no other; or the angle of a screw
    turned until there is no gap. One leaf that goes freely proves nothing (common practice).
    """
    if stint.angle_mm is not None:
        return True
    leaves = setup.leaves_at(valve)
    for chain in stint.chains:
        if any(one.margin_deg < 0 for one in chain.felt):
            continue
        if any(one.leaf.feel is Feel.DRAG for one in chain.felt):
            return True
        low, high = _between(chain.felt, Decimal(min(leaves)) / UM_PER_MM)
        if low is not None and low > spec.high_mm:
            return True
        if low is None or high is None:
            continue
        decided = (low >= spec.low_mm and high <= spec.high_mm) or high < spec.low_mm
        if decided or not _lies_between(leaves, low, high):
            return True
    return False


def _lies_between(leaves_um: tuple[int, ...], low: Decimal, high: Decimal) -> bool:
    """Whether the box has one more leaf that would tell."""
    return any(low < Decimal(leaf) / UM_PER_MM < high for leaf in leaves_um)


def _between(chain: Sequence[Felt], smallest_mm: Decimal) -> tuple[Decimal | None, Decimal | None]:
    lows: list[Decimal] = []
    highs: list[Decimal] = []
    for _, (leaf_mm, feel), *_ in chain:
        if feel.goes:
            lows.append(leaf_mm)
        else:
            highs.append(leaf_mm)
        if feel is Feel.DRAG:
            highs.append(leaf_mm + DRAG_BAND_MM)
        elif feel is Feel.TIGHT:
            lows.append(leaf_mm - FORCED_BAND_MM)
        elif feel is Feel.NO and leaf_mm <= smallest_mm:
            lows.append(Decimal(0))
    return max(lows, default=None), min(highs, default=None)


SHIM_COLUMNS = frozenset({"fitted", "chosen"})


def reads_as_figure(note: a.Write) -> bool:
    """Whether what was written is a figure of its column: a gap, a shim's size or a torque."""
    if note.column == "leave":
        return True
    if note.column == "torque":
        return parse_torque(note.text) is not None or _is_number(note.text)
    return bool(lengths_mm(note.text.strip()))


def _is_number(text: str) -> bool:
    try:
        return parse_figure(text) > 0
    except LengthError:
        return False


class NotedFigure(NamedTuple):
    """A figure on the notepad. It is read in millimetres, and in thou where it says so or could not
    be a gap otherwise; lengths_mm are what it may mean, none where it is no figure."""

    step: int
    valve: int
    column: str
    text: str
    lengths_mm: tuple[Decimal, ...]


_JUDGED = frozenset(GAP_OF_COLUMN) | SHIM_COLUMNS


def figures_written(run: Iterable[Stretch]) -> list[NotedFigure]:
    """Every figure that still stands at the end, each as it was last written."""
    last: dict[tuple[int, str], NotedFigure] = {}
    for stretch in run:
        action = stretch.action
        if isinstance(action, a.Write) and action.column in _JUDGED:
            key = (action.valve, action.column)
            last.pop(key, None)
            if text := action.text.strip():
                step = stretch.before.step + 1
                last[key] = NotedFigure(step, *key, text, lengths_mm(text))
    return list(last.values())


def lengths_mm(text: str) -> tuple[Decimal, ...]:
    """What a written figure may mean, in mm; empty where it is no length."""
    try:
        in_mm = parse_mm(text, Unit.MM)
        # A plain 10 may be 10 thou; a plain 0.25 is never a quarter of one.
        return (in_mm,) if in_mm < 1 else tuple(dict.fromkeys((in_mm, parse_mm(text, Unit.THOU))))
    except LengthError:
        return ()
