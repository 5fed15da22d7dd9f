"""What the leaves of a run prove of a valve, and whether a written figure rests on any of them.

A gap is one thing as long as its valve is not changed: that is a *stint*. Within it leaves belong
together only where the crank stood still between them, a *chain*: turned on, the next leaf begins
anew, and off the heel a leaf proves nothing of the clearance.
"""

from collections.abc import Iterable, Sequence
from decimal import Decimal
from typing import NamedTuple

from valvetrain.constants import DRAG_BAND_MM, FORCED_BAND_MM, UM_PER_MM
from valvetrain.gauges import Feel, LeafTry
from valvetrain.practice import actions as a
from valvetrain.practice.constants import FIGURE_MM, TURNED_SHIM_MM
from valvetrain.practice.measuring import margin_now_deg
from valvetrain.practice.run import Stretch
from valvetrain.practice.running import CHANGES
from valvetrain.practice.setup import Setup
from valvetrain.units import LengthError, Unit, parse_mm

GAP_OF_COLUMN: dict[str, a.GapKind] = {
    "first": "opening",
    "second": "opening",
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


class Chain(NamedTuple):
    """Leaves at one place of the crank; turned: whether it was turned since the valve was last
    changed."""

    turned: bool
    felt: tuple[Felt, ...]


class Stint(NamedTuple):
    """A valve's gap between two changes of it, from this step on; the first begins at 0."""

    from_step: int
    chains: tuple[Chain, ...]
    shim_turned: bool
    """Whether a closing shim was felt between two fingers."""

    @property
    def felt(self) -> list[Felt]:
        return [felt for chain in self.chains for felt in chain.felt]


class _Open:
    """A stint that is still going on."""

    def __init__(self, from_step: int) -> None:
        self.from_step = from_step
        self.turned = False
        self.shim_turned = False
        self.chains: list[Chain] = []
        self.here: list[Felt] = []

    def turn(self) -> None:
        self._close_chain()
        self.turned = True

    def closed(self) -> Stint:
        self._close_chain()
        return Stint(self.from_step, tuple(self.chains), self.shim_turned)

    def _close_chain(self) -> None:
        if self.here:
            self.chains.append(Chain(self.turned, tuple(self.here)))
            self.here = []


def stints(
    setup: Setup, run: Iterable[Stretch], valve: int, gap: a.GapKind = "opening"
) -> list[Stint]:
    """At least one; the first is the gap as it was found."""
    found, now = [], _Open(0)
    for stretch in run:
        action, step = stretch.action, stretch.before.step + 1
        if isinstance(action, a.Turn):
            now.turn()
        elif getattr(action, "valve", None) != valve:
            continue
        elif isinstance(action, CHANGES):
            found.append(now.closed())
            now = _Open(step)
        elif isinstance(action, a.Wiggle) and action.gap == gap == "closing":
            now.shim_turned = True
        elif isinstance(action, a.Try) and action.gap == gap:
            now.here.append(_felt(setup, stretch, action, step))
    return [*found, now.closed()]


def felt_here(
    setup: Setup, run: Iterable[Stretch], valve: int, gap: a.GapKind = "opening"
) -> tuple[Felt, ...]:
    """The leaves of this gap since its valve was last changed and the crank last turned."""
    chain: list[Felt] = []
    for stretch in run:
        action = stretch.action
        own = getattr(action, "valve", None) == valve
        if isinstance(action, a.Turn) or (own and isinstance(action, CHANGES)):
            chain = []
        elif own and isinstance(action, a.Try) and action.gap == gap:
            chain.append(_felt(setup, stretch, action, stretch.before.step + 1))
    return tuple(chain)


def _felt(setup: Setup, stretch: Stretch, action: a.Try, step: int) -> Felt:
    leaf_mm = Decimal(sum(action.leaves_um)) / UM_PER_MM
    margin = margin_now_deg(setup, stretch.before, action.valve)
    return Felt(step, LeafTry(leaf_mm, Feel(str(stretch.seen.facts["feel"]))), margin)


def supports(setup: Setup, stint: Stint, figure_mm: Decimal) -> bool:
    """Whether the leaves of any one chain say that the gap may be this: it is no smaller than what
    went in and no larger than what did not. A leaf that drags tells both ends. Where none refused,
    the thickest that went is a figure that was felt, and nothing beyond it is."""
    if stint.shim_turned and figure_mm <= TURNED_SHIM_MM:
        return True
    smallest_mm = Decimal(min(setup.leaves_um)) / UM_PER_MM
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


def _between(chain: Sequence[Felt], smallest_mm: Decimal) -> tuple[Decimal | None, Decimal | None]:
    lows: list[Decimal] = []
    highs: list[Decimal] = []
    for _, (leaf_mm, feel), _ in chain:
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


class NotedFigure(NamedTuple):
    """A figure on the notepad. It is read in millimetres, and in thou where it says so or could not
    be a gap otherwise; lengths_mm are what it may mean, none where it is no figure."""

    step: int
    valve: int
    column: str
    text: str
    lengths_mm: tuple[Decimal, ...]


def figures_written(run: Iterable[Stretch]) -> list[NotedFigure]:
    """Every figure that still stands at the end, each as it was last written."""
    last: dict[tuple[int, str], NotedFigure] = {}
    for stretch in run:
        action = stretch.action
        if isinstance(action, a.Write) and action.column in GAP_OF_COLUMN:
            key = (action.valve, action.column)
            last.pop(key, None)
            if text := action.text.strip():
                step = stretch.before.step + 1
                last[key] = NotedFigure(step, *key, text, _lengths_mm(text))
    return list(last.values())


def _lengths_mm(text: str) -> tuple[Decimal, ...]:
    try:
        in_mm = parse_mm(text, Unit.MM)
        # A plain 10 may be 10 thou; a plain 0.25 is never a quarter of one.
        return (in_mm,) if in_mm < 1 else tuple(dict.fromkeys((in_mm, parse_mm(text, Unit.THOU))))
    except LengthError:
        return ()
