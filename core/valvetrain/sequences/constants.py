"""Figures of the sequences, each with unit, kind and source.

Kinds: *exact* by definition; *common practice*, with no published source; *chosen* for the
program's own working; *limit* of what is accepted as input.
"""

AT_MARK_DEG = 0.5
"""A mark so near counts as lined up: half a crank degree is finer than a hand turns a crank. Common
practice."""
