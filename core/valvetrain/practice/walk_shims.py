"""The shown job at a shim: which one is fitted, and the cams that lie over it."""

from valvetrain.angles import CYCLE_DEG
from valvetrain.constants import UM_PER_MM
from valvetrain.engine import Valve
from valvetrain.practice import actions as a
from valvetrain.practice.adjusting import size_words
from valvetrain.practice.constants import NO_PLAY_MM
from valvetrain.practice.evidence import lengths_mm, stints
from valvetrain.practice.left_loose import LEAVE_COLUMN, NO_BETTER, no_better
from valvetrain.practice.proved import proved_by, spec_of
from valvetrain.practice.walk_step import Step, Told, written_mm


def fit(told: Told, valve: Valve, gap: a.GapKind, read_mm: float) -> Step:
    number = valve.number
    fitted_mm = _true_size_mm(told, number, gap, read_mm)
    gap_mm, middle = (
        _gap_before(told, valve, gap),
        float(spec_of(told.setup, number, gap).middle_mm),
    )
    size_um = best_shim_um(told, valve, gap, fitted_mm, gap_mm)
    way = "the same" if size_um == round(fitted_mm * 1000) else (
        "thicker" if size_um / 1000 > fitted_mm else "thinner"
    )  # fmt: skip
    size = size_words(size_um)
    return Step(
        f"Fit a {shim_called(gap)} of {size} mm at valve {number}{_face(told, number, gap)}.",
        f"{size_words(round(fitted_mm * 1000))} fitted + {gap_mm:.3f} measured − {middle:.3f} "
        f"wanted = {fitted_mm + gap_mm - middle:.3f} mm; the nearest made is {size}, {way}.",
        a.FitShim(number, size_um, gap=gap),
        number,
        gap,
    )


def _face(told: Told, number: int, gap: a.GapKind) -> str:
    """Which way an over-bucket shim lies: the cam would rub its print off."""
    shim = told.setup.engine.adjuster(number).shim
    over = gap == "opening" and shim is not None and shim.place == "over-bucket"
    return ", its printed face down" if over else ""


def best_shim_um(told: Told, valve: Valve, gap: a.GapKind, fitted_mm: float, gap_mm: float) -> int:
    """The shim at hand that brings the gap nearest the middle of its spec, the fitted one among
    them. None that leaves it below its minimum, as long as another does not: tight burns a valve,
    loose ticks."""
    box = told.last.closing_box_um if gap == "closing" else told.last.box_um
    own = _sizes_um(told, valve.number, gap)
    at_hand = [size for size in box if size in own] + [round(fitted_mm * 1000)]
    spec = spec_of(told.setup, valve.number, gap)
    wanted_um, thickest_um = (
        (fitted_mm + gap_mm - float(mm)) * 1000 for mm in (spec.middle_mm, spec.low_mm)
    )
    return min(at_hand, key=lambda size: (size > thickest_um, abs(size - wanted_um)))


def leave(told: Told, valve: Valve) -> Step | None:
    """The reason for a valve that stays loose, because the next thicker shim would leave it below
    its minimum; None where it is written, or is not so."""
    number = valve.number
    left_um, shim = fitted_um(told, number, "opening"), told.setup.engine.adjuster(number).shim
    if left_um is None or shim is None or told.note(number, LEAVE_COLUMN):
        return None
    written = min(lengths_mm(told.note(number, "after")), default=None)
    if written is None or not no_better(told.setup, number, written, left_um):
        return None
    return Step(
        f"Note for valve {number} that it is left loose: no shim lands nearer.",
        "The next thicker shim would leave it tighter than its minimum. Tight burns a valve, loose "
        "ticks: it stays, and the record says why.",
        a.Write(number, LEAVE_COLUMN, NO_BETTER),  # type: ignore[arg-type]
        number,
    )


def _sizes_um(told: Told, number: int, gap: a.GapKind) -> frozenset[int]:
    """The sizes that are made for this gap: other roles' shims are other parts."""
    engine = told.setup.engine
    adjuster = (
        engine.closing_adjuster_of(engine.valve[number].role)
        if gap == "closing"
        else engine.adjuster(number)
    )
    return frozenset(
        int(size * UM_PER_MM) for size in (adjuster.shim.sizes.all() if adjuster.shim else ())
    )


def _true_size_mm(told: Told, number: int, gap: a.GapKind, read_mm: float) -> float:
    """The size of the shim that came out: known where it was fitted in this run, else the nearest
    that is made to what the micrometer showed."""
    fitted = fitted_um(told, number, gap)
    if fitted is not None:
        return fitted / 1000
    made = _sizes_um(told, number, gap)
    return (
        min(made, key=lambda size: abs(size / 1000 - read_mm), default=round(read_mm * 1000)) / 1000
    )


def _gap_before(told: Told, valve: Valve, gap: a.GapKind) -> float:
    """As it was last measured before the shim came out, else as it is written."""
    every = stints(told.history, valve.number, gap)
    for stint in reversed(every):
        found = proved_by(one for one in stint.felt if one.margin_deg >= 0 or gap == "closing")
        if found.is_nothing and stint.play == "none":
            return -NO_PLAY_MM
        if found.is_nothing and stint.play is not None:
            return min(told.setup.leaves_um) / 2000
        if found.is_bounded:
            return found.estimate_mm
    return written_mm(told, valve, gap)


def fitted_um(told: Told, number: int, gap: a.GapKind) -> int | None:
    """The shim that was last fitted here in this run."""
    fitted = [
        one.action.size_um
        for one, _ in told.history.own[number]
        if isinstance(one.action, a.FitShim) and one.action.gap == gap
    ]
    return fitted[-1] if fitted else None


def shim_called(gap: a.GapKind) -> str:
    return "closing shim" if gap == "closing" else "shim"


def needs_cams_out(told: Told, valve: Valve, gap: a.GapKind) -> bool:
    engine = told.setup.engine
    adjuster = (
        engine.closing_adjuster_of(valve.role)
        if gap == "closing"
        else engine.adjuster(valve.number)
    )
    return adjuster.shim is not None and adjuster.shim.cams_out


def cams_out(told: Told) -> Step:
    pins = [mark for mark in told.setup.marks if mark.means == "pin"]
    if not told.last.crank_locked:
        if pins:
            at = min(
                ((deg - told.last.crank_deg) % CYCLE_DEG, deg)
                for mark in pins
                for deg in mark.crank_degs()
            )
            if at[0] > 1:
                return Step(
                    f"Turn the crank on by {at[0]:.0f}° to the hole of the timing pin.",
                    "The pin goes in only at its place, and proves that the crank is there.",
                    a.Turn(at[0]),
                )
        return Step(
            "Lock the crank with its holding tool, the timing pin in."
            if pins
            else "Lock the crank with its holding tool.",
            "Lifted valves turn the camshaft as its caps come off, and the drive turns the crank "
            "with it. A timing pin only shows the place: it must not hold torque.",
            a.LockCrank(locked=True),
        )
    return Step(
        "Note the cam marks, take the tensioner off, loosen the caps evenly in stages, and take "
        "the cams out.",
        "The shims of this engine lie under the cams.",
        a.Cams(out=True),
    )


def cams_in() -> Step:
    return Step(
        "Put the cams in, their marks to their lines; caps in order and in stages to their torque, "
        "then the tensioner.",
        "With the marks wrong, valves meet pistons.",
        a.Cams(out=False),
    )


def free_crank(told: Told) -> Step:
    pinned = any(mark.means == "pin" for mark in told.setup.marks)
    return Step(
        "Take the timing pin out, and free the crank." if pinned else "Free the crank.",
        "Turned against its pin, the crank shears it." if pinned else "Locked, it does not turn.",
        a.LockCrank(locked=False),
    )
