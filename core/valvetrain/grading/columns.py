"""The columns of a reading sheet, in the order in which people write them: one table.

Whatever handles a sheet follows from it: how a line is read, what it is called in CSV, XLSX, JSON,
on paper, in print and on a phone, what is asked about when it is blank, and what counts as a whole
record. To add a column, add it here (and to an `Ask` below); nothing else has to know.
"""

from collections.abc import Collection
from typing import Literal, NamedTuple

from valvetrain.engine import Engine, Role


class Choice(NamedTuple):
    """One of the answers that a column of choices offers."""

    value: str
    """On record, on the wire and in files."""
    title: str
    """On screens and on paper."""
    words: tuple[str, ...] = ()
    """What people write for it in a table, in lower case."""


class Column(NamedTuple):
    """One thing that is written for a valve."""

    name: str
    """On record, on the wire and in files."""
    title: str
    """Over its field, on screens and on paper."""
    spoken: str
    """In a sentence, and to people who listen to the screen."""
    holds: Literal["gap", "shim", "stop", "verdict", "choice"]
    """A gap is written in the line's unit, a shim's thickness in millimetres; a choice is one of
    the options."""
    file_titles: tuple[str, ...] = ()
    """What other programs and people call it in the heading of a table, in lower case."""
    always: bool = False
    """Whether a whole record has it on every line; others depend on what was found."""
    options: tuple[Choice, ...] = ()
    nothing: str = ""
    """What it means that none of the options is chosen."""

    @property
    def is_length(self) -> bool:
        return self.holds in ("gap", "shim")

    @property
    def json_name(self) -> str:
        """Its field in `edrix-sheet/1`: a shim's carries its unit."""
        return f"{self.name}_mm" if self.holds == "shim" else self.name

    def chosen(self, text: str) -> Choice | None:
        """The option that a text names, by its value, its title or another word for it."""
        plain = " ".join(text.casefold().split())
        return next(
            (one for one in self.options if plain in (one.value, one.title.casefold(), *one.words)),
            None,
        )

    def told(self, text: str) -> str:
        """What stands on record as people read it."""
        option = self.chosen(text)
        return text if option is None else option.title


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
FINAL = Column(
    "final",
    "Settled",
    "the figure settled on",
    "gap",
    ("final", "settled", "settled on", "final reading", "final figure"),
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
RUNNING = Column(
    "running",
    "Running range",
    "the check of the running range",
    "choice",
    ("running", "running range", "running check"),
    options=(
        Choice("within", "thin goes, thick does not", ("ok", "in", "holds")),
        Choice("tight", "thin does not go"),
        Choice("loose", "thick goes"),
    ),
    nothing="not checked",
)
LEAVE = Column(
    "leave",
    "Leave it",
    "the reason for leaving it",
    "choice",
    ("leave", "leave it", "left as it is"),
    options=(
        Choice("no-better", "the next size lands no better", ("no better",)),
        Choice("just-over", "a hundredth over, runs soon again", ("just over",)),
    ),
    nothing="no",
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
    needs: Literal[
        "nothing", "a screw", "a shim", "a closing rocker", "a brake rocker", "nut or shims"
    ] = "nothing"
    """Of the engine; *nut or shims* must be asked for on the same sheet."""


ASKS = {
    ask.name: ask
    for ask in (
        Ask("second", "a second pass", (SECOND,)),
        Ask("final", "the figure settled on where passes differ", (FINAL,)),
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
        Ask(
            "leave",
            "leave it, with the reason; accepted where the next size lands no better",
            (LEAVE,),
            "nut or shims",
        ),
        Ask(
            "leave-over",
            "leave it; accepted too where it is loose by a hundredth and runs soon again",
            (LEAVE,),
            "nut or shims",
        ),
        Ask(
            "running",
            "the running range of brake rockers, by a thin and a thick stack",
            (RUNNING,),
            "a brake rocker",
        ),
    )
}
FURTHER = {column.name: column for ask in ASKS.values() for column in ask.columns}
"""The columns that only some sheets ask for, by name."""
COLUMNS = {column.name: column for column in BASIC} | FURTHER


def asked_columns(asks: Collection[str]) -> tuple[Column, ...]:
    """The further columns of a sheet that asks for these, in order."""
    wanted = (column for ask in ASKS.values() if ask.name in asks for column in ask.columns)
    return tuple(dict.fromkeys(wanted))


def cannot_be_asked(ask: Ask, engine: Engine, asked: Collection[str] = ()) -> str | None:
    """Why this engine, or what else is asked, leaves nothing to write there; None where it does."""
    if ask.needs == "nut or shims" and not {"nut", "shims"} & set(asked):
        return "leaving a valve is judged with its lock nut or its shim; ask for one of them too"
    if any(_serves(ask, engine, role) for role in engine.clearance):
        return None
    return f"{_LACKS[ask.needs]}; leave that column out"


_LACKS = {
    "a closing rocker": "no valve of this engine is pulled shut",
    "a brake rocker": "no rocker of this engine has a running range",
    "a shim": "this engine has no shims",
    "a screw": "this engine has no lock nuts",
}


def _serves(ask: Ask, engine: Engine, role: Role) -> bool:
    """Whether a valve of this role has what is asked for."""
    adjuster = engine.adjusters.get(role)
    if ask.needs == "a closing rocker":
        return role in engine.closing
    if ask.needs == "a brake rocker":
        return engine.clearance[role].running is not None
    if ask.needs == "a shim":
        return adjuster is not None and adjuster.has_shims
    if ask.needs == "a screw":
        return adjuster is None or adjuster.has_nut
    return True


def columns_at(engine: Engine, role: Role, asks: Collection[str]) -> tuple[Column, ...]:
    """The further columns that a valve of this role has to fill in, in order."""
    wanted = (ask.name for ask in ASKS.values() if ask.name in asks and _serves(ask, engine, role))
    return asked_columns(frozenset(wanted))


def askable(engine: Engine) -> tuple[str, ...]:
    """The names of what a sheet of this engine can ask for, in order."""
    return tuple(ask.name for ask in ASKS.values() if cannot_be_asked(ask, engine, ASKS) is None)
