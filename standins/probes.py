"""A pretended field of a dozen probes behind a gateway, most of them sound, one stuck, one broken, one gone silent.

    python -m standins.probes --address http://127.0.0.1:8000 --token TOKEN [--every 60] [--rounds 10]

posts to a running Iron Rake just as a real gateway would: with a token, many readings at once, and again after a failure.
"""

import argparse
import json
import math
import random
import time
import urllib.error
import urllib.request
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta


@dataclass(frozen=True, slots=True)
class PretendedProbe:
    """A probe: its key, what it measures, its middle value and daily swing, and its fault ("", stuck, broken, silent)."""

    key: str
    quantity: str
    middle: float
    swing: float
    fault: str = ""


PROBES = (
    PretendedProbe("m-1", "moisture", 24, 1.5),
    PretendedProbe("m-2", "moisture", 19, 2.0),
    PretendedProbe("m-3", "moisture", 31, 1.0),
    PretendedProbe("m-4", "moisture", 27, 1.2, "stuck"),
    PretendedProbe("t-1", "temperature", 11, 3.0),
    PretendedProbe("t-2", "temperature", 12, 4.0),
    PretendedProbe("t-3", "temperature", 15, 2.0),
    PretendedProbe("t-4", "temperature", 10, 3.0, "silent"),
    PretendedProbe("e-1", "ec", 0.8, 0.1),
    PretendedProbe("e-2", "ec", 1.4, 0.2),
    PretendedProbe("e-3", "ec", 0.6, 0.1, "broken"),
    PretendedProbe("p-1", "ph", 6.1, 0.05),
)
SILENT_FOR = timedelta(hours=30)


def value_at(probe: PretendedProbe, at: datetime) -> float:
    """What a probe measures at a moment; a broken one sends what cannot be."""
    if probe.fault == "broken":
        return -999.0
    if probe.fault == "stuck":
        return probe.middle
    hours = at.timestamp() / 3600
    noise = random.Random(f"{probe.key}{at.timestamp():.0f}").gauss(0, probe.swing / 12)  # noqa: S311 -- jitter
    return round(probe.middle + probe.swing * math.sin(2 * math.pi * (hours - 9) / 24) + noise, 3)


def batch(at: datetime, now: datetime | None = None) -> list[dict]:
    """The readings of all probes at a moment; a silent one stopped some time before `now`."""
    now = now or datetime.now(UTC)
    speaking = [probe for probe in PROBES if probe.fault != "silent" or at <= now - SILENT_FOR]
    return [{"probe": probe.key, "at": at.isoformat(), "value": value_at(probe, at)} for probe in speaking]


def post(address: str, token: str, readings: list[dict]) -> dict:
    """Posts readings, three times where the line is bad: sending again does no harm."""
    body = json.dumps({"readings": readings}).encode()
    for attempt in range(3):
        request = urllib.request.Request(  # noqa: S310 -- the address is the one typed on the command line
            f"{address.rstrip('/')}/sensors/api/readings/", body, {"Content-Type": "application/json", "Authorization": f"Bearer {token}"}
        )
        try:
            with urllib.request.urlopen(request, timeout=20) as answer:  # noqa: S310
                return json.load(answer)
        except urllib.error.HTTPError as error:
            return {"error": error.read().decode(), "status": error.code}
        except OSError:
            time.sleep(1 + attempt)
    return {"error": "no answer"}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--address", required=True)
    parser.add_argument("--token", required=True)
    parser.add_argument("--every", type=float, default=60, help="seconds between two rounds")
    parser.add_argument("--rounds", type=int, default=0, help="how many rounds; 0 goes on until it is stopped")
    args = parser.parse_args()
    done = 0
    while not args.rounds or done < args.rounds:
        answer = post(args.address, args.token, batch(datetime.now(UTC).replace(microsecond=0)))
        print(json.dumps(answer), flush=True)  # noqa: T201 -- it is a command
        done += 1
        if not args.rounds or done < args.rounds:
            time.sleep(args.every)


if __name__ == "__main__":
    main()
