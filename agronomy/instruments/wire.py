"""What a serial pH meter says on its line: one reading a line, in the plain form that most bench meters can be set to."""

import re

from agronomy.instruments.steady import Sample

_LINE = re.compile(rb"^\s*T=(?P<t>\d+(?:\.\d+)?);PH=(?P<ph>-?\d+(?:\.\d+)?);C=(?P<c>-?\d+(?:\.\d+)?)\s*$")


def parse_line(line: bytes) -> Sample | None:
    """A Sample from `T=12.5;PH=6.412;C=18.4` (seconds since it was put in, pH, temperature in °C); None for a torn line.

    >>> parse_line(b"T=12.5;PH=6.412;C=18.4\\r\\n")
    Sample(seconds=12.5, ph=6.412, temperature_c=18.4)
    >>> parse_line(b"H=6.4") is None
    True
    """
    found = _LINE.match(line)
    if not found:
        return None
    ph, celsius = float(found["ph"]), float(found["c"])
    return Sample(float(found["t"]), ph, celsius) if 0 <= ph <= 14 and -10 <= celsius <= 60 else None
