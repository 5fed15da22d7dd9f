"""Answers about lengths: convert, gauge, stack, screw, shim and shim-swap."""

import argparse
import re
from decimal import Decimal
from typing import TYPE_CHECKING, Any

from valvetrain import units
from valvetrain.calculator import source
from valvetrain.calculator.source import CalculatorError
from valvetrain.units import Unit

if TYPE_CHECKING:
    from valvetrain.engine import ShopTolerance
    from valvetrain.gauges import LeafTry, Reading, Spec

_SPEC_HELP = "the smallest and the largest allowed gap"
_SPEC_WANTED = "MIN:MAX like 0.22:0.28"
_BETWEEN = re.compile(r"between (\S+) and (\S+) mm")
_MM_SAID = re.compile(r"(?P<mm>\d+(?:\.\d+)?) mm")


def answer_convert(options: argparse.Namespace) -> dict[str, Any]:
    parts = options.length.split("=")
    if len(parts) > 2:
        raise CalculatorError("give one length, or a pair like “5 thou = 0.12 mm”")
    if (torques := _torques(parts)) is not None:
        return torques
    lengths = [units.parse_length(part) for part in parts]
    answer: dict[str, Any] = {"mm": lengths[0].mm, "thou": lengths[0].thou}
    if len(lengths) == 2:
        one, other = lengths
        answer["agrees"] = units.agree(one, other)
        answer["difference_mm"] = one.mm - other.mm
        answer["says"] = _pair_words(one, other, agrees=answer["agrees"])
    return answer


def _pair_words(one: units.Length, other: units.Length, *, agrees: bool) -> str:
    """`0.2 mm is 7.9 thou, not 9: they do not agree.`"""
    if one.unit == "mm":
        first, second, there = f"{one.figure} mm", f"{one.thou:.1f} thou", other.thou
    else:
        first, second, there = f"{one.figure} {one.unit}", f"{one.mm:.3f} mm", other.mm
    if agrees:
        return f"{first} is {second}: they agree."
    return f"{first} is {second}, not {there.normalize():f}: they do not agree."


def _torques(parts: list[str]) -> dict[str, Any] | None:
    """The same for torques; None where these are none."""
    from valvetrain.manual import TorqueUnit, parse_torque, torques_agree

    found = [parse_torque(part) for part in parts]
    given = [torque for torque in found if torque is not None]
    if not given:
        return None
    if len(given) < len(parts):
        raise CalculatorError("one of the two is a torque and the other a length; give two alike")
    answer: dict[str, Any] = {unit.value: given[0].in_unit(unit) for unit in TorqueUnit}
    if len(given) == 2:
        answer["agrees"] = torques_agree(*given)
        answer["difference_nm"] = given[0].nm - given[1].nm
    return answer


def convert_arguments(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("length", metavar="LENGTH", help='like "5 thou" or "5 thou = 0.12 mm"')


def answer_gauge(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.gauges import (
        TOLERANCES,
        fine_leaves,
        leaves_uncertainty_mm,
        read_gap,
        thou_leaves,
    )

    unit = Unit(options.unit)
    tries = [_try(text, unit) for text in options.tries]
    own = _length(options.u, unit, "--u") if options.u is not None else None
    if own is not None and own < 0:
        raise CalculatorError(f"the uncertainty is {own:f} mm; give zero or more")
    tolerance = TOLERANCES[options.tolerance]

    def uncertainty(leaf_mm: Decimal) -> Decimal:
        if own is not None:
            return own
        return Decimal(str(round(leaves_uncertainty_mm([leaf_mm], tolerance), 5)))

    usual = thou_leaves() if unit is Unit.THOU else fine_leaves()
    box = usual if options.leaves is None else _leaves(options.leaves, unit)
    spec, rests_on = _gauge_spec(options, unit)
    reading = read_gap(tries, spec, box, uncertainty)
    lengths_mm = {
        "low": reading.low_mm,
        "high": reading.high_mm,
        "estimate": reading.estimate_mm,
        "next_leaf": reading.next_leaf_mm,
        "u": max((uncertainty(leaf) for leaf in _bounding(reading)), default=own or Decimal(0)),
    }
    answer: dict[str, Any] = {f"{name}_mm": length for name, length in lengths_mm.items()}
    if unit is Unit.THOU:
        answer |= {f"{name}_thou": _in_thou(length) for name, length in lengths_mm.items()}
    answer["verdict"] = reading.verdict
    answer["says"] = _in_unit(reading.says, unit)
    if rests_on:
        answer["rests_on"] = rests_on
    if own is None and options.tolerance != "none":
        answer["u_is"] = "of the leaves alone; how a hand's feel scatters is no part of it"
    return answer


def _bounding(reading: "Reading") -> list[Decimal]:
    """The leaves that give the bounds: their uncertainty counts, and no other's."""
    return [leaf for leaf in (reading.low_mm, reading.high_mm) if leaf]


def _gauge_spec(options: argparse.Namespace, unit: Unit) -> tuple["Spec", str]:
    """The spec, and what a verdict on it rests on: nothing else where two limits are given."""
    from valvetrain.engine import Clearance, ShopTolerance, Spread
    from valvetrain.gauges import Spec

    if ":" in options.spec:
        return spec_of(options.spec, unit), ""
    try:
        figure = units.parse_figure(options.spec)
    except units.LengthError as refusal:
        raise CalculatorError(f"--spec: {refusal}; or give {_SPEC_WANTED}") from None
    shop = ShopTolerance() if options.shop is None else _shop(options.shop)
    single = Clearance(unit, Spread(figure, figure, figure, stated=False), shop=shop)
    return Spec(single.low_mm, single.high_mm, single.nominal_mm), single.shop_words


def _shop(typed: str) -> "ShopTolerance":
    from valvetrain.engine import ShopTolerance

    try:
        own = units.parse_figure(typed)
    except units.LengthError as refusal:
        raise CalculatorError(f"--shop: {refusal}") from None
    if own < 0:
        raise CalculatorError(f"--shop is {typed}; give a tolerance of zero or more")
    return ShopTolerance(own, own)


def _in_thou(length_mm: Decimal | None) -> Decimal | None:
    return None if length_mm is None else length_mm / units.MM_PER_THOU


def _in_unit(says: str, unit: Unit) -> str:
    """What was said in millimetres, in thou first where the question was asked in thou."""
    if unit is Unit.MM:
        return says
    says = _BETWEEN.sub(r"between \1 mm and \2 mm", says)
    return _MM_SAID.sub(lambda found: f"{_thou_text(found['mm'])} thou ({found[0]})", says)


def _thou_text(mm: str) -> str:
    return f"{(Decimal(mm) / units.MM_PER_THOU).quantize(Decimal('0.01')).normalize():f}"


def gauge_arguments(sub: argparse.ArgumentParser) -> None:
    from valvetrain.gauges import TOLERANCES

    sub.add_argument(
        "--spec", required=True, metavar="MIN:MAX or NOMINAL", help=f"{_SPEC_HELP}, or the one"
    )
    sub.add_argument("--shop", metavar="T", help="shop tolerance for a spec of one figure")
    sub.add_argument(
        "--try",
        dest="tries",
        action="extend",
        nargs="+",
        default=[],
        metavar="LEAF=FEEL",
        help="a leaf and its feel: free, drag, tight or no",
    )
    sub.add_argument("--leaves", metavar="a,b,c", help="the leaves in the box")
    sub.add_argument("--u", metavar="U", help="expanded uncertainty of one try")
    sub.add_argument(
        "--tolerance", choices=sorted(TOLERANCES), default="none", help="of the leaves, for U"
    )
    _unit_argument(sub)


def answer_stack(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.gauges import best_stack

    unit = Unit(options.unit)
    box = _leaves(options.leaves, unit)
    stack = best_stack(box, _length(options.target, unit, "--target"), options.most)
    shown = [leaf if unit is Unit.MM else leaf / units.MM_PER_THOU for leaf in stack.leaves_mm]
    return {"leaves": shown, "total_mm": stack.total_mm, "error_mm": stack.error_mm}


def stack_arguments(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("--leaves", required=True, metavar="a,b,c", help="the leaves in the box")
    sub.add_argument("--target", required=True, metavar="T", help="the thickness wanted")
    sub.add_argument("--most", type=_whole, metavar="N", help="leaves in a stack at most")
    _unit_argument(sub)


def answer_screw(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.adjusters import screw_turn

    turn = screw_turn(
        float(_length(options.pitch, Unit.MM, "--pitch")),
        float(_length(options.ratio, Unit.MM, "--ratio")),
        _length(options.from_gap, Unit.MM, "--from"),
        _length(options.to_gap, Unit.MM, "--to"),
    )
    return dict(turn._asdict())


def screw_arguments(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("--pitch", required=True, metavar="P", help="thread pitch in mm")
    sub.add_argument("--ratio", default="1", metavar="R", help="rocker ratio, push-rod side only")
    sub.add_argument("--from", dest="from_gap", required=True, metavar="C0")
    sub.add_argument("--to", dest="to_gap", required=True, metavar="C1")


def answer_shim(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.adjusters import Sizes, advise_shim

    parts = _parts(options.sizes, "--sizes", "FROM:TO:STEP like 2.00:3.50:0.05", 3)
    advice = advise_shim(
        _length(options.fitted, Unit.MM, "--fitted"),
        _length(options.measured, Unit.MM, "--measured"),
        spec_of(options.spec, Unit.MM),
        Sizes(*parts),
        options.prefer,
    )
    return {
        "wanted_mm": advice.wanted_mm,
        "choose_mm": advice.choose_mm,
        "clearance_mm": advice.clearance_mm,
        "choices": [dict(choice._asdict()) for choice in advice.choices],
        "verdict": advice.verdict,
        "warnings": list(advice.warnings),
    }


def shim_arguments(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("--fitted", required=True, metavar="F", help="the shim that is in")
    sub.add_argument("--measured", required=True, metavar="C", help="the gap with it")
    sub.add_argument("--spec", required=True, metavar="MIN:MAX", help=_SPEC_HELP)
    sub.add_argument("--sizes", required=True, metavar="FROM:TO:STEP")
    sub.add_argument("--prefer", choices=("middle", "loose", "tight"), default="middle")


def answer_shim_swap(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.shim_swap import read_swap, swap_shims

    seats, sizes, stock_mm = source.read_file(options.file, "a file of measured valves", read_swap)
    swap = swap_shims(seats, sizes, stock_mm)
    return {
        "moves": [dict(move._asdict()) for move in swap.moves],
        "buy": list(swap.buy_mm),
        "left_over": list(swap.left_over_mm),
        "warnings": list(swap.warnings),
    }


def shim_swap_arguments(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("file", metavar="FILE", help="measured valves, sizes and stock; - for input")


def _unit_argument(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("--unit", choices=("mm", "thou"), default="mm", help="of what is given")


def _try(text: str, unit: Unit) -> "LeafTry":
    from valvetrain.gauges import Feel, LeafTry

    leaf, sign, feel = text.partition("=")
    if not sign or feel not in tuple(Feel):
        raise CalculatorError(
            f"--try “{text[:40]}”: give LEAF=FEEL with free, drag, tight or no, like 0.25=drag"
        )
    return LeafTry(_length(leaf, unit, "--try"), Feel(feel))


def spec_of(text: str, unit: Unit) -> "Spec":
    """MIN:MAX in that unit. Raises CalculatorError."""
    from valvetrain.gauges import Spec

    low, high = _parts(text, "--spec", _SPEC_WANTED, 2, unit)
    return Spec(low, high)


def _leaves(text: str, unit: Unit) -> list[Decimal]:
    return [_length(part, unit, "--leaves") for part in text.split(",")]


def _parts(text: str, option: str, wanted: str, count: int, unit: Unit = Unit.MM) -> list[Decimal]:
    parts = text.split(":")
    if len(parts) != count:
        raise CalculatorError(f"{option} “{text[:40]}”: give {wanted}")
    return [_length(part, unit, option) for part in parts]


def _length(text: str, unit: Unit, option: str) -> Decimal:
    try:
        return units.to_mm(units.parse_figure(text), unit)
    except units.LengthError as refusal:
        raise CalculatorError(f"{option}: {refusal}") from None


def _whole(text: str) -> int:
    try:
        return int(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not a whole number") from None
