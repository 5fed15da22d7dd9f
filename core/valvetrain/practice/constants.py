"""Every figure of the practice engine, with its unit, kind and source.

Changing one changes what an engine does and what a hand feels: then `PRACTICE_VERSION` changes too,
and runs of an older version are shown as they were observed, never by today's figures. Where
nothing else is said a figure is *common practice*, which has no published source.
"""

from decimal import Decimal

from valvetrain.constants import DRAG_BAND_MM, FORCED_BAND_MM
from valvetrain.engine import Decompressor, Role

PRACTICE_VERSION = "edrix-practice/6"
"""Of the figures below and of what actions do with them."""

# What is dealt -------------------------------------------------------------------------------

CREEP_MM = (0.015, 0.05)
"""How far a lock nut moves the gap when it is tightened to its torque: least and most."""
THREAD_MM = (5.5, 6.5)
"""How much of an adjusting screw shows above its nut: least and most."""
BENT_ROD_THREAD_MM = 4.0
"""A bent push rod is shorter: so much more of its screw shows."""
HOLLOW_MM = (0.04, 0.08)
"""How deep a worn pad is hollow, which a leaf bridges: it reads so much tight. Least and most."""
LEAST_OVER_PAD_MM = 0.13
"""A spec that begins below this has no room for a hollow pad: no leaf would get in over it.
Derived: the deepest hollow and the thinnest leaf of a coarse box."""
STRAY_MM = (0.04, 0.14)
"""How far outside the spec a wrong setting lies: least and most."""
RECEDED_MM = (0.10, 0.18)
"""How much below the spec a receding valve has come: least and most."""
SLACK_MM = (0.03, 0.06)
"""What a push rod that oil holds up, or a follower that hangs on its lobe, takes of the gap until
it is pressed down or lifted. Least and most."""
WARM_MM = {Role.INTAKE: 0.04, Role.EXHAUST: 0.07, Role.BRAKE: 0.07}
"""How much of a cold gap is gone on an engine that was just run."""
COOLING_H = 2.0
"""In so many hours a warm head loses all but 1/e (37 %) of its warmth. Standing overnight leaves
nothing of it."""
OVERNIGHT_H = 14.0
"""From closing time to the next morning."""
THIN_LEAF_UM = 1000
"""Up to here a leaf is thin: thicker ones are stacked with one of these. Chosen."""
MOST_TRIES = 5
"""So often a valve is set in the shown job before it is left: two or three tries are usual."""
NEAR_LIMIT_MM = 0.006
"""So near a limit a hand cannot tell on which side a gap lies (two standard deviations of one
touch): the shown job brings every gap so far inside, and nobody is blamed for changing one."""
BLOCK_UM = 1000
"""Thickness blocks come by whole millimetres. Chosen."""
BLOCKS_FROM_UM = 1000
"""From here on a gap is measured with a thickness block. Chosen."""
ROOM_ABOVE_MM = 0.3
"""A box reaches this far beyond the engine's thickest gap: a loose valve can be measured too."""
FINE_UM = 10
"""Bounds that lie no further apart need no further leaf: a figure is written to a hundredth."""
CLEAR_MM = 0.01
"""A sound valve is dealt at least so far inside its spec, as far as the spec has room for it, and a
wrong one has a shim that brings it as far inside: what no hand can tell teaches nothing. Chosen."""
SAME_FIGURE_MM = 0.013
"""A figure on the notepad no further from what the leaves say is that gap, rounded to a hundredth
or to half a thou. Chosen."""
NO_PLAY_MM = 0.02
"""A closing shim that is held fast stands for a gap so far below none: its next shim is thinner.
Chosen: a hand cannot tell how much."""
SAME_PLACE_DEG = 0.5
"""Nearer than this to a place the crank stands there. Chosen."""
WARM_FELT_MM = 0.01
"""From here on what warmth takes of a gap is a leaf's step, and spoils a figure."""
HAND_WARM = 0.15
"""Of the warmth at first: below this a head is no longer told from a cold one by hand."""
HALF_TOOTH_DEG = 9.0
"""Half a tooth of a cam sprocket with 40 teeth, in crank degrees. Derived: 720 / 40 / 2."""
FALSE_MARK_DEG = 18.0
"""How far before dead centre the ignition mark stands where the file has none."""
PLANTED_BUMP = Decompressor(Role.EXHAUST, 680.0, 40.0, 0.6)
"""A decompressor that was left in: it lifts the exhaust by 0.6 mm over firing TDC at hand speed,
and lets go 40 degrees after it."""
UM_PER_THOU = 25.4
"""A thousandth of an inch in µm. Exact."""
BOX_OF_EACH = 2
"""Shims of each size in the box."""
SHIMS_FROM, SHIMS_SPAN = 0.25, 0.5
"""A dealt shim lies in the middle half of the sizes made, so that a change has room both ways."""

# What a hand feels ---------------------------------------------------------------------------

HAND_MM = 0.003
"""Standard deviation of one touch by a steady hand."""
HOW_MM = {"straight": 0.0, "skewed": 0.03, "tip": 0.07, "one-side": 0.0}
"""How much tight a leaf reads by how it is put in."""
OIL_MM = 0.004
"""What an oil film takes of a gap."""
PRESSING_MM = 0.035
"""How far a rocker gives under a hand that presses on it: it reads so much tight."""
EACH_LEAF_MM = 0.002
"""Every further leaf of a stack brings so much air and oil with it."""
HANGING_MM = 0.25
"""What a brake rocker that hangs off its detent takes of its gap."""
TIPPED = 2.0
"""A leaf t under one side of a bridge tips it about its other end, and lifts its middle, where the
rocker bears, by t / 2 only: it goes in up to twice the gap. Exact: the lever's geometry."""
DRAG_MM, FORCED_MM = float(DRAG_BAND_MM), float(FORCED_BAND_MM)
"""The hand feels what the reading of gauges takes it to feel (see `gauges`)."""
FREE_PULL, FREE_PULL_PER_MM = 0.2, 2.0
"""The pull of a leaf that just goes freely (of 1), and by how much it falls for each mm of room."""
DRAG_PULL, DRAG_PULL_FALL = 0.65, 0.4
"""The pull of a leaf that drags with no room at all, and its fall over the band of drag."""
TIGHT_PULL, TIGHT_PULL_RISE = 0.75, 0.2
"""The pull of a leaf that is just forced, and its rise over the band of forcing."""
PULL_STEP = 0.05
"""A pull is told no finer than a hand feels it."""

# Blind feel ---------------------------------------------------------------------------------

BLIND_LEAVES_UM = (100, 401, 10)
"""The leaves of it: 0.10 to 0.40 mm by hundredths."""
BLIND_BEYOND_MM = 0.01
"""How far beyond what a leaf is held by the gap may lie."""
BLIND_TRIES = 20
"""The last so many guesses make a threshold. Chosen: the work of ten minutes."""
SAME_GAPS_MM, LEAST_SPREAD_MM = 1e-6, 0.0005
"""Gaps that do not differ show no threshold; and guesses to the thousandth scatter by no less than
half of one. Chosen."""
BLIND_LEAST = 8
"""Fewer guesses than this say nothing of a hand."""
SURE = 0.75
"""Told apart three times in four. Convention of the theory of signal detection."""

# Looking and turning -------------------------------------------------------------------------

SEEN_DEG = 25.0
"""A mark is in sight of its pointer this many crank degrees from it."""
PIN_DEG = 1.5
"""So near to its hole a timing pin finds it, and draws the crank to its place."""
AT_POINTER_DEG = 2.0
"""So near a mark counts as standing at its pointer when the crank stops."""
PLAY_MM = 0.03
"""More play than this is felt by a wiggle as loose, less as hardly any."""
RATTLES_MM = 0.2
"""A rocker rattles from so much play beyond twice its valve's own largest clearance."""
WIGGLE_HAND_MM = 0.005
"""Standard deviation of the play that a wiggling hand feels."""
SEEN_STEP_MM = 0.1
"""How finely the eye tells how far a follower is pressed down; the ramp is hardly seen."""

# Adjusting -----------------------------------------------------------------------------------

RIGHT_DRAG_MM = 0.006
"""The room that is left beside a leaf which drags as it should."""
SET_HAND_MM = 0.003
"""Standard deviation of a screw set by feel."""
OVER_TORQUE = 1.25
"""From this share of the maker's torque a screw stretches; it is told once before."""
BY_HAND = (0.8, 1.1)
"""Shares of the maker's torque that a ring spanner by feel comes to: least and most."""
MICROMETER_MM = 0.01
"""A micrometer is read in hundredths."""
MICROMETER_HAND_MM = 0.002
"""Standard deviation of a micrometer reading."""
SPRUNG_MM = 0.1
"""A valve lifted by more than this pushes its cam round when that is let go."""
JUMP_DEG, JUMP_SCATTER_DEG = 12.0, 8.0
"""How far the springs turn a crank that is not locked: at least, and the spread of more."""
SMALLEST_STACK_ERROR_MM = Decimal("0.005")
"""A stack is advised over one leaf where it comes nearer by at least this."""

# The first start -----------------------------------------------------------------------------

TICKS_MM = 0.03
"""So far above its spec a valve is heard."""
HAMMERS_MM = 0.5
"""So far above it the parts hammer each other."""
WEAK_AIR, NO_AIR = 0.8, 0.5
"""Of what fills a cylinder at its nominal clearances (by the area under the lift of its valves over
the cycle): below the first it is weak, below the second it does not fire."""
STRIKES_DEG = 30.0
"""Cams so many crank degrees off: valves meet pistons."""
HARD_DEG = 12.0
"""Cams so many crank degrees off: the engine starts hard."""
SLACK_TORQUE = 0.7
"""A nut below this share of its torque works loose."""
BARELY_MM = 0.001
"""A shim that brings a gap no further from the middle than this took it no wrong way. Chosen: a
tenth of a leaf's step."""
NO_GAP_MM = 2.0
"""From here on it is no gap but a part that is missing: no effect of a clearance is told of it."""

# What is remarked ---------------------------------------------------------------------------

FIGURE_MM = Decimal("0.01")
"""A written figure may lie this far outside what the leaves prove: it is written to a hundredth,
and a hand is not steady."""
SIZE_READ_MM = Decimal("0.01")
"""A shim's size on the notepad may lie so far off: a micrometer is read in hundredths."""
ANGLE_MM = Decimal("0.02")
"""A figure that rests on the angle of a screw may lie so far off it: a slot is read to some five
degrees."""
ANGLE_STEP_DEG = 5
"""How finely a hand tells by how much a screw was turned: its slot against the rocker."""
TURNED_SHIM_MM = Decimal("0.1")
"""A closing shim that turns between two fingers may stand for a figure up to this."""

# What one action may ask ----------------------------------------------------------------------

MOST_TURN_DEG = 1440.0
"""Four turns of the crank at once: nobody means more. Limit."""
MOST_SCREW_DEG = 3600.0
"""Ten turns of a screw at once: no thread is longer. Limit."""
MOST_STACK = 6
"""Leaves in one stack. Limit."""
MOST_DOTS = 4
"""Dots of paint on one pulley. Limit."""
MOST_HOURS = 72.0
"""Let stand at once: from Friday to Monday. Limit."""
MOST_ACTIONS = 20_000
"""Actions, or planted faults, of one file. Limit."""
MOST_SEED = 2**63 - 1
"""Limit."""
MOST_NOTE = 20
"""Characters of one figure on the notepad. Limit."""
