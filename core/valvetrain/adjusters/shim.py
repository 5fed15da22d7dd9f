"""Shims: which size to fit, by arithmetic, and the table of measured gap against fitted shim.

New shim = fitted shim + measured gap - wanted gap: where the gap is too small the new shim is
thinner. Lengths are Decimal millimetres.
"""

from decimal import Decimal
from typing import Any, ClassVar, Literal, NamedTuple, get_args

from valvetrain.adjusters.base import Adjuster, Place, Plate, Schema
from valvetrain.adjusters.constants import SHOWN_EACH_SIDE
from valvetrain.adjusters.errors import AdjusterError
from valvetrain.adjusters.sizes import Codes, Sizes
from valvetrain.document import Node
from valvetrain.gauges import Spec


class _Fields(NamedTuple):
    place: Place
    size_from_mm: Decimal
    size_to_mm: Decimal
    size_step_mm: Decimal
    cams_out: bool = False
    diameter_mm: float | None = None
    codes: Codes | None = None


class ShimAdjuster(_Fields, Adjuster):
    """cams_out: whether the cams have to come out to change one."""

    __slots__ = ()

    kind: ClassVar[str] = "shim"
    has_shims: ClassVar[bool] = True
    wider: ClassVar[str] = "a thinner shim"
    narrower: ClassVar[str] = "a thicker shim"
    required: ClassVar[tuple[str, ...]] = ("place", "sizes_mm")

    @property
    def sizes(self) -> Sizes:
        return Sizes(self.size_from_mm, self.size_to_mm, self.size_step_mm)

    @property
    def seat(self) -> str:
        return self.place

    @property
    def shim(self) -> "ShimAdjuster":
        return self

    def plate(self) -> Plate:
        return Plate(self.kind, cams_out=self.cams_out)

    def without_screw(self, valve: int) -> str:
        return f"Valve {valve} has no screw: it is set by its shim."

    def write(self) -> dict[str, Any]:
        document: dict[str, Any] = {
            "kind": self.kind,
            "place": self.place,
            "sizes_mm": {
                "from": float(self.size_from_mm),
                "to": float(self.size_to_mm),
                "step": float(self.size_step_mm),
            },
            "cams_out": self.cams_out,
        }
        if self.diameter_mm is not None:
            document["diameter_mm"] = self.diameter_mm
        if self.codes is not None:
            document["codes"] = self.codes.write()
        return document

    @staticmethod
    def read(node: Node) -> "ShimAdjuster":
        sizes, out, across = node["sizes_mm"], node["cams_out"], node["diameter_mm"]
        sizes.is_object("from, to and step in mm")
        first = sizes["from"].decimal("the thinnest shim in mm", high=50)
        last = sizes["to"].decimal("the thickest shim in mm", high=50)
        if first > last:
            sizes.fault(f"goes from {first} to {last}; give the thinnest first")
        return ShimAdjuster(
            place=node["place"].choice("under-bucket", "over-bucket", "under-follower"),
            size_from_mm=first,
            size_to_mm=last,
            size_step_mm=sizes["step"].decimal("the step in mm", high=5, above=True),
            cams_out=False if out.missing else out.yes_no(),
            diameter_mm=None
            if across.missing
            else across.number("the shim's diameter in mm", low=0, high=100, above=True),
            codes=None if node["codes"].missing else Codes.read(node["codes"]),
        )

    @staticmethod
    def schema() -> Schema:
        size = {"type": "number", "minimum": 0, "maximum": 50}
        step = {"type": "number", "exclusiveMinimum": 0, "maximum": 5}
        return {
            "place": {"enum": list(get_args(Place))},
            "sizes_mm": {
                "type": "object",
                "required": ["from", "to", "step"],
                "properties": {"from": size, "to": size, "step": step},
                "patternProperties": {"^x_": {}},
                "additionalProperties": False,
            },
            "cams_out": {"type": "boolean"},
            "diameter_mm": {"type": "number", "exclusiveMinimum": 0, "maximum": 100},
            "codes": Codes.schema(),
        }


class ShimChoice(NamedTuple):
    size_mm: Decimal
    clearance_mm: Decimal
    within: bool


class ShimAdvice(NamedTuple):
    """choose_mm and clearance_mm are None when no size reaches the spec."""

    wanted_mm: Decimal
    choose_mm: Decimal | None
    clearance_mm: Decimal | None
    choices: tuple[ShimChoice, ...]
    verdict: Literal["leave", "thinner", "thicker", "out-of-reach"]
    warnings: tuple[str, ...]


Prefer = Literal["middle", "loose", "tight"]


def advise_shim(
    fitted_mm: Decimal, measured_mm: Decimal, spec: Spec, sizes: Sizes, prefer: Prefer = "middle"
) -> ShimAdvice:
    """Which shim to fit. Raises AdjusterError.

    Of the sizes that bring the gap within the spec, prefer picks the one nearest its middle, the
    loosest, or the tightest. A gap that is within the spec is left alone. choices are the sizes
    that reach the spec and two on either side of them.
    """
    if fitted_mm <= 0:
        raise AdjusterError(f"the fitted shim is {fitted_mm:f} mm; give its thickness above zero")
    if measured_mm < 0:
        raise AdjusterError(f"the measured gap is {measured_mm:f} mm; a gap is zero or more")
    # A rocker that pulls its valve shut may stand with no gap at all.
    if not 0 <= spec.min_mm <= spec.max_mm or spec.max_mm == 0:
        raise AdjusterError(
            f"the spec is {spec.min_mm:f} to {spec.max_mm:f} mm; give two lengths, the smaller "
            "first and the larger above zero"
        )
    together_mm = fitted_mm + measured_mm
    choices = [_choice(together_mm, size, spec) for size in sizes.all()]
    wanted_mm = together_mm - spec.middle_mm
    warnings = _no_gap_warning(measured_mm) if spec.min_mm > 0 else ()
    shown = _around(choices, wanted_mm)
    if spec.min_mm <= measured_mm <= spec.max_mm:
        return ShimAdvice(wanted_mm, fitted_mm, measured_mm, shown, "leave", warnings)
    reach = [choice for choice in choices if choice.within]
    if not reach:
        warnings += _next_thinner_warning(choices, spec, fitted_mm)
        return ShimAdvice(wanted_mm, None, None, shown, "out-of-reach", warnings)
    best = min(reach, key=lambda choice: _rank(choice, spec, prefer))
    verdict: Literal["thinner", "thicker"] = "thinner" if best.size_mm < fitted_mm else "thicker"
    return ShimAdvice(wanted_mm, best.size_mm, best.clearance_mm, shown, verdict, warnings)


def _next_thinner_warning(
    choices: list[ShimChoice], spec: Spec, fitted_mm: Decimal
) -> tuple[str, ...]:
    """Where no size lands inside, the next thinner one is fitted: too tight is never left. Where
    that one is in already, the valve is left loose. Common practice."""
    loose = [choice for choice in choices if choice.clearance_mm > spec.max_mm]
    if not loose:
        return ("No size that is made is thin enough: a tight valve is never left as it is.",)
    next_one = max(loose, key=lambda choice: choice.size_mm)
    if next_one.size_mm == fitted_mm:
        return (
            "No size lands inside the spec, and the next thicker one would be below its minimum. "
            "Leave the valve as it is, on the loose side, and write down why.",
        )
    return (
        f"No size lands inside the spec. Never leave a valve below its minimum: the next thinner "
        f"shim, {next_one.size_mm:.3f} mm, lands at {next_one.clearance_mm:.3f} mm, on the loose "
        "side.",
    )


def gap_with_shim(gap_mm: Decimal, fitted_mm: Decimal, chosen_mm: Decimal) -> Decimal:
    """The gap that another shim leaves; a thicker one than there is room for leaves none."""
    return max(Decimal(0), fitted_mm + gap_mm - chosen_mm)


def _choice(together_mm: Decimal, size_mm: Decimal, spec: Spec) -> ShimChoice:
    clearance = together_mm - size_mm
    return ShimChoice(size_mm, clearance, spec.min_mm <= clearance <= spec.max_mm)


def _rank(choice: ShimChoice, spec: Spec, prefer: Prefer) -> tuple[Decimal, Decimal]:
    """Smallest is best; a tie about the middle goes to the looser (a tight valve burns)."""
    if prefer == "loose":
        return (-choice.clearance_mm, choice.size_mm)
    if prefer == "tight":
        return (choice.clearance_mm, choice.size_mm)
    return (abs(choice.clearance_mm - spec.middle_mm), choice.size_mm)


def _around(choices: list[ShimChoice], wanted_mm: Decimal) -> tuple[ShimChoice, ...]:
    """Those within the spec and two beyond on each side; the nearest few where none is within."""
    within = [index for index, choice in enumerate(choices) if choice.within]
    if not within:
        within = [min(range(len(choices)), key=lambda i: abs(choices[i].size_mm - wanted_mm))]
    first = max(0, within[0] - SHOWN_EACH_SIDE)
    return tuple(choices[first : within[-1] + SHOWN_EACH_SIDE + 1])


def _no_gap_warning(measured_mm: Decimal) -> tuple[str, ...]:
    if measured_mm > 0:
        return ()
    return (
        "With no gap at all the valve may be held open, and by how much cannot be measured: fit a "
        "shim that leaves a gap for certain, measure, and work it out again.",
    )


def shim_sum(fitted_mm: Decimal, measured_mm: Decimal, spec: Spec) -> str:
    """The arithmetic in the order in which a person does it."""
    middle_mm = spec.middle_mm
    return (
        f"{fitted_mm:.3f} fitted + {measured_mm:.3f} measured \u2212 {middle_mm:.3f} wanted "
        f"= {fitted_mm + measured_mm - middle_mm:.3f} mm"
    )
