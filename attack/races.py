"""Many people do the same thing at the same moment: it is done once, and nothing is taken that is not there."""

import argparse
import json
import threading
import uuid
from collections.abc import Callable
from datetime import date

from attack.place import report, scratch

JOB_DAYS = (date(2026, 10, 1), date(2026, 10, 31))


def at_once(many: int, act: Callable[[int], object]) -> list:
    """What each of so many threads got, all let go at the same moment."""
    from django.db import connections

    gate, got = threading.Barrier(many), [None] * many

    def one(number: int) -> None:
        try:
            gate.wait()
            got[number] = act(number)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=one, args=(number,)) for number in range(many)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return got


def attack(many: int) -> list[tuple[str, object, object]]:
    """What was found, what was found of it, what it must be."""
    from django.test import Client
    from django.urls import reverse

    from tests.helpers.holdings import holding, plot, slip, slip_data
    from web.api.models import ApiToken
    from web.jobs.models import Job
    from web.people.models import Membership, User
    from web.people.tokens import digest
    from web.planning.models import AdoptedPlan, PlanProposal
    from web.readings.models import LabReport
    from web.records.models import LogEntry
    from web.sampling.models import Sample, SamplingRound
    from web.supplies.models import StockLot

    place = holding("Race")
    bed = plot(place)
    slip(bed)
    people = []
    for number in range(many):
        user = User.objects.create_user(f"p{number}@race.example", uuid.uuid4().hex)
        Membership.objects.create(user=user, holding=place, role="owner")
        client = Client(raise_request_exception=False)
        client.force_login(user)
        people.append(client)
    rows: list[tuple[str, object, object]] = []
    statuses: list[int] = []

    def send(name: str, *about, data: dict | Callable[[int], dict]) -> None:
        def act(number: int) -> int:
            return people[number].post(reverse(name, args=about), data(number) if callable(data) else data).status_code

        statuses.extend(at_once(many, act))

    def new_job(kg: float) -> Job:
        return Job.objects.create(
            holding=place, plot=bed, material="urea", name="urea", what="N", kg=kg, from_day=JOB_DAYS[0], to_day=JOB_DAYS[1]
        )

    work, plenty = new_job(1), StockLot.objects.create(holding=place, material="urea", kg=100)
    send("jobs:job", work.pk, data={"amount": "1 kg", "done_on": "2026-10-05", "lot": plenty.pk})
    plenty.refresh_from_db()
    rows += [("entries of one job", LogEntry.objects.filter(job=work).count(), 1), ("left of 100 kg", plenty.kg, 99.0)]

    by_program, lot = new_job(10), StockLot.objects.create(holding=place, material="urea", kg=100)
    tokens = [uuid.uuid4().hex for _ in range(many)]
    for number, token in enumerate(tokens):
        user = User.objects.get(email=f"p{number}@race.example")
        ApiToken.objects.create(user=user, holding=place, name="sheet", scope="write", token_sha256=digest(token))

    def by_api_and_page(number: int) -> int:
        """Every other one is a program, each with a key of its own."""
        told = {"kg": 10, "done_on": "2026-10-05", "lot": lot.pk}
        if number % 2:
            form = {"amount": "10 kg", "done_on": told["done_on"], "lot": lot.pk}
            return people[number].post(reverse("jobs:job", args=[by_program.pk]), form).status_code
        headers = {"Authorization": f"Bearer {tokens[number]}", "Idempotency-Key": f"k-{number}"}
        path = f"/api/v1/jobs/{by_program.pk}/done"
        return Client(raise_request_exception=False).post(path, json.dumps(told), "application/json", headers=headers).status_code

    statuses.extend(at_once(many, by_api_and_page))
    lot.refresh_from_db()
    rows += [
        ("entries of one job by programs and pages", LogEntry.objects.filter(job=by_program).count(), 1),
        ("left of its lot", lot.kg, 90.0),
    ]

    scarce, works = StockLot.objects.create(holding=place, material="urea", kg=10), [new_job(10) for _ in range(many)]

    def take(number: int) -> int:
        told = {"amount": "10 kg", "done_on": "2026-10-05", "lot": scarce.pk}
        return people[number].post(reverse("jobs:job", args=[works[number].pk]), told).status_code

    statuses.extend(at_once(many, take))
    scarce.refresh_from_db()
    taken = sum(LogEntry.objects.filter(lot=scarce).values_list("lot_kg", flat=True))
    rows += [("left of a lot of 10 kg", scarce.kg, 0.0), ("taken off it", taken, 10.0)]

    people[0].post(reverse("planning:propose", args=[bed.pk]), {"school": "sufficiency", "aim": "rule", "note": "Do this"})
    proposal = PlanProposal.objects.get()
    send("planning:adopt_proposal", proposal.pk, data={})
    rows.append(("plans of one proposal", AdoptedPlan.objects.filter(plot=bed).count(), 1))

    walk = SamplingRound.objects.create(holding=place, planned_on=JOB_DAYS[0])
    bag = Sample.objects.create(round=walk, plot=bed, code="RACE2222", bottom_cm=15, cores_wanted=many)
    statuses.extend(
        at_once(many, lambda number: people[number].post(reverse("sampling:mark_core", args=[bag.code, number + 1])).status_code)
    )
    bag.refresh_from_db()
    rows.append(("cores tapped at once", len(bag.cores_done), many))

    told = slip_data(bed, ("pH", "6.1", "", "water 1:1"), once=uuid.uuid4().hex)
    before = LabReport.objects.count()
    statuses.extend(at_once(many, lambda _: people[0].post(reverse("readings:new_slip"), told).status_code))
    rows.append(("reports of one form sent at once", LabReport.objects.count() - before, 1))
    rows.append(("answers of 500", sum(status >= 500 for status in statuses), 0))
    return rows


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--people", type=int, default=8)
    with scratch():
        many = asked.parse_args().people
        if not report(f"{many} people at once", attack(many)):
            raise SystemExit(1)


if __name__ == "__main__":
    main()
