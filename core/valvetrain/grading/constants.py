"""Figures of marking and of findings, each with unit, kind and source.

Kinds: *exact* by definition; *standard*; *derived* from others; *common practice*, with no
published source; *chosen* for the program's own working; *limit* of what is accepted as input.
Shares are of 1. How often findings made with these figures are right is in docs/findings.md.
"""

from decimal import Decimal

# Lines as typed ------------------------------------------------------------------------------

TEN_TIMES = (Decimal(5), Decimal(20))
"""A figure between so many times the middle of its spec, or the same parts of it, looks like a
slipped decimal point: a neglected gap may be half or twice its spec, hardly five times. Common
practice."""
UNIT_TIMES = (Decimal(25), Decimal(60))
"""The same for a figure in the wrong unit, near 39.37 times. Common practice."""
INCH_TIMES = (Decimal(600), Decimal(1600))
"""The same for inches written as thou, near 1000 times: 0.004 for 4 thou. Common practice."""
MOST_LINES = 400
"""Lines of a sheet's file. Limit."""
MOST_LENGTH = 40
"""Characters of one figure in a sheet's file. Limit."""
USUAL_TOLERANCE_MM = Decimal("0.02")
"""How far a reading may be from the key where a file does not say. Common practice."""

SAME_PASSES_MM = Decimal("0.015")
"""Two passes no further apart than this are one figure; beyond it one is asked which counts. Common
practice: the step between leaves, and a little."""
JUST_OVER_MM = Decimal("0.01")
"""A valve may be left loose by so much where it is measured again soon, and the instructor accepts
it. Common practice."""

# A class's sheets beside each other --------------------------------------------------------

AGREE_LEAST = 3
"""So many students must agree with each other before a key is doubted. Common practice: two may be
a pair that worked together."""
AGREE_SHARE = 0.5
"""And so large a share of those who read the valve. Common practice: most of a class."""

# Keys ----------------------------------------------------------------------------------------

MOST_PASSES = 12
"""Passes that are pooled into one key. Limit."""
APART_MM = Decimal("0.04")
"""Passes of one valve further apart than this are a slip, not scatter. Common practice."""
LEAST_KEY_U_MM = 0.005
"""Standard uncertainty: no gap is known better than a leaf is made and felt. Common practice."""

# Rubrics -------------------------------------------------------------------------------------

NEAR_DEG = 5.0
"""A stop is met within so many crank degrees, as a mark is met by eye. Common practice."""
SAME_PERCENT = 1e-9
"""A percentage this near to the pass mark is the pass mark: floating-point noise. Chosen."""
FALLS_TO_ZERO = 3.0
"""Where a template lets a reading's worth fall, it is nothing at so many tolerances. Chosen."""
HALF_PERCENT, WHOLE_PERCENT = 50.0, 100.0
"""The least share of a part that passes: half of the readings, and all of what can hurt somebody.
Common practice."""
MOST_WEIGHT = 1000
"""Points of one part. Limit."""
MOST_MINUTES = 600
"""Time that a rubric may give. Limit."""

# Progress over many sheets -------------------------------------------------------------------

SHOWN_SHARE = 0.9
"""A piece of work shows a skill from this share of its marks on. Common practice: nine of ten."""
SHOWN_PIECES = 2
"""So many pieces of work running must show it. Common practice: twice running."""
DRILL_LEAST = 5
"""A drill counts from so many answered questions on. Common practice: fewer are luck."""
SMALL_BIAS_MM = 0.015
"""A hand with less bias than this is good. Common practice: one leaf step and a half."""

# Findings: when one is told ------------------------------------------------------------------

ODDS_NEEDED = 10.0
"""An explanation must be so many times likelier than none. Chosen: strong evidence in the usual
reading of Bayes factors (Kass and Raftery 1995, from memory)."""
LEAST_STRAY_MM, MOST_FIGURE_MM = 0.005, 20.0
"""Where a figure that nobody can explain may lie, evenly on a log scale. Chosen."""
LEAST_FIGURE_MM = 0.0001
"""A smaller figure is no gap. Larger ones may be gaps in another unit. Chosen."""
STEPS_IN_INCHES = 2.54
"""A figure in inches has three digits behind its point, which are steps of 0.0254 mm, where one in
millimetres goes by 0.01. Exact."""
VISIBLE = 3.0
"""An explanation that moves no figure by so many spreads cannot be told from none. Chosen."""

# Findings: how often a sheet has each before it is looked at, as shares. Common practice.

ORDINARY_SHEET = 0.9
"""A sheet with no slip that runs through all of it."""
SCALED_SHEET = 0.01
"""A sheet in the wrong unit, or with its decimal point slipped."""
CONVERTED_SHEET = 0.06
"""A sheet whose figures were converted with a wrong factor."""
BIASED_SHEET = 0.4
"""A sheet of a hand that feels everything tight or loose: beginners often do."""
BIASED_HAND_MM = 0.06
"""How far such a hand may be off. Common practice."""
LEAST_LEAN_MM = 0.03
"""A hand that leans by less is as hands are, and is told nothing: it lies about within the usual
tolerance. Common practice."""
DECIMAL_LINE = 0.01
"""One figure with its decimal point slipped."""
UNIT_LINE, FAR_UNIT_LINE = 0.005, 0.02
"""One figure in the wrong unit: near enough to a gap to be one, or so far off (ten times) that no
hand reads it."""
CAUGHT_LINE = 0.013
"""One figure at which the tip of the leaf caught."""
OFF_HEEL_LINE = 0.03
"""One figure taken off the heel."""
SWAPPED_LINES = 0.01
"""Two figures written in each other's lines."""
TIP_MM = (0.062, 0.15)
"""How much a caught tip reads tight: least and most. Less is what an unsteady hand does by itself
now and then. Common practice."""
NEAR_MARK_DEG = 40.0
"""A mark so near to where a valve was measured may have been taken for the right one, in crank
degrees. Common practice."""

# Findings: ordinary scatter. A little wider than what is met, and set from a gauge study where
# there is one. Common practice.

HAND_SCATTER_MM = 0.012
"""Standard deviation of one reading of one hand."""
PERSON_BIAS_MM = 0.008
"""Standard deviation of how far a hand is biased to one side."""
WRITTEN_STEP_MM = 0.01
"""In what steps figures are written."""
STRAY_SHARE = 0.01
"""How many readings are wrong for a reason that nobody finds."""

MAD_TO_SIGMA = 1.4826
"""The median of distances as a standard deviation, of normal scatter. Derived: 1 / 0.6745."""
CLASS_WEIGHT, HAND_WEIGHT, STRAY_WEIGHT = 40.0, 16.0, 100.0
"""So many figures of its own outweigh, for a class common practice, for a hand its class, and for
how often it strays what is usual. Chosen by the rates in docs/findings.md."""
SPREAD_BOUNDS = (0.8, 2.5)
"""A learned spread lies between so many times common practice: beyond it is a mistake, no hand."""
NOT_SCATTER_MM = 0.2
"""A figure further than this from its key is a mistake, and tells nothing of a scatter."""
FAR_SPREADS = 3.5
"""A figure so many spreads out lies far out."""
MOST_STRAY = 0.1
"""No hand strays more often than this, or nothing could be explained. Chosen."""
COARSE_STEP_MM = Decimal("0.05")
"""A box of leaves that goes by twentieths of a millimetre."""
SAME_GAP_MM = 1e-9
"""Gaps closer than this are equal: floating-point noise. Chosen."""
LEAST_FOR_STEP = 6
"""Fewer figures than this may all be twentieths by chance."""

# Findings of the further columns -------------------------------------------------------------

PASS_MM = 0.009
"""Spread of one reading when the same hand repeats it. Common practice."""
PASSES_APART = 3.0
"""Two passes of several valves further apart than so many spreads of a difference are no
repetition. Chosen by the rates in docs/findings.md."""
LEAST_PASSES = 4
"""Fewer pairs of passes do not show how a hand repeats: one that is off would hide itself.
Chosen."""
ONE_STRAYS_MM, TWO_STRAY_MM = 0.066, 0.029
"""How far the passes of one valve of a sheet may differ, or of two, times the cube root of how many
valves there are. Derived for errors of Student's t with three degrees of freedom and a scale of
0.009 mm: its tail falls with the cube of the distance, so that the furthest of n lies as far as n
to the third part; one sheet in 50 goes beyond."""
NUT_MOVES_MM, NUT_ALLOWED_MM = 0.03, 0.003
"""What nuts move a screw by where that is let happen, and what is left where it is allowed for:
standard deviations. Common practice."""
LEAST_NUT_MM = 0.012
"""So far a nut must move the gaps of a sheet in the mean to be told. Common practice."""
LEAST_LINES = 3
"""Lines from which a habit is told. Chosen."""
COLUMN_SHEET = 0.02
"""A sheet with a slip of the shim sum or of the spec's row, as a share. Common practice."""
NUT_SHEET = 0.5
"""A sheet whose nuts were let move. Nuts that creep are common; a hand that allows for each of
them is not. Common practice."""
RIGHT_SHIM, WRONG_BY_CHANCE = 0.9, 0.0015
"""How often a mirrored shim is chosen by one who counts the wrong way, and by chance. Common
practice."""
RIGHT_VERDICT, VERDICT_SLIP = 0.9, 0.05
"""How often a verdict follows from the spec that was read, and how often it does not. Common
practice."""

REVERSED_BY_CHANCE = 0.01
"""How often one verdict says the opposite of its figure by a slip. Common practice."""

# Findings of where the crank stood -----------------------------------------------------------

MOST_PLACES = 20_000
"""Lifts that are kept of one stand: of places that its sheets name. Limit."""
PLACE_SHEET = 0.02
"""A sheet measured a turn out, at another mark or at the other stop, as a share. Common
practice."""
OFF_HEEL_NAMED = 0.5
"""Where a sheet itself names a stop off the heel, how often its valves were measured there. Common
practice: what is written down was mostly done."""
NO_GAP_WRITTEN, NO_GAP_BY_CHANCE = 0.75, 0.001
"""How often no gap is written as 0 where the valve is open, and where there is a gap. Common
practice."""
NO_GAP_MOST_MM = 0.06
"""What else is written there: a leaf that would not go, or hardly. Common practice."""
RAMP_SHAPE, RAMP_EDGE_MM = 0.35, 0.015
"""How far the true lift of a ramp may differ from the one that is computed: as a share of it, and
in any case. Common practice: cams of one timing differ so."""

# Findings of copied figures ------------------------------------------------------------------

SAME_FIGURE = 0.97
"""How often a copied figure is the same to the last digit. Common practice."""
COPIED_SHEET = 0.1
"""How often a student has copied from anybody, as a share. Common practice."""
LEAST_SHARED = 4
"""So many figures must be the same. Chosen."""
