"""A file of readings taken in by a worker, while its instructor's page shows how far it is."""

from django.db import transaction

from edrix.accounts.models import User
from edrix.errors import ConflictError
from edrix.intake import services
from edrix.jobs import services as jobs
from edrix.jobs.services import Done, Job, Working
from edrix.sheets import services as sheets

KIND = "readings-in"


def ask(user: User, sheet_id: int, data: bytes, digest: str, *, confirmed: bool) -> Job:
    """For an instructor of the sheet's class. digest names what a preview showed: it is taken in
    once, also where it is asked for again before a worker is through with it. confirmed: readings
    that look like slips are right."""
    sheets.sheet_for_instructor(user, sheet_id)
    given = {"sheet": sheet_id, "digest": digest, "confirmed": confirmed}
    about = f"sheet {sheet_id}"
    same = jobs.under_way(user, KIND, about, given)
    return same or jobs.ask(user, KIND, about=about, given=given, file=data)


@transaction.atomic
def work(working: Working) -> Done:
    """All of it or nothing, also where somebody stops it on the way."""
    given = working.given
    taking = services.take_in(
        working.asked_by,
        given["sheet"],
        working.file,
        given["digest"],
        # Jobs that wait from before an upgrade did not ask.
        confirmed=given.get("confirmed", False),
    )
    for at in taking.progress():
        working.tell_meanwhile(done=at.done, of=at.of)
        if working.is_stopped():
            raise ConflictError("It was stopped on the way; nothing was taken in.")
    return working.finish(Done({"takes": len(taking.seen.taken)}))
