"""Patterns to begin a new engine from: whole engine files with ordinary figures to overwrite.

The figures are common practice for such an engine, nobody's in particular. What the manual
in hand says replaces them.
"""

from typing import Any, NamedTuple

from valvetrain.constants import LETTERED_DEG

Document = dict[str, Any]

_ROLES = {"i": "intake", "e": "exhaust", "b": "brake"}


class Pattern(NamedTuple):
    id: str
    says: str
    document: Document


def patterns() -> tuple[Pattern, ...]:
    """In the order in which a person looks for them: by layout, then by cylinders."""
    return (*_singles_and_twins(), *_in_line(), *_in_banks())


def _singles_and_twins() -> tuple[Pattern, ...]:
    return (
        Pattern(
            "single-two",
            "Single, two valves",
            _engine([1], [[1]], ["ie"], "single", adjuster=_push_rod(1.2)),
        ),
        Pattern(
            "single-side",
            "Single, side valves",
            _engine(
                [1], [[1]], ["ie"], "single", train="side-valve", starts=["hand"], flywheel=True
            ),
        ),
        Pattern(
            "single-three",
            "Single, three valves, rockers",
            _engine([1], [[1]], ["iie"], "single", train="overhead-rocker"),
        ),
        Pattern(
            "single-four",
            "Single, four valves, shims",
            _engine([1], [[1]], ["iiee"], "single", adjuster=_shims("under-bucket", cams_out=True)),
        ),
        Pattern(
            "single-five",
            "Single, five valves, shims",
            _engine(
                [1], [[1]], ["iiiee"], "single", adjuster=_shims("under-bucket", cams_out=True)
            ),
        ),
        Pattern("twin-180", "Parallel twin, 180° crank", _twin([180, 540])),
        Pattern("twin-270", "Parallel twin, 270° crank", _twin([270, 450])),
        Pattern("twin-360", "Parallel twin, 360° crank", _twin([360, 360])),
    )


def _in_line() -> tuple[Pattern, ...]:
    return (
        Pattern(
            "three",
            "Three in line",
            _engine([1, 3, 2], [[1, 2, 3]], ["ie"], adjuster=_push_rod(1.4)),
        ),
        Pattern(
            "four-push-rod",
            "Four in line, push rods",
            _engine([1, 3, 4, 2], [[1, 2, 3, 4]], ["ei", "ie"], adjuster=_push_rod(1.45)),
        ),
        Pattern(
            "four-shims",
            "Four in line, four valves, shims",
            _engine([1, 3, 4, 2], [[1, 2, 3, 4]], ["iiee"], adjuster=_shims("over-bucket")),
        ),
        Pattern(
            "five",
            "Five in line",
            _engine([1, 2, 4, 5, 3], [[1, 2, 3, 4, 5]], ["ie"], adjuster=_shims("over-bucket")),
        ),
        Pattern(
            "six-bridges",
            "Six in line, bridges",
            _engine(
                [1, 5, 3, 6, 2, 4],
                [[1, 2, 3, 4, 5, 6]],
                ["ie"],
                adjuster=_push_rod(1.6),
                pairs=True,
                notes="One screw for each bridge, which opens two valves.",
            ),
        ),
        Pattern("six-brake", "Six in line, brake rockers", _braked_six()),
        Pattern("six-lettered", "Six in line, brake rockers, lettered marks", _lettered_six()),
    )


def _in_banks() -> tuple[Pattern, ...]:
    return (
        Pattern(
            "vee-twin",
            "Vee twin",
            _engine([1, 2], [[1], [2]], ["ie", "ei"], "vee", intervals=[315, 405]),
        ),
        Pattern("vee-twin-closing", "Vee twin, positive closing", _pulled_shut()),
        Pattern(
            "flat-twin",
            "Flat twin",
            _engine([1, 2], [[1], [2]], ["ei", "ie"], "flat", adjuster=_push_rod(1.3)),
        ),
        Pattern(
            "flat-four",
            "Flat four",
            _engine([1, 3, 2, 4], [[1, 3], [2, 4]], ["ei", "ie"], "flat"),
        ),
        Pattern(
            "flat-six",
            "Flat six",
            _engine([1, 4, 5, 2, 3, 6], [[1, 3, 5], [2, 4, 6]], ["ei"], "flat"),
        ),
        Pattern(
            "vee-six",
            "Vee six, four valves",
            _engine(
                [1, 4, 2, 5, 3, 6],
                [[1, 2, 3], [4, 5, 6]],
                ["iiee"],
                "vee",
                adjuster=_shims("under-bucket", cams_out=True),
                pairs=True,
            ),
        ),
        Pattern(
            "vee-eight",
            "Vee eight",
            _engine(
                [1, 8, 4, 3, 6, 5, 7, 2],
                [[1, 3, 5, 7], [2, 4, 6, 8]],
                ["ei", "ie"],
                "vee",
                pairs=True,
            ),
        ),
        Pattern(
            "vee-twelve",
            "Vee twelve, four valves",
            _engine(
                [1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9],
                [[1, 2, 3, 4, 5, 6], [7, 8, 9, 10, 11, 12]],
                ["iiee"],
                "vee",
                pairs=True,
            ),
        ),
    )


def _engine(
    order: list[int],
    banks: list[list[int]],
    heads: list[str],
    layout: str = "inline",
    *,
    intervals: list[float] | None = None,
    adjuster: Document | None = None,
    pairs: bool = False,
    notes: str = "",
    train: str = "",
    starts: list[str] | None = None,
    flywheel: bool = False,
) -> Document:
    """heads gives the roles of each cylinder from the front, taken in turn along a bank."""
    document: Document = {
        "format": "edrix-engine/1",
        "name": "New engine",
        "cylinders": len(order),
        "layout": layout,
        "banks": banks,
        "firing_order": order,
        "rotation": "clockwise",
        "turning": {
            "reverse_allowed": True,
            "backlash_deg": 0,
            "with": "flywheel" if flywheel else "crank nut",
        },
        "timing": {
            "intake": {"opens_btdc": 12, "closes_abdc": 46},
            "exhaust": {"opens_bbdc": 48, "closes_atdc": 14},
        },
        "lift_mm": {"intake": 8, "exhaust": 8},
        "ramp_deg": 15,
        "valves": _valves(banks, heads),
        "clearance": {
            "unit": "mm",
            "engine": "cold",
            "intake": {"min": 0.2, "max": 0.3},
            "exhaust": {"min": 0.3, "max": 0.4},
        },
        "adjuster": adjuster or {"kind": "screw", "pitch_mm": 1.0, "screw_at": "valve"},
        "marks": _pair_marks(order) if pairs else [_tdc_mark()],
    }
    if intervals is not None:
        document["firing_intervals_deg"] = intervals
    if notes:
        document["notes"] = notes
    if train:
        document["valve_train"] = train
    if starts:
        document["ignition"] = {"kind": "spark", "start": starts, "stop": "switch"}
    return document


def _valves(banks: list[list[int]], heads: list[str]) -> list[Document]:
    valves: list[Document] = []
    for bank in banks:
        for place, cylinder in enumerate(bank):
            for role in heads[place % len(heads)]:
                number = len(valves) + 1
                valves.append({"number": number, "cylinder": cylinder, "role": _ROLES[role]})
    return valves


def _twin(intervals: list[float]) -> Document:
    return _engine([1, 2], [[1, 2]], ["ei", "ie"], "parallel-twin", intervals=intervals)


def _braked_six() -> Document:
    document = _engine(
        [1, 5, 3, 6, 2, 4], [[1, 2, 3, 4, 5, 6]], ["ieb"], adjuster=_push_rod(1.6), pairs=True
    )
    document["timing"]["brake"] = {"opens_cycle_deg": 655, "closes_cycle_deg": 75}
    document["lift_mm"]["brake"] = 2.4
    document["clearance"]["brake"] = {"min": 3.9, "max": 4.1}
    return document


def _lettered_six() -> Document:
    """Each letter comes up where every rocker of one cylinder is on its heel, the brake's too: past
    its firing TDC, when the brake lobe has gone by and the exhaust has not yet begun."""
    document = _braked_six()
    order = document["firing_order"]
    document["marks"] = [
        {
            "on": "crank",
            "label": letter,
            "deg": (LETTERED_DEG + pair * 120) % 360,
            "means": "stop",
            "cylinders": [order[pair], order[pair + 3]],
        }
        for pair, letter in enumerate("ABC")
    ]
    document["notes"] = (
        "Each letter serves all rockers of two cylinders in turn: those of the cylinder that is "
        "past its firing TDC are set, the other's a full turn later."
    )
    return document


def _pulled_shut() -> Document:
    document = _engine(
        [1, 2],
        [[1], [2]],
        ["ie"],
        "vee",
        intervals=[270, 450],
        adjuster=_shims("under-follower"),
        train="positive-closing",
    )
    document["turning"] = {
        "reverse_allowed": False,
        "backlash_deg": 0,
        "with": "crank nut",
        "why": "the cam belts jump when they are turned back",
    }
    closed = {"min": 0.0, "max": 0.05}
    document["clearance"]["closing"] = {"intake": closed, "exhaust": closed}
    document["closing_adjuster"] = {
        "kind": "shim",
        "place": "under-follower",
        "sizes_mm": {"from": 5.0, "to": 9.6, "step": 0.05},
        "cams_out": False,
    }
    return document


def _tdc_mark() -> Document:
    return {"on": "crank", "label": "T", "deg": 0, "means": "tdc"}


def _pair_marks(order: list[int]) -> list[Document]:
    """One mark for each pair of companions, in the order in which they come up."""
    half = len(order) // 2
    apart = 360 / half
    return [
        {
            "on": "crank",
            "label": f"{order[k]}-{order[k + half]}",
            "deg": round(k * apart, 4),
            "means": "pair",
        }
        for k in range(half)
    ]


def _push_rod(ratio: float) -> Document:
    return {"kind": "screw", "pitch_mm": 1.0, "screw_at": "pushrod", "rocker_ratio": ratio}


def _shims(place: str, *, cams_out: bool = False) -> Document:
    sizes = {"from": 1.2, "to": 3.5, "step": 0.05}
    return {"kind": "shim", "place": place, "sizes_mm": sizes, "cams_out": cams_out}
