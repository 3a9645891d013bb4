"""The HTTP API: a program reads and writes as its person would, once, and reaches nothing of others."""

import io
import json
import zipfile

import pytest
from django.core.cache import cache
from django.test import Client
from django.urls import reverse

from tests.helpers.holdings import holding, owner, plot, slip
from web.api.door import once
from web.api.models import ApiToken
from web.changes.models import Change
from web.ground.models import Plot
from web.jobs.models import Job
from web.people.models import Membership
from web.people.tokens import digest
from web.records.models import LogEntry
from web.supplies.models import StockLot

REPORT = {
    "taken_on": "2026-10-03",
    "lab": "Fenwick Soil Room",
    "top_cm": 0,
    "bottom_cm": 20,
    "lines": [
        {"analyte": "pH", "value": 6.1, "method": "water 1:1"},
        {"analyte": "K", "value": "92", "unit": "mg/kg", "method": "Mehlich 3"},
    ],
}


class Program:
    """A client that knows its token and speaks JSON."""

    def __init__(self, of, scope: str = "write", role: str = "owner", token: str = ""):
        token = token or "the first"
        cache.clear()
        Membership.objects.filter(user=owner(of), holding=of).update(role=role)
        ApiToken.objects.create(user=owner(of), holding=of, name="sheet", scope=scope, token_sha256=digest(token))
        self.client, self.headers = Client(), {"Authorization": f"Bearer {token}"}

    def get(self, path: str):
        return self.client.get(f"/api/v1{path}", headers=self.headers)

    def post(self, path: str, document, **headers):
        return self.client.post(f"/api/v1{path}", json.dumps(document), "application/json", headers=self.headers | headers)


def test_readings_that_are_sent_twice_are_one_record_and_one_undo_takes_it_back(grower, border):
    program = Program(border.holding)
    path = f"/plots/{border.pk}/readings"
    answers = [program.post(path, REPORT) for _ in range(2)]
    assert [(answer.status_code, answer.json()["repeated"]) for answer in answers] == [(200, False), (200, True)]
    kept = border.slips.get(pk=answers[0].json()["id"])
    assert (kept.bottom_cm, kept.lines.count(), border.slips.count()) == (20, 2, 2)
    told = program.get(path).json()[0]
    assert (told["id"], told["lines"][1]["value"], told["lines"][1]["base_unit"]) == (kept.pk, 92.0, "mg/kg")
    keyed = [program.post(path, REPORT | {"note": note}, **{"Idempotency-Key": "k-1"}).json()["repeated"] for note in ("a", "b")]
    assert keyed == [False, True]  # the key speaks, whatever stands beside it
    assert grower.get(reverse("changes:recent")).status_code == 200
    grower.post(reverse("changes:undo", args=[Change.objects.order_by("pk").first().pk]))
    assert not border.slips.filter(pk=kept.pk).exists()


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"taken_on": "2999-01-01"}, "taken_on"),
        ({"taken_on": "soon"}, "report.taken_on"),
        ({"lines": []}, "report.lines"),
        ({"lines": [{"analyte": "unobtainium", "value": 1}]}, "lines.0.analyte"),
        ({"lines": [{"analyte": "pH", "value": 61, "method": "water 1:1"}]}, "lines.0"),
        ({"bottom_cm": 5, "top_cm": 10}, "bottom_cm"),
        ({"lines": [{"analyte": "K", "value": "9" * 400, "unit": "mg/kg"}]}, "lines.0.typed"),
    ],
)
def test_what_a_page_would_not_take_is_refused_by_name_and_nothing_is_kept(border, change, field):
    answer = Program(border.holding).post(f"/plots/{border.pk}/readings", REPORT | change)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert border.slips.count() == 1


def test_a_job_is_done_once_and_plan_and_lists_come_out(grower, border):
    grower.post(reverse("planning:adopt", args=[border.pk]))
    program = Program(border.holding)
    jobs = program.get("/jobs").json()
    job = jobs[0]
    assert job["plot"] == border.pk
    assert job["comes_from"] == "the plan"
    done = {"kg": job["kg"], "done_on": "2026-10-05"}
    answers = [program.post(f"/jobs/{job['id']}/done", done) for _ in range(2)]
    assert [answer.json()["repeated"] for answer in answers] == [False, True]
    assert program.post(f"/jobs/{job['id']}/done", done | {"note": "again"}).json()["errors"][0]["problem"] == "This job is done already."
    assert LogEntry.objects.get().kg == pytest.approx(job["kg"], rel=1e-4)
    assert [entry["kg"] for entry in program.get("/log").json()] == [LogEntry.objects.get().kg]
    assert len(program.get("/jobs").json()) == len(jobs) - 1
    assert program.get(f"/plots/{border.pk}/plan").json()["findings"][0]["working"] == []
    adopted = program.get("/plans").json()[0]["id"]
    assert program.get(f"/plans/{adopted}").json()["result"]["applications"]
    assert program.get("/plots").json()[0]["crop"] == "dahlia"
    assert program.get("/shed").json() == []
    asked = json.loads(json.dumps(border.adopted_plans.get().request))
    assert program.post("/plan", asked).json()["headline"]
    assert program.post("/plan", {"nonsense": 1}).status_code == 422
    archive = b"".join(program.get("/archive").streaming_content)
    assert "README.txt" in " ".join(zipfile.ZipFile(io.BytesIO(archive)).namelist())


@pytest.mark.parametrize("how", ["by the page", "by a program"])
def test_a_job_that_another_closes_while_one_waits_for_the_lock_is_done_once(grower, border, monkeypatch, how):
    """What six at once do by chance, one does here for certain: the other comes first to the lock."""
    grower.post(reverse("planning:adopt", args=[border.pk]))
    program = Program(border.holding)
    job = Job.objects.filter(state="open").first()
    lot = StockLot.objects.create(holding=border.holding, material=job.material, kg=1000)
    told = {"kg": 10, "done_on": "2026-10-05", "lot": lot.pk}
    meanwhile = [
        lambda: (
            grower.post(reverse("jobs:job", args=[job.pk]), {"amount": "10 kg", "done_on": "2026-10-05", "lot": lot.pk})
            if how == "by the page"
            else program.post(f"/jobs/{job.pk}/done", told, **{"Idempotency-Key": "k-2"})
        )
    ]

    def late(request, act):
        if meanwhile:
            meanwhile.pop()()
        return once(request, act)

    monkeypatch.setattr("web.api.api.once", late)
    answer = program.post(f"/jobs/{job.pk}/done", told, **{"Idempotency-Key": "k-1"})
    assert (answer.status_code, answer.json()["errors"][0]["problem"]) == (422, "This job is done already.")
    lot.refresh_from_db()
    assert (LogEntry.objects.count(), lot.kg) == (1, 990)


def test_readings_for_a_plot_that_is_retired_while_one_waits_for_the_lock_are_refused(border, monkeypatch):
    program = Program(border.holding)

    def late(request, act):
        Plot.objects.filter(pk=border.pk).update(retired_on="2026-10-04", retired_as="merged")
        return once(request, act)

    monkeypatch.setattr("web.api.api.once", late)
    assert program.post(f"/plots/{border.pk}/readings", REPORT).status_code == 404


def test_a_token_reaches_no_more_than_its_person_and_its_scope(border):
    other = holding("Sallow End")
    slip(plot(other, "Theirs"))
    reader = Program(border.holding, scope="read")
    assert reader.get("/plots").status_code == 200
    assert reader.post(f"/plots/{border.pk}/readings", REPORT).status_code == 403
    stranger = Program(other, token="another")
    for path in (f"/plots/{border.pk}/readings", f"/plots/{border.pk}/plan"):
        assert stranger.get(path).status_code == 404
    worker = Program(border.holding, role="worker", token="third")
    assert [worker.get(path).status_code for path in ("/jobs", "/log", "/plots", "/shed", "/archive")] == [200, 200, 403, 403, 403]
    Membership.objects.filter(holding=border.holding).delete()
    assert worker.get("/jobs").status_code == 401


def test_a_token_that_asks_too_often_leaves_others_of_its_name_in_peace(border):
    other = holding("Sallow End")
    slip(plot(other, "Theirs"))
    busy = Program(border.holding)
    quiet = Program(other, token="another")
    assert {busy.get("/shed").status_code for _ in range(120)} == {200}
    refused = busy.get("/shed")
    assert (refused.status_code, int(refused.headers["Retry-After"]) <= 60) == (429, True)
    assert quiet.get("/shed").status_code == 200
    cache.clear()  # another test's token may get the number of this one


def test_without_a_token_nothing_is_told_and_the_description_is_whole(client, border):
    page = client.get(reverse("api-1:openapi-json"))
    described = page.json()
    assert set(described["paths"]["/api/v1/plots/{pk}/readings"]) == {"get", "post"}
    for path, methods in described["paths"].items():
        for method in methods:
            answer = getattr(client, method)(path.replace("{pk}", "1"), content_type="application/json")
            assert answer.status_code == 401, path


def test_the_token_is_shown_once_and_can_be_taken_back(grower, border):
    page = grower.post(reverse("api:tokens"), {"name": "sheet", "scope": "read"}, follow=True).content.decode()
    token = page.split('readonly value="')[1].split('"')[0]
    asked = {"headers": {"Authorization": f"Bearer {token}"}}
    assert Client().get("/api/v1/plots", **asked).status_code == 200
    assert token not in grower.get(reverse("api:tokens")).content.decode()
    grower.post(reverse("api:drop_token", args=[ApiToken.objects.get().pk]))
    assert Client().get("/api/v1/plots", **asked).status_code == 401
