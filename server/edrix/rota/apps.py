"""The rota's long work is done by a worker."""

from django.apps import AppConfig


class RotaConfig(AppConfig):
    name = "edrix.rota"

    def ready(self) -> None:
        from edrix.jobs import services as jobs
        from edrix.rota import planning

        jobs.register(planning.KIND, planning.work)
