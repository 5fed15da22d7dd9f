"""The rota's long work is done by a worker; a calendar's address ends with its owner's passcode."""

from typing import Any

from django.apps import AppConfig


class RotaConfig(AppConfig):
    name = "edrix.rota"

    def ready(self) -> None:
        from edrix.accounts.signals import passcode_given
        from edrix.jobs import services as jobs
        from edrix.rota import calendars, planning

        jobs.register(planning.KIND, planning.work)

        def end(user_id: int, **_signal: Any) -> None:
            calendars.end_feed_of(user_id)

        passcode_given.connect(end, weak=False, dispatch_uid="calendar ends")
