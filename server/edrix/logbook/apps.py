"""The logbook fills itself in: it listens to what happens at a stand."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    name = "edrix.logbook"

    def ready(self) -> None:
        from edrix.logbook import filling

        filling.listen()
