"""A class packed, and brought, by a worker, while its instructor's page waits."""

from django.db import transaction

from edrix.accounts.models import User
from edrix.archive import services
from edrix.classes import services as classes
from edrix.errors import NotAllowedError
from edrix.jobs import services as jobs
from edrix.jobs.services import Done, Job, Working

OUT, IN = "archive-out", "archive-in"


def ask_out(user: User, class_id: int) -> Job:
    """For an instructor of the class."""
    classes.require_instructor(user, class_id)
    return jobs.ask(user, OUT, about=f"class {class_id}", given={"class": class_id})


def ask_in(user: User, data: bytes) -> Job:
    """For people who teach."""
    if not user.may_teach:
        raise NotAllowedError("Only people who teach make classes.")
    return jobs.ask(user, IN, file=data)


def pack(working: Working) -> Done:
    name, body = services.write_archive(working.asked_by, working.given["class"])
    return Done(file=body, file_name=name)


@transaction.atomic
def bring(working: Working) -> Done:
    class_id = services.read_archive(working.asked_by, working.file)
    return working.finish(Done({"class_id": class_id}))
