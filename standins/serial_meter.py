"""A pretended pH meter on a serial line: it settles, jitters, drifts, and now and then tears a line, as real ones do.

Swap it for a real one by a class with the same two methods, and name it in IRON_RAKE_METER (see docs/devices.md).
"""

import random
from math import exp

LINES_A_SECOND = 2


class SimulatedMeter:
    """The meter in one slurry. `seed` makes the slurry (its pH, how fast it settles); `speed` lets its time run faster, for tests."""

    def __init__(self, seed: str, speed: float = 1.0):
        rng = random.Random(seed)  # noqa: S311 -- makes up a slurry, guards no secret
        self.seed, self.speed = seed, speed
        self.true_ph = rng.uniform(5.2, 7.2)
        self.settles_in_s = rng.uniform(4, 9)
        self.start_ph = 7.0 + rng.uniform(-0.4, 0.4)
        self.celsius = rng.uniform(12, 21)

    def lines(self, seconds: float) -> list[bytes]:
        """Everything said since the electrode was put in so many seconds ago, a line each."""
        elapsed = seconds * self.speed
        return [self._line(number) for number in range(int(elapsed * LINES_A_SECOND))]

    def _line(self, number: int) -> bytes:
        rng = random.Random(f"{self.seed}:{number}")  # noqa: S311 -- jitter
        t = number / LINES_A_SECOND
        if rng.random() < 0.01:
            return b"T=" + str(round(t, 1)).encode() + b";PH="
        settling = (self.start_ph - self.true_ph) * exp(-t / self.settles_in_s)
        drift = 0.01 * t / 60
        noise = rng.gauss(0, 0.012) + (rng.gauss(0, 0.15) if t < 6 and rng.random() < 0.2 else 0)
        return f"T={t:.1f};PH={self.true_ph + settling + drift + noise:.3f};C={self.celsius:.1f}\r\n".encode()
