"""A small drawing for every word of the glossary: lines and letters, for page and print alike.

Each is 120 wide and 80 high, y downwards. The part that the word names is `told`, the others are
`part`; `faint` is what only helps to see. Not to scale: gaps are drawn as wide as they are said.
"""

import math
from collections.abc import Callable
from functools import partial
from itertools import pairwise
from typing import Literal, NamedTuple

WIDTH, HEIGHT = 120, 80

Point = tuple[float, float]
Ink = Literal["told", "part", "faint"]


class PenLine(NamedTuple):
    """One line through the points; closed ones are filled."""

    points: tuple[Point, ...]
    ink: Ink
    closed: bool = False


class Letters(NamedTuple):
    """A few letters, centred at a point."""

    at: Point
    text: str
    ink: Ink = "part"


class Drawing(NamedTuple):
    strokes: tuple[PenLine, ...]
    letters: tuple[Letters, ...] = ()


def _arc(centre: Point, r: float, from_deg: float, to_deg: float) -> tuple[Point, ...]:
    """Angles from the top, clockwise as they are seen."""
    steps = max(2, int(abs(to_deg - from_deg) / 8))
    turns = (math.radians(from_deg + (to_deg - from_deg) * n / steps) for n in range(steps + 1))
    return tuple(_round((centre[0] + r * math.sin(a), centre[1] - r * math.cos(a))) for a in turns)


def _round(point: Point) -> Point:
    return round(point[0], 1), round(point[1], 1)


def _box(left: float, top: float, right: float, bottom: float) -> tuple[Point, ...]:
    return (left, top), (right, top), (right, bottom), (left, bottom)


CAM: Point = (60, 46)
HEEL_R, NOSE_R, NOSE_AT = 20.0, 7.0, 24.0


def _nose() -> tuple[Point, ...]:
    """From heel to heel over the nose, which points down."""
    tip = (CAM[0], CAM[1] + NOSE_AT)
    return (
        *_arc(CAM, HEEL_R, 122, 122.1),
        *_arc(tip, NOSE_R, 122, 238),
        *_arc(CAM, HEEL_R, 238, 238.1),
    )


def _cam(told: str) -> Drawing:
    heel, nose = _arc(CAM, HEEL_R, -122, 122), _nose()
    strokes = [
        PenLine((*heel, *nose), "part", closed=True),
        PenLine(_box(50, 8, 70, 23), "part", closed=True),
        PenLine(_arc(CAM, 2, 0, 360), "part"),
    ]
    ramps = (_arc(CAM, HEEL_R, 108, 126), _arc(CAM, HEEL_R, 234, 252))
    marked: dict[str, tuple[tuple[Point, ...], ...]] = {
        "heel": (heel,),
        "lobe": (nose,),
        "ramp": ramps,
        "margin": (_arc(CAM, 29, 4, 118),),
    }
    edges = [PenLine((CAM, _arc(CAM, 32, 120, 121)[0]), "faint")] if told == "margin" else []
    return Drawing((*strokes, *edges, *(PenLine(line, "told") for line in marked[told])))


def _train(told: str) -> Drawing:
    """Cam below, tappet, push rod, rocker with its screw and nut, valve at the right."""
    parts: dict[str, tuple[PenLine, ...]] = {
        "cam": (PenLine(_arc((24, 70), 7, 0, 360), "part", closed=True),),
        "tappet": (PenLine(_box(18, 56, 30, 63), "part", closed=True),),
        "push rod": (PenLine(((24, 56), (24, 26)), "part"),),
        "screw": (PenLine(((24, 26), (24, 8)), "part"),),
        "lock nut": (PenLine(_box(18, 9, 30, 15), "part", closed=True),),
        "rocker": (
            PenLine(((16, 16), (34, 16), (60, 22), (88, 18), (94, 26), (60, 30), (16, 24)),
                   "part", closed=True),
            PenLine(_arc((60, 25), 3, 0, 360), "part"),
        ),
        "valve": (
            PenLine(((90, 32), (90, 66)), "part"),
            PenLine(((78, 72), (102, 72), (92, 66), (88, 66)), "part", closed=True),
        ),
        "spring": (PenLine(tuple((84 + 12 * (n % 2), 36 + 4 * n) for n in range(6)), "faint"),),
        "gap": (PenLine(((84, 29), (112, 29)), "part"),) if told == "gap" else (),
    }  # fmt: skip
    return Drawing(
        tuple(
            one._replace(ink="told") if name == told else one
            for name, strokes in parts.items()
            for one in strokes
        )
    )


WHEEL: Point = (60, 44)


def _wheel(told: str) -> Drawing:
    strokes = [
        PenLine(_arc(WHEEL, 28, 0, 360), "part"),
        PenLine(_arc(WHEEL, 3, 0, 360), "part", closed=True),
        PenLine(((56, 4), (64, 4), (60, 13)), "part", closed=True),
    ]
    letters: list[Letters] = []
    if told in ("mark", "dead centre", "firing TDC"):
        strokes.append(PenLine(((60, 16), (60, 26)), "told"))
    if told == "dead centre":
        letters += [Letters((60, 36), "720°"), Letters((60, 58), "or 360°?")]
    if told == "firing TDC":
        letters.append(Letters((60, 59), "fires", "told"))
    if told == "pin":
        strokes.append(PenLine(_arc((60, 22), 3.5, 0, 360), "told", closed=True))
    if told == "crank":
        strokes += [PenLine((WHEEL, (78, 60)), "told"), PenLine(_arc((78, 60), 4, 0, 360), "told")]
    if told == "tool":
        strokes.append(PenLine((WHEEL, (112, 66)), "told"))
    return Drawing(tuple(strokes), tuple(letters))


def _bell(middle: float) -> tuple[Point, ...]:
    wide, high = 34, 44
    return tuple(
        _round((middle + wide * n / 12, 66 - high * math.cos(math.pi * n / 24) ** 2))
        for n in range(-12, 13)
    )


def _overlap() -> Drawing:
    """Lift over the crank: exhaust closes while intake opens, around top dead centre."""
    left, right = _bell(42), _bell(78)
    both = tuple(
        (one[0], max(one[1], min(right, key=lambda other: abs(other[0] - one[0]))[1]))
        for one in left
        if one[0] >= right[0][0]
    )
    return Drawing(
        (
            PenLine(((4, 66), (116, 66)), "faint"),
            PenLine(left, "part"),
            PenLine(right, "part"),
            PenLine(((60, 12), (60, 70)), "faint"),
            PenLine(both, "told", closed=True),
        ),
        (Letters((22, 18), "exhaust"), Letters((100, 18), "intake"), Letters((60, 77), "TDC")),
    )


def _numbers(told: str) -> Drawing:
    """A row of valves or cylinders: the order of firing, or pairs that make nine."""
    order = "1342" if told == "firing order" else "12345678"
    step = 108 / len(order)
    at = [(6 + step * (n + 0.5), 34.0) for n in range(len(order))]
    letters = tuple(Letters(place, digit) for place, digit in zip(at, order, strict=True))
    if told == "firing order":
        arrows = [((a[0] + 6, 34.0), (b[0] - 6, 34.0)) for a, b in pairwise(at)]
        return Drawing(tuple(PenLine(line, "told") for line in arrows), letters)
    pairs = [(at[k], at[7 - k], 44.0 + 7 * k) for k in range(4)]
    return Drawing(
        tuple(
            PenLine(((a[0], 42), (a[0], low), (b[0], low), (b[0], 42)), "told")
            for a, b, low in pairs
        ),
        letters,
    )


def _companion() -> Drawing:
    boxes = [_box(x, 8, x + 22, 60) for x in (6, 34, 62, 90)]
    high, low = 16, 40
    pistons = [(17, high), (45, low), (73, low), (101, high)]
    return Drawing(
        (
            *(PenLine((box[3], box[0], box[1], box[2]), "part") for box in boxes),
            *(
                PenLine(_box(x - 9, y, x + 9, y + 12), "told" if y == high else "part", closed=True)
                for x, y in pistons
            ),
        ),
        tuple(Letters((x, 71), str(n)) for n, (x, _) in enumerate(pistons, start=1)),
    )


def _leaf() -> Drawing:
    return Drawing(
        (
            PenLine(((4, 12), (78, 12), (90, 22), (90, 30), (4, 30)), "part", closed=True),
            PenLine(_box(76, 44, 92, 78), "part", closed=True),
            PenLine(_box(20, 34, 116, 40), "told", closed=True),
        ),
        (Letters((46, 37), "0.30", "part"),),
    )


def _bucket(told: str) -> Drawing:
    shim = PenLine(_box(48, 36, 72, 41), "told" if told == "shim" else "part", closed=True)
    cup: Ink = "told" if told == "bucket" else "part"
    return Drawing(
        (
            PenLine(_arc((60, 16), 12, 0, 360), "part", closed=True),
            PenLine(((34, 70), (34, 34), (86, 34), (86, 70)), cup),
            shim,
            PenLine(((60, 41), (60, 76)), "part"),
        )
    )


def _finger() -> Drawing:
    return Drawing(
        (
            PenLine(_arc((56, 20), 13, 0, 360), "part", closed=True),
            PenLine(((16, 40), (56, 36), (100, 44), (100, 52), (56, 46), (16, 50)),
                   "told", closed=True),
            PenLine(_arc((20, 58), 6, 0, 360), "part", closed=True),
            PenLine(((96, 54), (96, 78)), "part"),
        )
    )  # fmt: skip


def _closing() -> Drawing:
    return Drawing(
        (
            PenLine(((60, 6), (60, 76)), "part"),
            PenLine(_box(46, 10, 74, 18), "part", closed=True),
            PenLine(_box(46, 50, 74, 57), "told", closed=True),
            PenLine(((112, 64), (66, 60), (66, 68), (112, 72)), "part", closed=True),
            PenLine(((54, 60), (54, 68)), "part"),
        ),
        (Letters((26, 14), "opening"), Letters((26, 54), "closing", "told")),
    )


def _micrometer() -> Drawing:
    return Drawing(
        (
            PenLine(((30, 20), (14, 20), (14, 62), (56, 62)), "part"),
            PenLine(_box(30, 16, 38, 24), "part", closed=True),
            PenLine(_box(39, 14, 45, 26), "told", closed=True),
            PenLine(_box(46, 17, 74, 23), "part", closed=True),
            PenLine(_box(74, 10, 112, 30), "part", closed=True),
            PenLine(((80, 10), (80, 30)), "faint"),
            PenLine(((90, 10), (90, 30)), "faint"),
            PenLine(((56, 62), (60, 23)), "part"),
        ),
        (Letters((92, 44), "2.65"),),
    )


def _detent() -> Drawing:
    return Drawing(
        (
            PenLine(((6, 60), (44, 60), (60, 70), (76, 60), (114, 60)), "part"),
            PenLine(_arc((60, 56), 10, 0, 360), "told", closed=True),
            PenLine(((60, 46), (60, 10)), "part"),
        )
    )


def _band(told: str) -> Drawing:
    """A rule: a range on it, or the same length in both units."""
    ticks = [PenLine(((x, 44), (x, 52 if x % 20 else 58)), "part") for x in range(10, 111, 10)]
    rule = PenLine(((10, 44), (110, 44)), "part")
    if told == "thou":
        both = (Letters((60, 30), "1 thou", "told"), Letters((60, 70), "0.0254 mm"))
        return Drawing((rule, PenLine(_box(50, 38, 70, 44), "told", closed=True)), both)
    range_ = (Letters((60, 26), "0.25–0.35", "told"),)
    return Drawing((rule, *ticks, PenLine(_box(40, 36, 80, 44), "told", closed=True)), range_)


_MAKERS: dict[str, Callable[[], Drawing]] = {
    **{f"cam {part}": partial(_cam, part) for part in ("heel", "lobe", "ramp", "margin")},
    **{
        f"train {part}": partial(_train, part)
        for part in ("cam", "tappet", "push rod", "lock nut", "rocker", "valve", "gap")
    },
    **{
        f"wheel {part}": partial(_wheel, part)
        for part in ("mark", "dead centre", "firing TDC", "pin", "crank", "tool")
    },
    "overlap": _overlap,
    "firing order": partial(_numbers, "firing order"),
    "nine": partial(_numbers, "nine"),
    "companion": _companion,
    "leaf": _leaf,
    "bucket": partial(_bucket, "bucket"),
    "shim": partial(_bucket, "shim"),
    "finger": _finger,
    "closing shim": _closing,
    "micrometer": _micrometer,
    "detent": _detent,
    "spec": partial(_band, "spec"),
    "thou": partial(_band, "thou"),
}


def drawing(name: str) -> Drawing:
    """Raises KeyError for a name that no word has."""
    return _MAKERS[name]()


def drawings() -> dict[str, dict[str, object]]:
    """All of them, as pages draw them."""
    return {
        name: {
            "strokes": [stroke._asdict() for stroke in make().strokes],
            "letters": [letters._asdict() for letters in make().letters],
        }
        for name, make in _MAKERS.items()
    }
