"""Packing and bringing a class is long work: a worker does it."""

from django.apps import AppConfig


class ArchiveConfig(AppConfig):
    name = "edrix.archive"

    def ready(self) -> None:
        from edrix.archive import packing
        from edrix.jobs import services as jobs

        jobs.register(packing.OUT, packing.pack)
        jobs.register(packing.IN, packing.bring)
