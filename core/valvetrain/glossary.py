"""The words of the trade and what they mean, for whoever taps one.

In our own words, after common usage. A word is found in a text by any of its forms.
"""

from typing import NamedTuple


class Term(NamedTuple):
    """word as it is listed; drawing is a name in `glossary_drawings`; forms are the other ways in
    which it stands in a text."""

    word: str
    drawing: str
    means: str
    forms: tuple[str, ...] = ()


TERMS = (
    Term(
        "valve",
        "train valve",
        "Lets air into the cylinder, or burnt gas out of it; a spring closes it, the cam opens it.",
        ("valves",),
    ),
    Term(
        "heel",
        "cam heel",
        "The round back of the cam. Only while the follower rides on it does the valve "
        "have its clearance.",
        ("heels",),
    ),
    Term(
        "lobe",
        "cam lobe",
        "The raised part of the cam, which opens the valve. On it there is no gap.",
        ("lobes",),
    ),
    Term("base circle", "cam heel", "Another word for the heel: the round back of the cam."),
    Term(
        "margin",
        "cam margin",
        "How many degrees of the crank a valve is from the nearer edge of its heel.",
        ("margins",),
    ),
    Term(
        "ramp",
        "cam ramp",
        "The gentle slope between heel and lobe. On it the gap reads small.",
        ("ramps",),
    ),
    Term(
        "clearance",
        "train gap",
        "The small gap in the valve train of a closed valve, left for the parts to grow with heat.",
        ("clearances",),
    ),
    Term("lash", "train gap", "Another word for clearance, said most of brake rockers."),
    Term("gap", "train gap", "Room between two parts, as a leaf finds it.", ("gaps",)),
    Term(
        "spec",
        "spec",
        "The clearance that the maker asks for: a figure or a range, for a cold engine "
        "where nothing else is said.",
    ),
    Term(
        "firing TDC",
        "wheel firing TDC",
        "Top dead centre at the end of compression: both valves of that cylinder "
        "are on their heel.",
    ),
    Term(
        "firing order",
        "firing order",
        "The order in which the cylinders fire, turning the running way.",
    ),
    Term(
        "rule of nine",
        "nine",
        "On some engines of eight valves: while valve k is fully open, 9 − k may "
        "be set. It holds only where the head is a mirror of companions.",
    ),
    Term(
        "dead centre",
        "wheel dead centre",
        "Where the piston turns round. A mark on the crank comes there twice in a "
        "cycle, and does not tell the stroke.",
    ),
    Term(
        "overlap",
        "overlap",
        "Around top dead centre between exhaust and intake, both valves are a little open.",
    ),
    Term(
        "companion",
        "companion",
        "The cylinder whose piston rises together with this one, a full turn apart.",
        ("companions",),
    ),
    Term(
        "mark",
        "wheel mark",
        "A line, letter or hole on pulley or flywheel that lines up with a pointer.",
        ("marks",),
    ),
    Term("leaf", "leaf", "A strip of steel of known thickness, of a feeler gauge.", ("leaves",)),
    Term("thou", "thou", "A thousandth of an inch: 0.0254 mm."),
    Term(
        "drags",
        "leaf",
        "Held lightly on both faces, like a page between the pages of a book.",
        ("drag", "dragged"),
    ),
    Term(
        "push rod",
        "train push rod",
        "The rod that carries the tappet's lift up to the rocker.",
        ("push rods",),
    ),
    Term(
        "slack",
        "train push rod",
        "Play that lies elsewhere than under the leaf, and hides part of the gap.",
    ),
    Term(
        "rocker",
        "train rocker",
        "The lever that turns the lift of cam or push rod into the valve's opening.",
        ("rockers",),
    ),
    Term(
        "finger", "finger", "A lever that pivots at one end, between cam and valve.", ("fingers",)
    ),
    Term(
        "bucket",
        "bucket",
        "An upturned cup over the valve, which the cam presses directly.",
        ("buckets",),
    ),
    Term(
        "tappet",
        "train tappet",
        "The part that rides on the cam and lifts push rod or valve.",
        ("tappets",),
    ),
    Term(
        "follower",
        "train tappet",
        "Whatever rides on the cam: tappet, bucket, finger or rocker.",
        ("followers",),
    ),
    Term(
        "lock nut",
        "train lock nut",
        "The nut that holds the adjusting screw. Tightening it moves the screw.",
        ("lock nuts", "nut"),
    ),
    Term(
        "torque", "train lock nut", "How hard a nut is tightened, in newton metres or pound-feet."
    ),
    Term(
        "shim",
        "shim",
        "A small disc of exact thickness; a thicker one makes the gap smaller.",
        ("shims",),
    ),
    Term(
        "closing shim",
        "closing shim",
        "Under the closing rocker: it sets the second gap, and moves the first.",
        ("closing shims",),
    ),
    Term(
        "micrometer", "micrometer", "A screw gauge that reads a shim's thickness to the hundredth."
    ),
    Term("detent", "detent", "The place at which a brake rocker rests while its gap is measured."),
    Term(
        "timing pin",
        "wheel pin",
        "A pin that goes in only at its place: it proves the place and locks the crank.",
        ("locking pin", "pin"),
    ),
    Term(
        "cams",
        "train cam",
        "The shafts with the lobes; taken out, the springs may turn the crank.",
        ("cam",),
    ),
    Term(
        "crank", "wheel crank", "The shaft that the pistons turn; the cam turns at half its speed."
    ),
    Term(
        "turning tool",
        "wheel tool",
        "What the crank is turned with by hand. It comes off before the start.",
    ),
)


def glossary() -> list[dict[str, object]]:
    """As pages and prints use it: every word with what it means, its forms, and its drawing."""
    return [term._asdict() for term in TERMS]
