"""What moves a class's beat is listened to from the start."""

from django.apps import AppConfig


class TodayConfig(AppConfig):
    name = "edrix.today"

    def ready(self) -> None:
        from edrix.today import watched

        watched.listen()
