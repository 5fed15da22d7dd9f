"""The practice engine: a state machine that behaves as a real engine does, and remembers.

`deal_setup` hides an engine, `first_state` opens it, `apply` does one action, `replay` does many,
`asks` and `advise` coach, `debrief` tells at the end what nobody could see before.
"""

from valvetrain.practice.actions import (
    ACTIONS,
    Action,
    GapKind,
    fields_of,
    read_action,
    write_action,
)
from valvetrain.practice.boxes import BOXES
from valvetrain.practice.closing import FirstStartResult, Outcome, first_start
from valvetrain.practice.coach import Advice, advise, asks
from valvetrain.practice.constants import PRACTICE_VERSION
from valvetrain.practice.debrief import (
    Debrief,
    Moment,
    ValveTruth,
    debrief,
    what_it_shows,
    write_debrief,
)
from valvetrain.practice.measuring import margin_now_deg, told_while
from valvetrain.practice.observation import Observation, RefusedActionError
from valvetrain.practice.run import apply, replay
from valvetrain.practice.setup import (
    FaultKind,
    Level,
    PlantedFault,
    Setup,
    SetupError,
    deal_setup,
    move_faults,
)
from valvetrain.practice.state import ShimSeat, State, first_state
from valvetrain.practice.view import SeenValve, View, view
from valvetrain.practice.walk import Step, next_step

__all__ = [
    "ACTIONS",
    "BOXES",
    "PRACTICE_VERSION",
    "Action",
    "Advice",
    "Debrief",
    "FaultKind",
    "FirstStartResult",
    "GapKind",
    "Level",
    "Moment",
    "Observation",
    "Outcome",
    "PlantedFault",
    "RefusedActionError",
    "SeenValve",
    "Setup",
    "SetupError",
    "ShimSeat",
    "State",
    "Step",
    "ValveTruth",
    "View",
    "advise",
    "apply",
    "asks",
    "deal_setup",
    "debrief",
    "fields_of",
    "first_start",
    "first_state",
    "margin_now_deg",
    "move_faults",
    "next_step",
    "read_action",
    "replay",
    "told_while",
    "view",
    "what_it_shows",
    "write_action",
    "write_debrief",
]
