"""The app's name, and what it looks at."""

from django.apps import AppConfig


class Config(AppConfig):
    name = "web.people"

    def ready(self) -> None:
        from django.apps import apps

        from web.people import quotas

        quotas.watch(apps)
