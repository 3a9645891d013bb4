"""The app's name, and what it listens to."""

from django.apps import AppConfig


class Config(AppConfig):
    name = "web.jobs"

    def ready(self) -> None:
        from web.jobs import uses  # noqa: F401 -- adds itself to what is wanted; models are loaded only now
