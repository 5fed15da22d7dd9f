"""Figures of the drill, each with unit, kind and source.

Kinds: *exact* by definition; *common practice*, with no published source; *chosen* for the
program's own working; *limit* of what is accepted as input.
"""

from decimal import Decimal

CLEAR_DEG = 8.0
"""A margin or a distance to a dead centre must be at least so many crank degrees, either way, to be
asked for: nearer, a class argues about the mark. Common practice."""
MOST_OPTIONS = 6
"""Answers to choose from: what fits a phone without scrolling. Chosen."""
PLACE_STEP_DEG = 10
"""Places that are asked about are whole tens of crank degrees, as a class calls them. Chosen."""
MOST_TRIES = 60
"""Small engines run out of different questions; a drill is then shorter. Chosen."""
AT_PLACE_DEG = 2.0
"""A crank that stands so near to a mark or a dead centre stands at it: what a hand aims at. Common
practice."""
NEAR_FULL_DEG = 20.0
"""So near to the middle of its lobe a valve passes for fully open. Common practice."""
TOLD_APART_MM = Decimal("0.03")
"""Figures to choose from lie at least so far apart: nobody should argue about less. Chosen."""
OUTSIDE_MM = (Decimal("0.03"), Decimal("0.04"), Decimal("0.06"))
"""How far beyond its limit a gap that is asked about lies. Chosen."""
CREEP_MM = (Decimal("0.02"), Decimal("0.03"), Decimal("0.04"))
"""What tightening a lock nut does to a gap, in questions. Common practice."""
WARM_MM = (Decimal("0.03"), Decimal("0.05"))
"""What people take off or add in the head for warmth, in questions. Common practice."""
SURE = 3
"""How sure a person says to be: 1, a guess; 2, fairly; 3, sure. Chosen."""
AFTER_MISSED_DAYS = 1
"""A question that was missed comes back after so many days. Common practice."""
AFTER_RIGHT_DAYS = 3
"""One that was right the first time it came back, after so many. Common practice."""
RIGHT_IN_A_ROW = 2
"""So often it must be right in a row before it stays away. Common practice."""
MOST_LINES = 8
"""Valves on a colleague's sheet: looked through in a minute, and fits a phone. Chosen."""
