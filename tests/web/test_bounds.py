"""Figures that cannot be are refused at the door and in the database, so that no stored value closes a page or hangs the server."""

import time
from concurrent.futures import ThreadPoolExecutor
from datetime import date

import pytest
from django.db import IntegrityError, transaction
from django.urls import reverse

from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from tests.helpers.pages import text_of
from tests.helpers.requests import TABLES, document, reading
from web.ground.models import Planting, Plot
from web.jobs.models import Job
from web.people.models import Holding
from web.readings import importing
from web.readings.models import LabFile
from web.records.models import LogEntry
from web.sensors.models import Gateway, Probe
from web.supplies.models import StockLot

STEEP = {"slope": "500", "curvature": "0.0001", "nitrogen_price": "1", "crop_price": "1"}

ABSURD = [
    ({"response": STEEP}, "more than the 500 that any crop takes up"),
    ({"today": "9999-12-31"}, "the year 9999 is outside"),
    ({"crop": {"key": "dahlia", "planting": "9999-12-31"}}, "the year 9999 is outside"),
    ({"crop": {"key": "dahlia", "planting": "0001-01-01"}}, "the year 1 is outside"),
    ({"crop": {"key": "dahlia", "harvest": "9999-01-01"}}, "the year 9999 is outside"),
    ({"crop": {"key": "maize", "yield_goal": "199 t/ha"}}, "more than the 500 that any crop takes up"),
    ({"caps": {"N": "1e20 kg/ha"}}, "outside 0 to 2000"),
    ({"caps": {"N": "-5 kg/ha"}}, "outside 0 to 2000"),
]


@pytest.mark.parametrize(("change", "said"), ABSURD)
def test_the_core_refuses_what_cannot_be(change, said):
    with pytest.raises(RequestError, match=said):
        read_request(document(reading("pH", 6.2)) | change, TABLES)


def test_an_absurd_response_is_said_beside_its_field_at_once(grower, border):
    begun = time.monotonic()
    answer = grower.post(reverse("planning:response", args=[border.pk]), STEEP)
    assert answer.status_code == 422
    assert "that any crop takes up" in text_of(answer)
    assert time.monotonic() - begun < 10
    assert Planting.objects.get(plot=border).response is None


def test_forms_refuse_far_days_half_places_and_endless_caps(grower, border, thornmere):
    planting = border.plantings.get()
    data = {"crop": "dahlia", "planted_on": "9999-12-31"}
    assert "too far ahead" in text_of(grower.post(reverse("ground:edit_planting", args=[border.pk, planting.pk]), data))
    gateway = Gateway.objects.create(holding=thornmere, name="Yard", token_sha256="0" * 64)
    probe = {"key": "a", "name": "a", "quantity": "ph", "x": "3", "every_minutes": "60"}
    assert "both figures" in text_of(grower.post(reverse("sensors:gateway", args=[gateway.pk]), probe))
    habits = {
        "name": "Thornmere",
        "units": "metric",
        "hemisphere": "north",
        "currency": "€",
        "nutrient_form": "oxide",
        "school": "sufficiency",
    }
    assert "at most 2000" in text_of(grower.post(reverse("people:holding"), habits | {"cap_n_kg_per_ha": "1e20"}))
    thornmere.refresh_from_db()
    assert thornmere.cap_n_kg_per_ha is None


def test_the_database_refuses_them_too(border, thornmere):
    gateway = Gateway.objects.create(holding=thornmere, name="Yard", token_sha256="0" * 64)
    acts = [
        lambda: Planting.objects.filter(plot=border).update(planted_on="9999-12-31"),
        lambda: Plot.objects.filter(pk=border.pk).update(area_m2=-1),
        lambda: Plot.objects.filter(pk=border.pk).update(depth_cm=1e20),
        lambda: Holding.objects.update(cap_n_kg_per_ha=1e20),
        lambda: Holding.objects.update(cap_p2o5_kg_per_ha=-5),
        lambda: Probe.objects.create(gateway=gateway, key="a", name="a", quantity="ph", x=3.0),
    ]
    for act in acts:
        with pytest.raises(IntegrityError), transaction.atomic():
            act()


def test_the_database_keeps_lots_entries_and_jobs_in_bounds(thornmere, border):
    about = {"holding": thornmere, "material": "urea"}
    put_on = about | {"plot": border, "name": "urea"}
    for model, fields in (
        (StockLot, about | {"kg": -40}),
        (LogEntry, put_on | {"kg": -1}),
        (LogEntry, put_on | {"kg": 1, "lot_kg": -1}),
        (Job, put_on | {"kg": 1, "what": "N", "from_day": date(2027, 3, 2), "to_day": date(2027, 3, 1)}),
    ):
        with pytest.raises(IntegrityError), transaction.atomic():
            model.objects.create(**fields)


def test_a_file_being_imported_is_read_by_four_threads_at_once(thornmere):
    files = [
        LabFile(
            holding=thornmere,
            name=f"{number}.csv",
            content=b"Sample,pH\nA,6.%d\n" % number,
            sha256=f"{number}",
            medium="soil",
            answers={},
            overrides={},
        )
        for number in range(9)
    ]
    with ThreadPoolExecutor(4) as pool:
        counts = list(pool.map(lambda turn: importing.parsed(files[turn % 9]).count, range(400)))
    assert counts == [1] * 400
    assert len(importing._KEPT) <= importing._MOST_KEPT


def test_a_holding_keeps_no_more_than_its_quota_and_nothing_of_the_act_stays(grower, border, settings):
    settings.QUOTAS = settings.QUOTAS | {"supplies.StockLot": 2}
    told = {"material": "urea", "amount": "5 kg"}
    statuses = [grower.post(reverse("supplies:shed"), told).status_code for _ in range(3)]
    assert statuses == [302, 302, 413]
    assert "the most that this server keeps" in text_of(grower.post(reverse("supplies:shed"), told))
    assert StockLot.objects.count() == 2
