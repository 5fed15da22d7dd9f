"""What a database says of marks, grades, findings and debriefs, as one JSON document.

Run as a program on a migrated database (EDRIX_DATABASE_URL), through the application's own
addresses, as the people of the demo school. `make.py` keeps what the version before said;
`test_yesterday.py` compares.
"""

import json
import os
import sys
from typing import Any


def main() -> None:
    os.environ["DJANGO_SETTINGS_MODULE"] = "tests.settings"
    import django

    django.setup()
    if sys.argv[1:]:
        _read_archive(sys.argv[1])
    print("\n" + json.dumps(everything(), ensure_ascii=False, sort_keys=True))


def _read_archive(path: str) -> None:
    from edrix.accounts.models import User
    from edrix.archive import services as archive

    with open(path, "rb") as file:
        archive.read_archive(User.objects.get(sign_in_name="tove"), file.read())


def everything() -> dict[str, dict[str, Any]]:
    from django.test import Client

    from edrix.accounts.models import User
    from edrix.classes.models import Membership
    from edrix.lessons.models import Lesson
    from edrix.practice.models import PracticeRun
    from edrix.rota.models import Rota
    from edrix.sheets.models import HandIn, Sheet
    from edrix.stands.models import Stand

    clients: dict[int, Client] = {}

    def told(user: User, path: str) -> Any:
        if user.id not in clients:
            clients[user.id] = Client(SERVER_NAME="localhost")
            clients[user.id].force_login(user, "django.contrib.auth.backends.ModelBackend")
        answer = clients[user.id].get(path)
        return answer.json() if answer.status_code == 200 else {"status": answer.status_code}

    tove = User.objects.get(sign_in_name="tove")
    hand_ins = HandIn.objects.select_related("student").order_by("id")
    runs = PracticeRun.objects.select_related("student").order_by("id")
    students = Membership.objects.filter(role="student").order_by("id")
    return {
        "hand_ins": {str(h.id): told(tove, f"/api/hand-ins/{h.id}") for h in hand_ins},
        "own": {
            str(h.id): told(h.student, f"/api/sheets/{h.sheet_id}")["result"] for h in hand_ins
        },
        "boards": {
            str(s.id): told(tove, f"/api/sheets/{s.id}/board") for s in Sheet.objects.order_by("id")
        },
        "findings": {
            str(s.id): told(tove, f"/api/sheets/{s.id}/findings")
            for s in Sheet.objects.order_by("id")
        },
        "debriefs": {str(r.id): told(tove, f"/api/runs/{r.id}/debrief") for r in runs},
        "runs": {str(r.id): told(r.student, f"/api/runs/{r.id}") for r in runs},
        "studies": {
            str(s.id): told(tove, f"/api/stands/{s.id}/study") for s in Stand.objects.order_by("id")
        },
        "logs": {
            str(s.id): told(tove, f"/api/stands/{s.id}/log") for s in Stand.objects.order_by("id")
        },
        "store": told(tove, "/api/store"),
        # What has begun by now is another matter.
        "rotas": {
            str(r.id): {
                name: told(tove, f"/api/rotas/{r.id}")[name]
                for name in ("title", "wish", "bookings", "students")
            }
            for r in Rota.objects.order_by("id")
        },
        # What a class was asked, what it mistakes, and what it can be taught with.
        "asked": {
            str(class_id): told(tove, f"/api/classes/{class_id}/questions")
            for class_id in students.values_list("teaching_class_id", flat=True)
        },
        "lessons": {
            str(one.id): told(tove, f"/api/lessons/{one.id}?class_id=1")
            for one in Lesson.objects.order_by("id")
        },
        "progress": {
            f"{m.teaching_class_id}/{m.user_id}": told(
                tove, f"/api/classes/{m.teaching_class_id}/students/{m.user_id}/progress"
            )
            for m in students
        },
    }


if __name__ == "__main__":
    main()
