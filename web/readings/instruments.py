"""The meter on the bench: a stand-in, unless the settings name a real one."""

from importlib import import_module
from typing import Protocol

from django.conf import settings

from agronomy.instruments.steady import Sample
from agronomy.instruments.wire import parse_line


class Meter(Protocol):
    """What any meter has to do."""

    def __init__(self, seed: str, speed: float): ...

    def lines(self, seconds: float) -> list[bytes]:
        """All lines since the electrode was put in, so many seconds ago."""


def samples_since(seconds: float, seed: str) -> list[Sample]:
    """What the meter has said since it was put in; torn lines are left out."""
    module, _, name = settings.METER.partition(":")
    meter: Meter = getattr(import_module(module), name)(seed, settings.METER_SPEED)
    return [sample for line in meter.lines(seconds) if (sample := parse_line(line))]
