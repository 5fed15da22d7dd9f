"""Figures of adjusters, each with unit, kind and source.

Kinds: *exact* by definition; *common practice*, with no published source; *chosen* for the
program's own working; *limit* of what is accepted as input.
"""

from decimal import Decimal

FULL_TURN_DEG = 360
"""Degrees of a screw's turn. Exact."""
DIVISIONS = 60
"""A turn in the minutes of a clock face, 6 degrees each: what a person can aim at by eye. Common
practice."""
MOST_SIZES = 2000
"""Sizes of one shim series. Limit."""
TABLE_STEP_MM = Decimal("0.001")
"""How far apart the printed table looks for where the answer changes. Chosen."""
TABLE_BEYOND_MM = Decimal("0.20")
"""So far beyond the spec the printed table goes: a larger gap is worth a question first. Chosen."""
SHOWN_EACH_SIDE = 2
"""Sizes shown on either side of the one that is wanted. Chosen."""
