"""Handing in: exactly once, and marked at once. One way for phone, paper and file.

Example: Ines taps *Hand in*, the answer is lost in the Wi-Fi, and her phone sends the same again.
The sheet is in, its request key is known, and she gets the marks that she missed.
"""

from collections.abc import Iterable, Iterator
from decimal import Decimal

from django.db import IntegrityError, transaction
from django.db.models import JSONField, Value

from edrix import clock
from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, QuestionsError
from edrix.logbook import filling
from edrix.marking.marks import Markers, marking_of
from edrix.marking.models import Marking
from edrix.marking.services import own_hand_in
from edrix.safety import services as safety
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine, read_lines
from edrix.sheets.services import HandIn, Sheet, Submission
from valvetrain.adjusters import gap_with_shim
from valvetrain.grading import Entry, questions
from valvetrain.grading.columns import LEAVE

SHEETS_AT_ONCE = 250
"""How many are kept between two words of progress."""


def hand_in(
    user: User, sheet_id: int, lines: list[TypedLine], *, request_key: str, confirmed: bool
) -> HandIn:
    """Hands a student's own sheet in.

    The same request_key again (a double click, a retry after a lost answer) gives the same
    hand-in; another one raises ConflictError. Raises InvalidError for lines that cannot be
    read, and QuestionsError while likely slips are not confirmed. Nothing is half-saved.
    """
    sheet = sheets.sheet_to_write(user, sheet_id)
    if (before := own_hand_in(user, sheet)) is not None:
        return _the_same(before, request_key)
    sheets.require_open(sheet)
    entries = read_lines(engines.core_engine(sheet.stand.engine_version), lines)
    asked = _questions(user, sheet, entries)
    if asked and not confirmed:
        raise QuestionsError("Look at these once more before handing in.", asked)
    try:
        ((made,),) = take(sheet, [Submission(user.id, entries, request_key)])
    except IntegrityError:
        # Another request of this student was quicker between our look and our write.
        return _the_same(HandIn.objects.get(sheet=sheet, student=user), request_key)
    return made


def take(sheet: Sheet, brought: list[Submission]) -> Iterator[list[HandIn]]:
    """Keeps and marks sheets, some at once, in one transaction: all or nothing.

    A generator that has to be run to its end; closed before, nothing was taken. Raises
    IntegrityError where one of these students has handed in already.
    """
    with transaction.atomic():
        held = sheets.locked(sheet.id)
        markers = Markers(held, held.key)
        for first in range(0, len(brought), SHEETS_AT_ONCE):
            some = brought[first : first + SHEETS_AT_ONCE]
            made = sheets.keep(held, some)
            _keep_markings(
                marking_of(hand_in, markers.of(one.not_asked).mark(one.entries))
                for hand_in, one in zip(made, some, strict=True)
            )
            _into_the_log(held, made, some)
            yield made


def _into_the_log(sheet: Sheet, made: list[HandIn], brought: list[Submission]) -> None:
    students = accounts.people([hand_in.student_id for hand_in in made])
    filling.sheets_handed_in(
        sheet.stand,
        sheet.title,
        [
            filling.HandedIn(
                hand_in.id,
                students[hand_in.student_id],
                hand_in.handed_in_at,
                [left_of(entry) for entry in one.entries if entry.reading_mm is not None],
            )
            for hand_in, one in zip(made, brought, strict=True)
        ],
    )


def left_of(entry: Entry) -> filling.Left:
    """What a valve was found at, by the figure that was settled on, and left at if it was changed:
    the reading after it, or what the shim that was chosen makes of it."""
    written = {name: typed for name, typed in entry.further.items() if typed.mm is not None}
    settled, after = written.get("final"), written.get("after")
    found_mm = entry.reading_mm if settled is None else settled.mm
    found_typed = entry.reading_text if settled is None else settled.text
    fitted, chosen = written.get("shim_fitted"), written.get("shim_chosen")
    changed = fitted is not None and chosen is not None and fitted.mm != chosen.mm
    left_typed, left_mm = "", None
    if after is not None and (changed or after.mm != found_mm):
        left_typed, left_mm = after.text, after.mm
    elif changed and found_mm is not None and fitted and chosen and fitted.mm and chosen.mm:
        left_mm = max(Decimal(0), gap_with_shim(found_mm, fitted.mm, chosen.mm))
        left_typed = f"{left_mm:f}"
    shim = chosen if changed else fitted
    shim_mm = shim.mm if shim else None
    why = entry.choice(LEAVE)
    reason = LEAVE.told(why) if why is not None else ""
    return filling.Left(entry.valve, found_typed, found_mm, left_typed, left_mm, shim_mm, reason)


def _keep_markings(markings: Iterable[Marking]) -> None:
    """Django sends plain values as one array a column, and psycopg escapes every quote of a text in
    an array by itself: of marks, which are JSON, that took a third of a big file's time. An
    expression is sent as a value of its own."""
    rows = list(markings)
    for row in rows:
        row.valves = Value(row.valves, JSONField())
    Marking.objects.bulk_create(rows)


def _questions(user: User, sheet: Sheet, entries: list[Entry]) -> list[FieldFault]:
    engine = engines.core_engine(sheet.stand.engine_version)
    return [
        *_record_gaps(user, sheet),
        *(
            FieldFault(f"valve {q.valve}.{q.field}", q.says)
            for q in questions(engine, entries, sheet.asks)
        ),
    ]


def _record_gaps(user: User, sheet: Sheet) -> list[FieldFault]:
    """What the safety record of this work lacks: asked about, never a reason to refuse."""
    engine_id = sheet.stand.engine_version.engine_id
    opening = safety.current(user, engine_id=engine_id, stand_id=sheet.stand_id)
    if opening is None:
        return [FieldFault("record", "the isolation list of this stand is not ticked today.")]
    if opening.closed_at is None:
        said = "the closing list of this stand is not ticked."
        return [FieldFault("record", said)]
    return []


def _the_same(made: HandIn, request_key: str) -> HandIn:
    if made.request_key != request_key:
        when = clock.moment(made.handed_in_at)
        raise ConflictError(
            f"You handed this sheet in on {when}, and a sheet is handed in once. "
            "Ask your instructor if something in it must be put right."
        )
    return made
