"""What a gateway posts: checked whole, stored once however often it is sent, refused where it cannot be."""

import secrets
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from django.db import transaction
from django.db.models import F, Q
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from agronomy.base.errors import RuleError
from agronomy.instruments.sensors import check_time, check_value
from web.core import tables
from web.people.tokens import digest
from web.sensors.models import Gateway, Probe, ProbeReading

MOST_IN_A_POST = 1000


def new_token() -> tuple[str, str]:
    """A token to be shown once, and its digest to keep."""
    token = secrets.token_urlsafe(32)
    return token, digest(token)


def gateway_for(authorization: str) -> Gateway | None:
    """The gateway of an `Authorization: Bearer ...` header; None for a wrong or revoked token."""
    kind, _, token = authorization.partition(" ")
    if kind.lower() != "bearer" or not token:
        return None
    return Gateway.objects.filter(token_sha256=digest(token.strip()), revoked_at=None).first()


def is_too_fast(gateway: Gateway, now: datetime, most: int) -> bool:
    """Counts a post, in the database so that every process counts alike; whether it is one too many in this minute."""
    fresh = Gateway.objects.filter(Q(window_began_at=None) | Q(window_began_at__lte=now - timedelta(minutes=1)), pk=gateway.pk)
    if fresh.update(window_began_at=now, posts_in_window=1, heard_at=now):
        return False
    counted = Gateway.objects.filter(pk=gateway.pk, posts_in_window__lt=most).update(posts_in_window=F("posts_in_window") + 1, heard_at=now)
    return not counted


@dataclass(slots=True)
class Taken:
    """What became of a post: how many were new, how many were known, and what was refused."""

    stored: int = 0
    known: int = 0
    refused: list[dict] = field(default_factory=list)

    def as_document(self) -> dict:
        return {"stored": self.stored, "known": self.known, "refused": self.refused}


@transaction.atomic
def take(gateway: Gateway, readings: object, now: datetime | None = None) -> Taken:
    """Stores the sound readings of a post and tells what was refused and why.

    `readings` is a list of {"probe", "at", "value"}. Raises RuleError where it is no such list at all.
    """
    now = now or timezone.now()
    if not isinstance(readings, list) or not 1 <= len(readings) <= MOST_IN_A_POST:
        raise RuleError("readings", None, f"a post holds a list of 1 to {MOST_IN_A_POST} readings", "part it into several posts")
    probes = {probe.key: probe for probe in gateway.probes.all()}
    taken, rows = Taken(), []
    for place, item in enumerate(readings):
        try:
            rows.append(_row(probes, item, f"readings.{place}", now))
        except RuleError as error:
            taken.refused.append(error.as_dict())
            _count_refusal(probes, item, now)
    _store(rows, taken)
    return taken


def _row(probes: dict[str, Probe], item: object, where: str, now: datetime) -> ProbeReading:
    if not isinstance(item, dict):
        raise RuleError(where, str(item)[:40], "a reading is an object", 'send {"probe": ..., "at": ..., "value": ...}')
    probe = probes.get(str(item.get("probe"))[:40])
    if probe is None:
        raise RuleError(
            f"{where}.probe", str(item.get("probe"))[:40], "this gateway has no such probe", "add the probe on the page of sensors first"
        )
    try:
        at = parse_datetime(str(item.get("at")))
    except ValueError:
        at = None
    if at is None:
        raise RuleError(f"{where}.at", str(item.get("at"))[:40], "the time cannot be read", "write it as 2026-10-03T06:00:00Z")
    return ProbeReading(
        probe=probe,
        at=check_time(at, now, f"{where}.at", tables()),
        value=check_value(probe.quantity, item.get("value"), f"{where}.value", tables()),
    )


def _count_refusal(probes: dict[str, Probe], item: object, now: datetime) -> None:
    probe = probes.get(str(item.get("probe"))[:40]) if isinstance(item, dict) else None
    if probe:
        Probe.objects.filter(pk=probe.pk).update(refused=F("refused") + 1, refused_at=now)


def _store(rows: list[ProbeReading], taken: Taken) -> None:
    """A probe's value at a moment is kept once; sent again, it changes nothing."""
    unique = {(row.probe_id, row.at): row for row in rows}
    stored_already = (
        set(
            ProbeReading.objects.filter(probe__in={row.probe_id for row in rows}, at__in=[row.at for row in unique.values()]).values_list(
                "probe_id", "at"
            )
        )
        if unique
        else set()
    )
    new = [row for key, row in unique.items() if key not in stored_already]
    ProbeReading.objects.bulk_create(new, ignore_conflicts=True, batch_size=500)
    taken.stored, taken.known = len(new), len(rows) - len(new)
    latest: dict[int, ProbeReading] = {}
    for row in new:
        if row.probe_id not in latest or row.at > latest[row.probe_id].at:
            latest[row.probe_id] = row
    for row in latest.values():
        Probe.objects.filter(Q(last_at=None) | Q(last_at__lt=row.at), pk=row.probe_id).update(last_at=row.at, last_value=row.value)
