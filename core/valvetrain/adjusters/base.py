"""What every kind of adjuster can be asked, and the one that a file says nothing of.

A kind lives in a file of its own, with its fields, how a file writes it, what is suspicious in it
and its arithmetic; `KINDS` in this package lists them. Everything else asks an adjuster and never
which kind it is.
"""

from collections.abc import Iterator
from typing import Any, ClassVar, Literal, NamedTuple, Protocol

from valvetrain.adjusters.sizes import Codes, Sizes
from valvetrain.manual import TorqueFigure

Schema = dict[str, Any]
Place = Literal["under-bucket", "over-bucket", "under-follower"]


class Screwed(Protocol):
    """What only a screw with its lock nut can be asked."""

    @property
    def pitch_mm(self) -> float: ...
    @property
    def locknut(self) -> TorqueFigure | None:
        """Its torque as the file gives it."""
        ...

    @property
    def locknut_torque_nm(self) -> float | None: ...
    @property
    def rocker_ratio(self) -> float | None: ...
    @property
    def gap_per_turn_mm(self) -> float:
        """How much one whole turn of the screw changes the gap at the valve."""
        ...


class Shimmed(Protocol):
    """What only shims can be asked."""

    @property
    def place(self) -> Place: ...
    @property
    def sizes(self) -> Sizes: ...
    @property
    def cams_out(self) -> bool:
        """Whether the cams have to come out to change one."""
        ...

    @property
    def diameter_mm(self) -> float | None: ...
    @property
    def codes(self) -> Codes | None:
        """What its stamps mean; None where they are sizes."""
        ...


class Plate(NamedTuple):
    """What an engine's plate says of an adjuster; None where it says nothing."""

    kind: str
    pitch_mm: float | None = None
    locknut_torque_nm: float | None = None
    cams_out: bool = False
    """Whether the cams have to come out to change its shim."""


class Adjuster:
    """How the clearance of a valve is changed. Answers are those of an adjuster that is unknown."""

    __slots__ = ()

    kind: ClassVar[str] = "unstated"
    """As an engine file names it."""
    has_nut: ClassVar[bool] = False
    """A screw with a lock nut, which moves the gap when it is tightened."""
    has_shims: ClassVar[bool] = False
    adjusts_itself: ClassVar[bool] = False
    """Then nothing is measured or set, and its gap has no tolerance to speak of."""

    wider: ClassVar[str] = ""
    """What makes a gap larger, in words; empty where nothing is known or nothing is set."""
    narrower: ClassVar[str] = ""

    def __eq__(self, other: object) -> bool:
        return type(self) is type(other)

    def __hash__(self) -> int:
        return hash(self.kind)

    @property
    def has_push_rod(self) -> bool:
        """Whether its screw is known to sit on a push rod."""
        return False

    @property
    def seat(self) -> str:
        """Where its screw or shim sits, as an engine file names the place; empty: not known."""
        return ""

    @property
    def screw(self) -> Screwed | None:
        """Itself where it is a screw: what only screws have is asked of that."""
        return None

    @property
    def shim(self) -> Shimmed | None:
        return None

    def without_screw(self, valve: int) -> str:
        """Why there is no screw to turn, in a sentence for whoever tries."""
        return f"Nothing is known of how valve {valve} is adjusted: the engine file does not say."

    def plate(self) -> Plate:
        return Plate(self.kind)

    def write(self) -> dict[str, Any]:
        """As an engine file has it."""
        return {"kind": self.kind}

    def suspicions(self, role: str) -> Iterator[str]:
        """What is legal but worth a second look, in sentences."""
        return iter(())


UNSTATED = Adjuster()
"""Of a role for which the engine file gives no adjuster."""
