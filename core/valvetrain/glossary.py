"""The words of the trade and what they mean, for whoever taps one.

In our own words, after common usage. A word is found in a text by any of its forms.
"""

import re
from functools import lru_cache
from typing import NamedTuple


class Term(NamedTuple):
    """word as it is listed; forms are the other ways in which it stands in a text."""

    word: str
    means: str
    forms: tuple[str, ...] = ()


TERMS = (
    Term("valve", "Lets air into the cylinder, or burnt gas out of it; a spring closes it, the cam "
         "opens it.", ("valves",)),
    Term("heel", "The round back of the cam. Only while the follower rides on it does the valve "
         "have its clearance.", ("heels",)),
    Term("lobe", "The raised part of the cam, which opens the valve. On it there is no gap.",
         ("lobes",)),
    Term("base circle", "Another word for the heel: the round back of the cam."),
    Term("margin", "How many degrees of the crank a valve is from the nearer edge of its heel.",
         ("margins",)),
    Term("ramp", "The gentle slope between heel and lobe. On it the gap reads small.", ("ramps",)),
    Term("clearance", "The small gap in the valve train of a closed valve, left for the parts to "
         "grow with heat.", ("clearances",)),
    Term("lash", "Another word for clearance, said most of brake rockers."),
    Term("gap", "Room between two parts, as a leaf finds it.", ("gaps",)),
    Term("spec", "The clearance that the maker asks for: a figure or a range, for a cold engine "
         "where nothing else is said."),
    Term("firing TDC", "Top dead centre at the end of compression: both valves of that cylinder "
         "are on their heel."),
    Term("firing order", "The order in which the cylinders fire, turning the running way."),
    Term("rule of nine", "On some engines of eight valves: while valve k is fully open, 9 − k may "
         "be set. It holds only where the head is a mirror of companions."),
    Term("dead centre", "Where the piston turns round. A mark on the crank comes there twice in a "
         "cycle, and does not tell the stroke."),
    Term("overlap", "Around top dead centre between exhaust and intake, both valves are a little "
         "open."),
    Term("companion", "The cylinder whose piston rises together with this one, a full turn apart.",
         ("companions",)),
    Term("mark", "A line, letter or hole on pulley or flywheel that lines up with a pointer.",
         ("marks",)),
    Term("leaf", "A strip of steel of known thickness, of a feeler gauge.", ("leaves",)),
    Term("thou", "A thousandth of an inch: 0.0254 mm."),
    Term("drags", "Held lightly on both faces, like a page between the pages of a book.",
         ("drag", "dragged")),
    Term("push rod", "The rod that carries the tappet's lift up to the rocker.", ("push rods",)),
    Term("slack", "Play that lies elsewhere than under the leaf, and hides part of the gap."),
    Term("rocker", "The lever that turns the lift of cam or push rod into the valve's opening.",
         ("rockers",)),
    Term("finger", "A lever that pivots at one end, between cam and valve.", ("fingers",)),
    Term("bucket", "An upturned cup over the valve, which the cam presses directly.",
         ("buckets",)),
    Term("tappet", "The part that rides on the cam and lifts push rod or valve.", ("tappets",)),
    Term("follower", "Whatever rides on the cam: tappet, bucket, finger or rocker.",
         ("followers",)),
    Term("lock nut", "The nut that holds the adjusting screw. Tightening it moves the screw.",
         ("lock nuts", "nut")),
    Term("torque", "How hard a nut is tightened, in newton metres or pound-feet."),
    Term("shim", "A small disc of exact thickness; a thicker one makes the gap smaller.",
         ("shims",)),
    Term("closing shim", "Under the closing rocker: it sets the second gap, and moves the first.",
         ("closing shims",)),
    Term("micrometer", "A screw gauge that reads a shim's thickness to the hundredth."),
    Term("detent", "The place at which a brake rocker rests while its gap is measured."),
    Term("timing pin", "A pin that goes in only at its place: it proves the place and locks the "
         "crank.", ("locking pin", "pin")),
    Term("cams", "The shafts with the lobes; taken out, the springs may turn the crank.", ("cam",)),
    Term("crank", "The shaft that the pistons turn; the cam turns at half its speed."),
    Term("turning tool", "What the crank is turned with by hand. It comes off before the start."),
)  # fmt: skip


@lru_cache(maxsize=1)
def _finder() -> tuple[re.Pattern[str], dict[str, Term]]:
    """One expression for every form, longest first, and whose form each is."""
    by_form = {form.casefold(): term for term in TERMS for form in (term.word, *term.forms)}
    forms = sorted(by_form, key=len, reverse=True)
    return re.compile(rf"\b({'|'.join(map(re.escape, forms))})\b", re.IGNORECASE), by_form


def terms_in(*texts: str) -> list[tuple[str, str]]:
    """Every word of the trade that stands in the texts, as it stands there, with its meaning; each
    once, in the order in which they come."""
    pattern, by_form = _finder()
    found = {
        match.casefold(): by_form[match.casefold()].means
        for text in texts
        for match in pattern.findall(text)
    }
    return list(found.items())
