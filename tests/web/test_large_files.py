"""Large files are left to the worker: looked at, answered, read in, stopped; and where no worker comes, their page does the work."""

from datetime import timedelta

import pytest
from django.core.cache import caches
from django.core.management import call_command
from django.urls import reverse
from django.utils import timezone

from tests.helpers.pages import text_of
from tests.web.test_files import upload
from web.changes.models import Change
from web.readings import looking
from web.readings.models import LabFile, LabReport

ROWS = "Sample,Date,pH,P mg/kg\n" + "".join(f"Long Border 7,2026-09-{day:02},6.{day % 10},20\n" for day in range(1, 11))


@pytest.fixture(autouse=True)
def by_the_worker(monkeypatch, settings):
    monkeypatch.setattr(looking, "BIG", 100)
    settings.TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
    caches["by_worker"].clear()


def work() -> None:
    call_command("db_worker", batch=True, interval=0, startup_delay=False, verbosity=0)


def page_of(client, file: LabFile) -> str:
    return text_of(client.get(reverse("readings:file", args=[file.pk])))


def step(client, file: LabFile):
    return client.post(reverse("readings:file_step", args=[file.pk]), headers={"HX-Request": "true"})


@pytest.mark.django_db(transaction=True)
def test_a_large_file_is_looked_at_and_read_in_by_the_worker(grower, border):
    upload(grower, ROWS)
    file = LabFile.objects.get()
    assert "Looking at report.csv" in page_of(grower, file)
    assert "hx-post" in text_of(step(grower, file))
    work()
    assert step(grower, file).headers["HX-Redirect"] == reverse("readings:file", args=[file.pk])
    assert "<b>20</b> readings of <b>1</b> sample" in page_of(grower, file)
    where = reverse("readings:file", args=[file.pk])
    grower.post(where, {"answer-unit:P mg/kg": "mg/100g"})
    assert "Looking at report.csv" in page_of(grower, file)  # understood anew with the answer
    work()
    grower.post(where, {"read-in": "1"})
    assert "0 of 10 reports" in page_of(grower, file)
    assert not LabReport.objects.filter(source_file=file).exists()
    work()
    step(grower, file)
    assert LabReport.objects.filter(source_file=file).count() == 10
    grower.post(reverse("readings:take_out_file", args=[file.pk]))
    grower.post(where, {"answer-unit:P mg/kg": "mg/kg", "read-in": "1"})  # an answer and the wish to read in, at once
    work()
    step(grower, file)
    assert LabReport.objects.filter(source_file=file).count() == 10
    assert "10 reports read in" in page_of(grower, file)
    grower.post(reverse("readings:take_out_file", args=[file.pk]))
    assert not LabReport.objects.filter(source_file=file).exists()
    assert not Change.objects.filter(undone_at=None).exists()


@pytest.mark.django_db(transaction=True)
def test_large_work_can_be_stopped_before_and_while_it_is_done(grower, border, monkeypatch):
    upload(grower, ROWS)
    grower.post(reverse("readings:delete_file", args=[LabFile.objects.get().pk]))
    work()  # meets nothing to look at
    assert not LabFile.objects.exists()
    upload(grower, ROWS)
    work()
    file = LabFile.objects.get()
    grower.post(reverse("readings:file", args=[file.pk]), {"read-in": "1"})
    grower.post(reverse("readings:take_out_file", args=[file.pk]))
    work()
    assert not LabReport.objects.filter(source_file=file).exists()


@pytest.mark.django_db(transaction=True)
def test_a_large_file_that_cannot_be_read_says_why(grower, border):
    upload(grower, "just words, " * 40)
    work()
    page = page_of(grower, LabFile.objects.get())
    assert "can’t be read" in page
    assert "Delete it" in page


def test_where_no_worker_comes_the_page_does_the_work(grower, border):
    upload(grower, ROWS)
    file = LabFile.objects.get()
    step(grower, file)
    assert LabFile.objects.get().state == "looking"
    LabFile.objects.update(worked_at=timezone.now() - timedelta(minutes=2))
    step(grower, file)
    assert LabFile.objects.get().state == "open"
    grower.post(reverse("readings:file", args=[file.pk]), {"read-in": "1"})
    LabFile.objects.update(worked_at=timezone.now() - timedelta(minutes=2))
    step(grower, file)
    assert LabReport.objects.filter(source_file=file).count() == 10
