"""Figures of the trade that several rooms of the core share, each with unit, kind and source.

Kinds: *exact* by definition; *standard*; *derived* from others; *common practice*, with no
published source; *from memory* where an edition could not be checked. Each room with figures of
its own has a module like this one.
"""

from decimal import Decimal

MM_PER_THOU = Decimal("0.0254")
"""Millimetres in a thousandth of an inch. Exact (international inch of 1959)."""
MM_PER_INCH = Decimal("25.4")
"""Exact, likewise."""
UM_PER_MM = 1000
"""Micrometres in a millimetre. Exact."""

ROCK_DEG = 12.0
"""How far a hand rocks the crank each way, in crank degrees. Common practice."""
SEEN_MOVE_MM = 0.05
"""So much a follower must move at the valve for an eye to see it. Common practice."""
NEAR_TDC_DEG = 10.0
"""A pair mark belongs to a cylinder that stands at its dead centre within so many crank degrees:
makers stamp them at the dead centre or a few degrees beside it. Common practice."""
NOT_A_GAP_MM = Decimal(20)
"""No feeler gauge reaches further: a larger figure is a typing mistake. Common practice."""
