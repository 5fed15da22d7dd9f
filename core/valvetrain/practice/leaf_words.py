"""Leaves and gaps as they are marked and written: in thou where the leaf, or the spec, is."""

from decimal import ROUND_HALF_EVEN, Decimal

from valvetrain.constants import UM_PER_MM
from valvetrain.engine import Clearance
from valvetrain.practice.actions import GapKind
from valvetrain.practice.boxes import THOU_BOXES, metric_leaves
from valvetrain.practice.constants import UM_PER_THOU
from valvetrain.practice.setup import Setup
from valvetrain.spec_words import gap_words, side_of_spec
from valvetrain.units import Unit


def leaf_unit(box: str, leaf_um: int) -> Unit:
    """What a leaf of this box is marked in: a box in thou in thou; in a mixed box a leaf is metric
    where the metric set has it."""
    if box in THOU_BOXES:
        return Unit.THOU
    if box == "mixed" and leaf_um not in metric_leaves() and leaf_um % UM_PER_MM:
        return Unit.THOU
    return Unit.MM


def box_unit(box: str) -> Unit:
    """What the leaves of a box are marked in; a mixed box counts as metric."""
    return Unit.THOU if box in THOU_BOXES else Unit.MM


def odd_labels(box: str, leaves_um: tuple[int, ...]) -> dict[str, str]:
    """The marks of leaves in another unit than the box's, by their thickness in µm."""
    return {
        str(leaf): f"{leaf_label(box, leaf)} {leaf_unit(box, leaf)}"
        for leaf in leaves_um
        if leaf_unit(box, leaf) is not box_unit(box)
    }


def leaf_label(box: str, leaf_um: int) -> str:
    """As it is marked, without its unit: `0.25`, `4`, or `10` in thou."""
    if leaf_unit(box, leaf_um) is Unit.THOU:
        return f"{round(leaf_um / UM_PER_THOU)}"
    plain = f"{Decimal(leaf_um) / UM_PER_MM:.3f}"
    return plain.rstrip("0").rstrip(".")


def stack_words(setup: Setup, leaves_um: tuple[int, ...]) -> str:
    """The leaves of a stack: `0.25 mm`, `0.50 + 0.08 mm`, `10 thou`."""
    units = {leaf_unit(setup.box, leaf) for leaf in leaves_um}
    if len(units) == 1:
        labels = " + ".join(leaf_label(setup.box, leaf) for leaf in leaves_um)
        return f"{labels} {units.pop()}"
    return " + ".join(
        f"{leaf_label(setup.box, leaf)} {leaf_unit(setup.box, leaf)}" for leaf in leaves_um
    )


def thickness_words(setup: Setup, um: int) -> str:
    """A leaf of the box as it is marked; the sum of a stack in the unit of its box."""
    if um in setup.leaves_um:
        return stack_words(setup, (um,))
    unit = Unit.THOU if setup.box in THOU_BOXES else Unit.MM
    figure = Decimal(um) / UM_PER_MM
    plain = f"{figure:.3f}".rstrip("0").rstrip(".")
    return f"{plain} mm" if unit is Unit.MM else f"{round(um / UM_PER_THOU)} thou"


def gap_now(setup: Setup, valve: int, gap_mm: float, gap: GapKind = "opening") -> str:
    """A true gap in words beside its spec: `0.31 mm`, `5.6 thou`; with as many digits as it takes
    to show on which side of a limit it lies. Below zero the valve is held off its seat."""
    role = setup.engine.valve[valve].role
    spec = setup.engine.closing[role] if gap == "closing" else setup.engine.clearance[role]
    return gap_words(spec, gap_mm)


TENTH, HUNDREDTH, THOUSANDTH = Decimal("0.1"), Decimal("0.01"), Decimal("0.001")


def written_gap(spec: Clearance, gap_mm: float) -> str:
    """A measured gap as it is written on the notepad: to a hundredth of a millimetre, or to a tenth
    of a thou with its unit where the spec is in thou; finer where rounding would carry it over a
    limit of its spec."""
    gap = Decimal(str(max(0.0, gap_mm)))
    if spec.unit is Unit.MM:
        steps, suffix = (HUNDREDTH, THOUSANDTH), ""
    else:
        steps, suffix = (TENTH, HUNDREDTH), " thou"
        gap = gap * UM_PER_MM / Decimal(str(UM_PER_THOU))
    texts = [(gap / step).quantize(1, ROUND_HALF_EVEN) * step for step in steps]
    chosen = next(
        (one for one in texts if side_of_spec(spec, one) == side_of_spec(spec, gap)), texts[-1]
    )
    plain = f"{chosen:f}" if spec.unit is Unit.MM else f"{chosen.normalize():f}"
    return f"{plain}{suffix}"
