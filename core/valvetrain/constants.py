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
NM_PER_LB_FT = Decimal("1.3558179483314004")
"""Newton metres in a pound-force foot. Exact: 0.45359237 kg (international pound of 1959), 9.80665
m/s² (standard gravity, 3rd CGPM 1901) and 0.3048 m (international foot)."""
PRINTED_STEP_MM = Decimal("0.01")
"""Manuals print a gap in thou rounded to this. Common practice."""
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

FULL_LIFT_DEG = 2.0
"""A valve so near to the middle of its event, in cycle degrees, is called fully open: nobody sees
it move. Common practice."""
COMPANION_DEG = 0.1
"""Companions fire 360 degrees apart; intervals written to two decimals drift this much. Chosen."""
LARGE_GAP_MM = 1.5
"""Hand-set clearances lie well inside; only a brake rocker stands further off, some by several
millimetres. A larger spec is asked about: was it written in thou? Common practice."""
SMALL_GAP_THOU, SMALL_BRAKE_GAP_THOU = 1.5, 15.0
"""A smaller spec is asked about: was it written in millimetres? Common practice."""
LARGE_LIFT_MM = 25.0
"""No valve of an engine that is set by hand lifts further. Common practice."""
LARGE_BUMP_MM = 3.0
"""A decompressor holds a valve off its seat by a millimetre or so. Common practice."""

# Gauges --------------------------------------------------------------------------------------

ROUNDED_MM = 1e-6
"""A figure no further than this from a limit is the limit: a rest of its conversion from thou.
Chosen: a nanometre."""
LETTERED_DEG = 103
"""Where the pattern of a six with brake rockers has its lettered marks, past firing TDC: between
its brake lobe's ramp (to 90) and its exhaust's (from 117). Derived from the pattern's events."""
SHOP_TOLERANCE_MM = Decimal("0.02")
"""How far a gap may lie from a spec of one figure in mm. Common practice; a school states its
own."""
SHOP_TOLERANCE_THOU = Decimal(1)
"""The same of a spec in thou. Common practice."""
MOST_SHOP_TOLERANCE_MM, MOST_SHOP_TOLERANCE_THOU = Decimal("0.1"), Decimal(4)
"""More is no tolerance of a clearance. Limit."""
DRAG_BAND_MM = Decimal("0.02")
"""A leaf drags while the gap is at most this much wider than it. Common practice."""
FORCED_BAND_MM = Decimal("0.02")
"""A leaf can be forced in while the gap is at most this much narrower. Common practice."""
COVERAGE = 2
"""k = 2, about 95 per cent. Standard: JCGM 100:2008, 6.3.3."""
MOST_LEAVES = 100
"""Leaves of one set. Limit."""
MOST_TARGET_MM = Decimal(5)
"""The longest that is made up of leaves. Limit."""
FINEST_LEAF_MM = Decimal("0.00001")
"""Leaves are counted in hundredths of a micrometre: 0.0015 in is 0.0381 mm to the last digit.
Chosen."""

# Shims moved between valves ------------------------------------------------------------------

MOST_SEATS = 192
"""Valves of one engine: those of the largest engine file. Limit."""
MOST_STOCK = 1000
"""Shims on the shelf. Limit."""
MOST_SHIM_MM = 20
"""The thickest shim. Limit."""
MOST_SPREAD_MM = Decimal(2)
"""The widest clearance range a swap is worked out for. Limit."""

# Gauge study ---------------------------------------------------------------------------------

POOL_ABOVE = 0.25
"""Where the p of the interaction is above this, it is pooled with the repeatability. Standard:
the AIAG MSA manual, 4th edition, ANOVA method; from memory."""
CONFIDENCE = 0.95
"""Of the intervals that are told. Chosen: what handbooks print."""
CATEGORIES = 1.41
"""Square root of two, as the handbooks write it: two categories differ by one gauge spread.
Standard: the AIAG MSA manual, 4th edition; from memory."""
UM2_PER_MM2 = 1e6
"""Squares are written in square micrometres: in mm² each would begin with four zeros. Exact."""
NOISE_MM2 = 1e-20
"""Sums of squares below this are what floating point leaves of equal readings. Chosen."""
MOST_NAMED = 5
"""Missing readings that are named before the rest is counted. Chosen."""

# Wear over the hours ---------------------------------------------------------------------------

UM_PER_100H = 100_000
"""Micrometres in a hundred hours, of a millimetre an hour. Exact."""
LEAST_SIBLINGS = 2
"""Of two valves that differ nobody can say which is the odd one. Chosen."""
MOST_HOURS = 10_000_000
"""A meter of hours or kilometres reads no more. Limit."""
NO_RATE_UM_PER_100H = 1e-6
"""A slower rate is what floating point leaves of gaps that do not move. Chosen."""
SAME_HOURS = 1e-6
"""Hours no further from a whole one are that: floating-point noise. Chosen."""
SIBLING_SHARE = 0.35
"""How far valves of one role wear apart, as a share of their rate. Common practice."""
SIBLING_UM_PER_100H = 0.5
"""The same where they hardly wear, in µm per 100 h. Common practice."""
ODD_TIMES, ODD_RATE_UM_PER_100H = 4.0, 10.0
"""How far one with a fault runs from its siblings: so many times their rate, and so many µm per
100 h. Common practice."""
ODD_BEFORE = 1 / 30
"""Odds that a valve is such a one, before anything was measured. Common practice."""
NAMED_ODDS = 4.0
"""From these odds on it is named. Chosen: see the rates in tests/core/test_siblings.py."""
MAD_TO_DEVIATION = 1.4826
"""The deviation of a normal distribution for its median absolute deviation. Derived: 1 / 0.67449.
"""

# Lobes -----------------------------------------------------------------------------------------

USUAL_RAMP_DEG = 15.0
"""Crank degrees of a ramp, where the file names none. Common practice."""
RAMP_SLOPES = tuple(step / 10 for step in range(21))
"""Speeds at the end of a ramp that are tried, in clearances for each ramp. Chosen."""
RAMP_BENDS = tuple(float(step) for step in range(-10, 5))
"""Accelerations there that are tried, in clearances for each ramp squared. Chosen."""
NOSE_POWER, NOSE_POWERS_APART = 8.0, 4.0
"""The lower of the two powers of a lobe's nose, and how far the other lies above it. Chosen: of 6,
8 and 10 it bends the nose of usual lobes least and their flanks hardly more."""
SHAPE_POINTS = 41
"""Points at which a lobe's shape is looked at. Chosen."""
FLAT_ENOUGH = 1e-9
"""A speed below this is none: floating-point noise. Chosen."""

# The section -----------------------------------------------------------------------------------

BORE_PER_LIFT = 9.0
"""A valve lifts about a quarter of its head, which is a bit less than half of the bore. Common
practice; used where a file gives no sizes."""
ROD_PER_STROKE = 1.75
"""Common practice; likewise."""
BASE_PER_LIFT, MOST_BASE_PER_LIFT, LEAST_BASE_MM = 1.5, 2.2, 6.0
"""Radius of a lobe's heel for its lift, usual and at most. Common practice."""
LEAST_CURVATURE_MM = 2.0
"""No cam that a flat face runs on is bent sharper. Common practice."""
PAD_PER_BASE = 0.7
"""Radius of a round pad or roller for that of the heel. Common practice."""
LARGEST_PAD, PAD_STEP = 0.9, 0.95
"""A round pad's radius for that of its centre's sharpest bend, at most; and in what steps a smaller
one is tried. Chosen."""
ROCKER_RATIO, FINGER_RATIO = 1.5, 1.6
"""Valve lift for each millimetre at the cam, where a file gives none. Common practice."""
CAM_STEP_DEG, RAMP_STEP_DEG = 2.0, 0.5
"""Points of a drawn profile and of its ramps, in degrees of the cam. Chosen: a straight line
between them misses the profile by less than 0.02 mm."""

# Working -------------------------------------------------------------------------------------

SAME_LENGTH_MM = 1e-12
"""Lifts closer than this are equal: floating-point noise. Chosen."""
RECORD_STEP_MM = Decimal("0.0001")
"""Lengths are kept on record to a tenth of a micrometre: finer than any gauge. Chosen."""
ROCK_STEP_DEG = 1.0
"""In what steps of the crank the stretches of rocking are looked for. Chosen."""
CURVE_STEPS = 241
"""Points of a drawn curve. Chosen."""
CURVE_BEYOND_DEG = 20.0
"""Drawn curves begin and end this far outside the ramps. Chosen."""
MOST_NM, MOST_LB_FT, MOST_LB_IN = 1000, 800, 9000
"""Torques of a file. Limit."""
MOST_TEXT = 200
"""Characters of one text in a file, where its field says no other. Limit."""
MOST_LESSON_STEPS = 60
"""Steps of one lesson. Limit."""
MOST_LESSON_TITLE = 120
"""Characters of what a lesson or one of its steps is called. Limit."""
MOST_LESSON_WORDS = 4000
"""Characters of a step's text or notes. Limit."""
MOST_STEP_MINUTES = 240
"""Minutes that one step is planned to take. Limit."""
LEAST_COUNTDOWN_S = 5
"""Seconds of the shortest count-down of a question. Limit."""
MOST_COUNTDOWN_S = 600
"""Seconds of the longest. Limit."""
