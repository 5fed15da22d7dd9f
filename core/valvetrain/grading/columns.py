"""The columns of a reading sheet, in the order in which people write them: one table.

Whatever handles a sheet follows from it: how a line is read, what it is called in CSV, XLSX, JSON,
on paper, in print and on a phone, what is asked about when it is blank, and what counts as a whole
record. To add a column, add it here (and to an `Ask` below); nothing else has to know.
"""

from typing import Literal, NamedTuple

from valvetrain.engine import Engine


class Column(NamedTuple):
    """One thing that is written for a valve."""

    name: str
    """On record, on the wire and in files."""
    title: str
    """Over its field, on screens and on paper."""
    spoken: str
    """In a sentence, and to people who listen to the screen."""
    holds: Literal["gap", "shim", "stop", "verdict"]
    """A gap is written in the line's unit, a shim's thickness in millimetres."""
    file_titles: tuple[str, ...] = ()
    """What other programs and people call it in the heading of a table, in lower case."""
    always: bool = False
    """Whether a whole record has it on every line; others depend on what was found."""

    @property
    def is_length(self) -> bool:
        return self.holds in ("gap", "shim")

    @property
    def json_name(self) -> str:
        """Its field in `edrix-sheet/1`: a shim's carries its unit."""
        return f"{self.name}_mm" if self.holds == "shim" else self.name


READING = Column(
    "reading",
    "Gap",
    "the reading",
    "gap",
    ("reading", "reading typed", "gap", "clearance", "measured", "lash", "first pass", "1st pass",
     "pass 1"),
    always=True,
)  # fmt: skip
STOP = Column(
    "crank_deg",
    "Stop",
    "the stop",
    "stop",
    ("crank deg", "crank degrees", "crank angle", "angle", "degrees", "deg"),
    always=True,
)
VERDICT = Column(
    "verdict", "Verdict", "the verdict", "verdict", ("verdict", "judged", "in spec"), always=True
)
SECOND = Column(
    "second",
    "2nd pass",
    "the second pass",
    "gap",
    ("second", "second pass", "2nd pass", "pass 2", "reading 2", "second reading"),
    always=True,
)
SET = Column(
    "set",
    "Set to",
    "the gap before the nut",
    "gap",
    ("set", "set to", "before nut", "before the nut"),
)
AFTER = Column(
    "after",
    "Nut tight",
    "the gap with the nut tight",
    "gap",
    ("after", "after nut", "nut tight", "after the nut", "with the nut tight"),
)
SHIM_FITTED = Column(
    "shim_fitted", "Shim fitted", "the fitted shim", "shim", ("shim fitted", "fitted shim",
    "old shim"),
)  # fmt: skip
SHIM_CHOSEN = Column(
    "shim_chosen", "Shim to fit", "the shim to fit", "shim", ("shim chosen", "chosen shim",
    "shim to fit", "new shim"),
)  # fmt: skip
CLOSING = Column(
    "closing", "Closing gap", "the closing gap", "gap", ("closing", "closing gap", "closing "
    "clearance"),
)  # fmt: skip
CLOSING_FITTED = Column(
    "closing_fitted", "Closing shim fitted", "the fitted closing shim", "shim",
    ("closing fitted", "closing shim fitted", "fitted closing shim", "old closing shim"),
)  # fmt: skip
CLOSING_CHOSEN = Column(
    "closing_chosen", "Closing shim to fit", "the closing shim to fit", "shim",
    ("closing chosen", "closing shim chosen", "closing shim to fit", "new closing shim"),
)  # fmt: skip

BASIC = (READING, STOP, VERDICT)
"""Asked for on every sheet."""


class Ask(NamedTuple):
    """Something that a sheet may ask for besides, and the columns that it takes."""

    name: str
    title: str
    columns: tuple[Column, ...]
    needs: Literal["nothing", "a screw", "a shim", "a closing rocker"] = "nothing"


ASKS = {
    ask.name: ask
    for ask in (
        Ask("second", "a second pass", (SECOND,)),
        Ask("nut", "the gap before and after the lock nut", (SET, AFTER), "a screw"),
        Ask(
            "closing",
            "the closing gap of valves that are pulled shut",
            (CLOSING,),
            "a closing rocker",
        ),
        # Before the opening shims: in the order in which they are changed.
        Ask(
            "closing-shims",
            "the closing shim fitted and the closing shim to fit",
            (CLOSING_FITTED, CLOSING_CHOSEN),
            "a closing rocker",
        ),
        Ask("shims", "the shim fitted and the shim to fit", (SHIM_FITTED, SHIM_CHOSEN), "a shim"),
    )
}
FURTHER = {column.name: column for ask in ASKS.values() for column in ask.columns}
"""The columns that only some sheets ask for, by name."""
COLUMNS = {column.name: column for column in BASIC} | FURTHER


def asked_columns(asks: "frozenset[str] | list[str] | tuple[str, ...]") -> tuple[Column, ...]:
    """The further columns of a sheet that asks for these, in order."""
    return tuple(column for ask in ASKS.values() if ask.name in asks for column in ask.columns)


def cannot_be_asked(ask: Ask, engine: Engine) -> str | None:
    """Why this engine leaves nothing to write there; None where it does."""
    adjusters = list(engine.adjusters.values())
    if ask.needs == "a closing rocker" and not engine.closing:
        return "no valve of this engine is pulled shut; leave that column out"
    if ask.needs == "a shim" and not any(one.has_shims for one in adjusters):
        return "this engine has no shims; leave that column out"
    if ask.needs == "a screw" and adjusters and not any(one.has_nut for one in adjusters):
        return "this engine has no lock nuts; leave that column out"
    return None
