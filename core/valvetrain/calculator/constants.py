"""Figures of the calculator, each with unit, kind and source.

Kinds: *exact* by definition; *common practice*, with no published source; *chosen* for the
program's own working; *limit* of what is accepted as input.
"""

DIGITS = 6
"""Figures are rounded to this many decimals: finer is floating-point noise. Chosen."""
MOST_MARGIN_DEG = 360.0
"""No heel is wider than a cam's turn leaves on either side. Limit."""
MOST_FILE_BYTES = 2_000_000
"""Size of a file that is read. Limit."""
MOST_FAULTS_TOLD = 5
"""Bad lines that are told one by one before the rest is counted. Chosen."""
