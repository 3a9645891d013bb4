"""A season on a holding as its people live it: dated, done, written down, reckoned with."""

import json
import re
import uuid
from datetime import timedelta

import pytest
from django.core.management import call_command
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import PASSWORD
from tests.helpers.pages import page, text_of
from web.jobs.models import Job, OwnProgramme
from web.people.models import Holding, Membership, User
from web.planning.service import lines_by_plot, plan_for
from web.records.models import LogEntry
from web.supplies.models import StockLot


def member(of: Holding, role: str, name: str) -> Client:
    user = User.objects.create_user(f"{role}@farm.example", PASSWORD, name=name)
    Membership.objects.create(user=user, holding=of, role=role)
    client = Client()
    client.force_login(user)
    return client


@pytest.fixture
def season(grower, border, thornmere):
    """Climate said, planted in some months, the plan adopted, one job given to the worker."""
    thornmere.climate = "olive_shore"
    thornmere.save()
    planting = border.planting
    planting.planted_on = timezone.localdate() + timedelta(days=100)
    planting.save()
    grower.post(reverse("planning:adopt", args=[border.pk]))
    worker = member(thornmere, "worker", "Tobias Fenner")
    job = Job.objects.filter(plot=border).order_by("to_day").first()
    grower.post(reverse("jobs:assign", args=[job.pk]), {"person": User.objects.get(email="worker@farm.example").pk})
    job.refresh_from_db()
    return worker, job


def test_a_worker_finds_their_job_does_it_from_a_phone_and_the_next_plan_knows(grower, border, thornmere, season):
    worker, job = season
    me = User.objects.get(email="worker@farm.example")
    mine = page(worker, "jobs:jobs", person=me.pk)
    assert job.name in mine
    assert 'aria-current="true">Mine' in mine
    assert page(worker, "jobs:jobs").count("btn btn-primary") >= mine.count("btn btn-primary")
    lot = StockLot.objects.create(holding=thornmere, material=job.material, kg=job.kg / 2, price_per_kg=0.5)
    sent = {
        "amount": f"{job.kg:.3f} kg",
        "done_on": timezone.localdate().isoformat(),
        "lot": lot.pk,
        "weather": "still",
        "sent_as": str(uuid.uuid4()),
    }
    for _ in range(3):  # the phone did not hear the answer
        answer = worker.post(reverse("jobs:job", args=[job.pk]), sent, headers={"Accept": "application/json"})
        assert answer.json() == {"written": True}
    entry = LogEntry.objects.get()
    assert (entry.by, entry.way, entry.planned_kg) == (me, job.way, job.kg)
    lot.refresh_from_db()
    assert lot.kg == pytest.approx(0)  # no lot goes below zero
    assert entry.lot_kg == pytest.approx(job.kg / 2)
    plan = plan_for(border, lines_by_plot([border])[border.pk], today=timezone.localdate(), units="metric")
    again = [
        item
        for item in plan.applications
        if (item.material, item.what, item.dressing) == (job.material, job.what, job.dressing) and not item.later
    ]
    assert sum(item.total_kg for item in again) < job.kg
    told = page(grower, "records:totals")
    assert "Long Border 7" in told


def test_manure_in_the_log_of_last_year_is_a_line_of_the_nitrogen_budget_that_can_be_left_out(grower, border, thornmere):
    planting = border.planting
    planting.planted_on = timezone.localdate() + timedelta(days=60)
    planting.save()
    last_year = timezone.localdate() - timedelta(days=330)
    LogEntry.objects.create(holding=thornmere, plot=border, material="cattle_manure", name="cattle manure", kg=72, done_on=last_year)
    told = page(grower, "planning:given", border.pk)
    assert "Manure and compost of earlier years" in told
    grower.post(reverse("planning:switch_credit", args=[border.pk]), {"line": "carried"})
    border.refresh_from_db()
    assert border.uncounted == ["carried"]
    assert "left out" in page(grower, "planning:given", border.pk)
    assert "N next year" in page(grower, "records:totals")


def test_sheets_are_of_a_day_or_of_a_plot_with_their_cautions(grower, border, season):
    _, job = season
    of_plot = page(grower, "jobs:sheet", plot=border.pk)
    assert "Thornmere, Long Border 7" in of_plot
    assert of_plot.count("Code of this job’s page") == Job.objects.filter(plot=border, state="open").count()
    assert "The label, your local rules and licensed advice" in of_plot
    assert page(grower, "jobs:sheet").count("Code of this job’s page") <= of_plot.count("Code of this job’s page")
    Job.objects.update(state="dropped")
    assert "Nothing is due today." in page(grower, "jobs:sheet")
    assert job.name not in page(grower, "jobs:sheet", plot=border.pk)
    assert f"?plot={border.pk}" in page(grower, "jobs:jobs", plot=border.pk)


def test_an_own_programme_keeps_how_things_go_on_and_what_they_wait_for(grower, border):
    grower.post(reverse("jobs:copy_programme", args=["orchard_year"]))
    own = OwnProgramme.objects.get()
    told = page(grower, "jobs:edit_programme", own.pk)
    assert "Calcium on leaves and fruit, first" in told
    steps = own.document["step"]
    fields = ("after", "do", "material", "grams", "way", "gate", "within", "stretches")
    data = {"name": own.name} | {field: [str(step.get(field, "")) for step in steps] for field in fields}
    data["way"][0], data["gate"][0], data["within"][0] = "water", "air", "2"
    assert grower.post(reverse("jobs:edit_programme", args=[own.pk]), data).status_code == 302
    own.refresh_from_db()
    assert {key: own.document["step"][0][key] for key in ("way", "gate", "within")} == {"way": "water", "gate": "air", "within": 2}
    assert [step.get("way", "") for step in own.document["step"][1:]] == [step.get("way", "") for step in steps[1:]]
    refused = grower.post(reverse("jobs:edit_programme", args=[own.pk]), data | {"gate": ["moon"] * len(steps)})
    assert refused.status_code == 422
    assert "no such gate" in text_of(refused).lower()
    assert json.loads(json.dumps(own.document)) == own.document


def test_sulfur_is_foretold_by_the_warmth_of_the_place(grower, border, thornmere):
    line = border.slips.get().lines.get(analyte="pH")
    line.typed = "7.4"
    line.save()
    border.slips.get().lines.filter(analyte="buffer pH").delete()
    border.plantings.update(crop="camellia")
    border.free_lime = "no"
    border.save()
    shares = {}
    for climate in ("larch_heights", "cedar_lowland"):
        thornmere.climate = climate
        thornmere.save()
        told = page(grower, "desks:acidity", border.pk)
        assert "where bacteria are awake" in told
        rows = told[told.index('id="sulfurs"') : told.index('id="quick"')]
        shares[climate] = [int(share) for share in re.findall(r"(\d+) %", rows)]
    assert len(shares["larch_heights"]) == len(shares["cedar_lowland"]) > 3
    assert all(cold <= warm for cold, warm in zip(*shares.values(), strict=True))
    assert sum(shares["cedar_lowland"]) > sum(shares["larch_heights"])


def test_the_demo_has_an_owner_a_worker_and_an_adviser_with_work_and_a_log(client, db):
    call_command("load_demo", verbosity=0)
    thornmere = Holding.objects.get(name="Thornmere")
    assert sorted(thornmere.memberships.values_list("role", flat=True)) == ["adviser", "owner", "worker"]
    assert thornmere.log.count() >= 4
    assert Job.objects.filter(holding=thornmere, plot__name="Zinnia bales", way="water").exists()
    client.force_login(thornmere.members.get(memberships__role="worker"))
    assert "Mine" in page(client, "jobs:jobs")
    assert client.get(reverse("planning:plans")).status_code == 403
    client.force_login(thornmere.members.get(memberships__role="adviser"))
    assert client.get(reverse("planning:plans")).status_code == 200
    assert client.post(reverse("jobs:drop", args=[Job.objects.filter(holding=thornmere).first().pk])).status_code == 403
