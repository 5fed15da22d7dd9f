"""The logbook fills itself in: it listens to what happens at a stand."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    name = "edrix.logbook"

    def ready(self) -> None:
        from edrix.jobs import services as jobs
        from edrix.logbook import filling, importing

        filling.listen()
        jobs.register(importing.KIND, importing.work)
