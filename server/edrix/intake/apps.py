"""Taking a file of readings in is long work: a worker does it."""

from django.apps import AppConfig


class IntakeConfig(AppConfig):
    name = "edrix.intake"

    def ready(self) -> None:
        from edrix.intake import taking
        from edrix.jobs import services as jobs

        jobs.register(taking.KIND, taking.work)
