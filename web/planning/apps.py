"""The app's name."""

from django.apps import AppConfig


class Config(AppConfig):
    name = "web.planning"
