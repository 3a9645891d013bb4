"""The app's name, and what it listens to."""

from django.apps import AppConfig


class Config(AppConfig):
    name = "web.planning"

    def ready(self) -> None:
        from web.planning import stale  # noqa: F401 -- connects itself; models are loaded only now
