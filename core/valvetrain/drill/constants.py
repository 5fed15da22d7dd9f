"""Figures of the drill, each with unit, kind and source.

Kinds: *exact* by definition; *common practice*, with no published source; *chosen* for the
program's own working; *limit* of what is accepted as input.
"""

CLEAR_DEG = 8.0
"""A margin or a distance to a dead centre must be at least so many crank degrees, either way, to be
asked for: nearer, a class argues about the mark. Common practice."""
MOST_OPTIONS = 6
"""Answers to choose from: what fits a phone without scrolling. Chosen."""
PLACE_STEP_DEG = 10
"""Places that are asked about are whole tens of crank degrees, as a class calls them. Chosen."""
MOST_TRIES = 60
"""Small engines run out of different questions; a drill is then shorter. Chosen."""
