"""The app's name, and what it listens to."""

from django.apps import AppConfig


class Config(AppConfig):
    name = "web.jobs"

    def ready(self) -> None:
        from web.jobs import moving, uses  # noqa: F401 -- connect their receivers; models are loaded only now
