"""Jobs out of plans, the log, its corrections, what it takes off the shed, totals, the weather's say."""

import json
import re
import uuid
from datetime import date, timedelta

import pytest
import vobject
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from agronomy.schedule.usual_days import TodayIs
from tests.helpers.holdings import holding, plot, slip
from tests.helpers.pages import page, text_of
from web.changes.models import Change
from web.core import tables
from web.ground.models import Planting
from web.jobs.models import Job, OwnProgramme
from web.jobs.weather import weather_of
from web.people.models import Holding
from web.planning.models import AdoptedPlan
from web.records.balance import year_balance
from web.records.models import LogEntry
from web.supplies.models import StockLot


@pytest.fixture
def planned(grower, border):
    """A plan adopted today for a planting this season."""
    planting = border.planting
    planting.planted_on = timezone.localdate() + timedelta(days=120)
    planting.save()
    grower.post(reverse("planning:adopt", args=[border.pk]))
    return list(Job.objects.filter(plot=border).order_by("from_day", "pk"))


def test_an_adopted_plan_becomes_jobs_and_a_newer_one_moves_them(grower, border, planned):
    assert planned
    assert {job.kg for job in planned} == {
        item["total_kg"] for item in AdoptedPlan.objects.get().result["applications"] if not item["later"]
    }
    uids = {(job.material, job.what, job.dressing): job.uid for job in planned}
    planting = border.planting
    planting.planted_on += timedelta(days=7)
    planting.save()
    grower.post(reverse("planning:adopt", args=[border.pk]))
    moved = Job.objects.filter(plot=border, state="open")
    assert {(job.material, job.what, job.dressing): job.uid for job in moved} == uids
    later = [job for job in moved if job.what in ("N", "K")]
    before = {job.uid: job for job in planned}
    assert all((job.to_day - before[job.uid].to_day).days in (0, 7) for job in later)
    assert any((job.to_day - before[job.uid].to_day).days == 7 for job in later)
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert {job.uid: job.to_day for job in Job.objects.filter(state="open")} == {job.uid: job.to_day for job in planned}


def test_a_planting_that_moves_takes_its_jobs_along_in_one_act_with_one_undo(grower, border, planned):
    planting, before = border.planting, {job.pk: (job.from_day, job.to_day, job.kg) for job in planned}
    late = {"planted_on": (planting.planted_on + timedelta(days=14)).isoformat(), "ended_on": "", "note": ""}
    told = text_of(grower.post(reverse("ground:edit_planting", args=[border.pk, planting.pk]), {"crop": "dahlia"} | late, follow=True))
    moved = [job for job in Job.objects.filter(plot=border) if (job.from_day, job.to_day) != before[job.pk][:2]]
    assert f"{len(moved)} jobs of Long Border 7 moved along" in told
    assert all(job.to_day - before[job.pk][1] == timedelta(days=14) for job in moved if job.what in ("N", "K"))
    assert {job.kg for job in moved} <= {kg for _, _, kg in before.values()}
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert {job.pk: (job.from_day, job.to_day, job.kg) for job in Job.objects.filter(plot=border)} == before
    same = text_of(grower.post(reverse("ground:edit_planting", args=[border.pk, planting.pk]), {"crop": "tulip"} | late, follow=True))
    assert "moved along" not in same  # a plan for dahlias says nothing of tulips


def test_steps_of_a_programme_move_with_the_planting_by_as_many_days(grower, border):
    planting, start = border.planting, timezone.localdate() + timedelta(days=60)
    planting.planted_on = start
    planting.save()
    step = {"holding": border.holding, "plot": border, "material": "urea", "name": "urea", "what": "N", "kg": 1, "origin": "programme"}
    job = Job.objects.create(**step, from_day=start, to_day=start + timedelta(days=9))
    moved = {"crop": "dahlia", "planted_on": (start + timedelta(days=14)).isoformat(), "ended_on": "", "note": ""}
    told = text_of(grower.post(reverse("ground:edit_planting", args=[border.pk, planting.pk]), moved, follow=True))
    assert "1 job of Long Border 7 moved along" in told
    job.refresh_from_db()
    assert (job.from_day, job.to_day) == (start + timedelta(days=14), start + timedelta(days=23))


def test_the_years_balance_is_what_was_spread_less_what_was_carried_off(grower, border):
    year = timezone.localdate().year
    LogEntry.objects.create(holding=border.holding, plot=border, material="urea", name="urea", kg=1, done_on=date(year, 1, 2))
    Planting.objects.create(plot=border, crop="potato", ended_on=date(year, 1, 3), yield_got_t_per_ha=40)
    removed = tables().nutrients.removal["potato"].n_kg_per_t * 40
    found, unweighed = year_balance(border.holding, year)
    assert (found[0].what, unweighed) == ("N", 0)
    assert found[0].field == pytest.approx(0.46 / border.area_m2 * 10_000 - removed)
    assert f"Balance of {year}" in page(grower, "jobs:season")


def test_a_withdrawn_plan_takes_its_work_along_and_undo_brings_it_back(grower, border, planned):
    grower.post(reverse("planning:withdraw", args=[AdoptedPlan.objects.get().pk]))
    assert not Job.objects.filter(state="open").exists()
    assert "No work is open" in page(grower, "jobs:jobs")
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert Job.objects.filter(state="open", plan=AdoptedPlan.objects.get()).count() == len(planned)


def test_a_job_is_done_once_with_what_was_really_put_on(grower, border, planned, thornmere):
    job = planned[0]
    lot = StockLot.objects.create(holding=thornmere, material=job.material, kg=job.kg + 2, price_per_kg=0.5)
    address = reverse("jobs:job", args=[job.pk])
    assert "What was really done" in page(grower, "jobs:job", job.pk)
    data = {
        "amount": f"{job.kg + 1} kg",
        "done_on": timezone.localdate().isoformat(),
        "lot": lot.pk,
        "weather": "still",
        "sent_as": str(uuid.uuid4()),
    }
    assert grower.post(address, data | {"amount": "lots"}).status_code == 422
    assert "still to come" in text_of(grower.post(address, data | {"done_on": "2999-01-01"}))
    for _ in range(2):  # the second sending, by a phone that heard no answer, writes nothing
        assert grower.post(address, data, headers={"Accept": "application/json"}).json() == {"written": True}
    entry = LogEntry.objects.get()
    lot.refresh_from_db()
    job.refresh_from_db()
    assert (job.state, entry.planned_kg, round(lot.kg, 6)) == ("done", job.kg, 1)
    assert entry.supplies
    assert f"{100 / job.kg:.0f} % more than the" in page(grower, "records:log")
    grower.post(address, data | {"sent_as": str(uuid.uuid4())})  # done already
    assert LogEntry.objects.count() == 1


def test_bags_are_the_lots_own_else_the_materials_usual_ones_and_hundredweights_the_countrys(grower, border, thornmere):
    usual = tables().materials["urea"].bag_kg
    own = StockLot.objects.create(holding=thornmere, material="urea", kg=500, bag_kg=20)
    plain = StockLot.objects.create(holding=thornmere, material="urea", kg=500)
    data = {"plot": border.pk, "material": "urea", "done_on": "2026-04-02"}
    thornmere.country = "GB"
    thornmere.save()
    for amount, lot, kg in (("2 bags", own, 40), ("2 bags", plain, 2 * usual), ("1 bag of 10 kg", own, 10), ("1 cwt", plain, 50.802)):
        assert grower.post(reverse("records:log"), data | {"amount": amount, "lot": lot.pk}).status_code == 302
        assert LogEntry.objects.latest("pk").kg == pytest.approx(kg, abs=0.001)
    refused = grower.post(reverse("records:log"), data | {"amount": "1 wheelbarrow"})
    assert (refused.status_code, "how much does it hold?" in text_of(refused).lower()) == (422, True)
    work = Job.objects.create(
        holding=thornmere, plot=border, material="urea", name="urea", what="N", kg=40, from_day="2026-10-01", to_day="2026-10-09"
    )
    grower.post(reverse("jobs:job", args=[work.pk]), {"amount": "2 bags", "done_on": "2026-10-05", "lot": own.pk})
    assert work.entries.get().kg == 40


def test_an_entry_is_corrected_not_erased_and_the_shed_follows(grower, border, thornmere):
    lot = StockLot.objects.create(holding=thornmere, material="gypsum", kg=10)
    data = {"plot": border.pk, "material": "gypsum", "amount": "4 kg", "done_on": "2026-04-02", "lot": lot.pk}
    other = StockLot.objects.create(holding=thornmere, material="urea", kg=10)
    assert "another material" in text_of(grower.post(reverse("records:log"), data | {"lot": other.pk}))
    grower.post(reverse("records:log"), data)
    first = LogEntry.objects.get()
    grower.post(reverse("records:correct", args=[first.pk]), {"amount": "3 kg", "done_on": "2026-04-03", "lot": lot.pk})
    lot.refresh_from_db()
    assert (LogEntry.objects.count(), lot.kg) == (2, 7)
    assert "first written as 4 kg on 2 Apr 2026" in page(grower, "records:log")
    assert grower.get(reverse("records:correct", args=[first.pk])).status_code == 404  # what was corrected is not corrected again
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    lot.refresh_from_db()
    assert (LogEntry.objects.count(), lot.kg) == (1, 6)


def test_totals_are_by_plot_and_year_against_caps(grower, border, thornmere):
    assert "Nothing is in the log" in page(grower, "records:totals")
    thornmere.cap_n_kg_per_ha = 100
    thornmere.save()
    for day, kg in (("2025-05-01", "0.2"), ("2026-05-01", "0.9")):
        grower.post(reverse("records:log"), {"plot": border.pk, "material": "urea", "amount": kg, "done_on": day})
    told = page(grower, "records:totals")
    assert "over your cap on nitrogen" in told
    assert told.index("2026") < told.index("2025")
    assert "23 g/m²" in told  # 0.9 kg of urea on 18 m2
    assert "uses up" in told


def test_the_climate_bends_dates_and_the_forecast_names_good_days(grower, border, thornmere, planned, settings):
    settings.FORECAST = "standins.weather:PretendedForecast"
    assert "Say what climate" in page(grower, "jobs:jobs")
    told = grower.post(
        reverse("people:holding"),
        {
            "name": "Thornmere",
            "units": "metric",
            "hemisphere": "north",
            "currency": "€",
            "nutrient_form": "oxide",
            "school": "sufficiency",
            "climate": "larch_heights",
        },
    )
    assert told.status_code == 302
    wrong = {
        "name": "Thornmere",
        "units": "metric",
        "hemisphere": "north",
        "currency": "€",
        "nutrient_form": "oxide",
        "school": "sufficiency",
        "own_warmth": "1 2 3",
    }
    assert "type twelve figures" in text_of(grower.post(reverse("people:holding"), wrong))
    assert "The days ahead" in page(grower, "jobs:jobs")
    Job.objects.update(from_day=timezone.localdate(), to_day=timezone.localdate() + timedelta(days=9))
    assert "days__one" in page(grower, "jobs:jobs")
    days = page(grower, "jobs:job", planned[0].pk)
    assert all(f"{timezone.localdate() + timedelta(days=ahead):%A %-d %B}: " in days for ahead in (0, 1))


def test_jobs_are_given_dropped_filtered_and_printed(grower, border, planned, thornmere):
    owner = thornmere.members.get()
    grower.post(reverse("jobs:assign", args=[planned[0].pk]), {"person": owner.pk})
    planned[0].refresh_from_db()
    assert planned[0].person == owner
    assert planned[0].name in page(grower, "jobs:jobs", person=owner.pk)
    assert "No open work for this choice" in page(grower, "jobs:jobs", material="nothing")
    assert "Nothing is due today" in page(grower, "jobs:sheet") or "Put on" in page(grower, "jobs:sheet")
    assert page(grower, "jobs:sheet", plot=border.pk).count("Code of this job’s page") == len(planned)
    count = Job.objects.filter(state="open").count()
    grower.post(reverse("jobs:drop", args=[planned[0].pk]))
    assert Job.objects.filter(state="open").count() == count - 1


def test_a_thousand_jobs_take_no_more_queries_than_ten(grower, border, thornmere, django_assert_max_num_queries):
    today = timezone.localdate()
    for count in (10, 1000):
        Job.objects.bulk_create(
            Job(
                holding=thornmere,
                plot=border,
                material="urea",
                name="urea",
                what="N",
                kg=1,
                from_day=today,
                to_day=today + timedelta(days=number % 40),
            )
            for number in range(count)
        )
        with django_assert_max_num_queries(11):
            page(grower, "jobs:jobs")


def test_jobs_of_another_holding_are_not_there(grower, border, planned):
    other = holding("Quillon Bend")
    bed = plot(other)
    slip(bed)
    theirs = Job.objects.create(
        holding=other, plot=bed, material="urea", name="urea", what="N", kg=1, from_day=date(2026, 1, 1), to_day=date(2026, 2, 1)
    )
    entry = LogEntry.objects.create(holding=other, plot=bed, material="urea", name="urea", kg=1)
    for name, key in (("jobs:job", theirs.pk), ("records:correct", entry.pk)):
        assert grower.get(reverse(name, args=[key])).status_code == 404
    for name in ("jobs:drop", "jobs:assign"):
        assert grower.post(reverse(name, args=[theirs.pk])).status_code == 404
    assert (
        grower.post(reverse("records:log"), {"plot": bed.pk, "material": "urea", "amount": "1", "done_on": "2026-01-01"}).status_code == 422
    )


def test_the_next_plan_starts_from_what_was_really_done(grower, border, planned):
    lime = next(job for job in planned if job.what == "CaCO3")
    assert "ground limestone" in page(grower, "planning:bench", border.pk)
    grower.post(reverse("jobs:job", args=[lime.pk]), {"amount": f"{lime.kg} kg", "done_on": timezone.localdate().isoformat()})
    told = page(grower, "planning:bench", border.pk)
    assert "ground limestone was put on since the test" in told
    assert f"swap/{lime.material}/" not in told
    entry = LogEntry.objects.get()
    grower.post(reverse("records:correct", args=[entry.pk]), {"amount": f"{lime.kg / 9} kg", "done_on": timezone.localdate().isoformat()})
    assert f"swap/{lime.material}/" in page(grower, "planning:bench", border.pk)


def test_the_feed_is_read_by_another_calendar_program_and_moves_instead_of_doubling(grower, border, planned):
    grower.post(reverse("jobs:make_feed"))
    told = page(grower, "jobs:calendar")
    address = re.search(r'value="http://testserver(/jobs/feed/[^"]+)"', told).group(1)
    assert "feed/" not in page(grower, "jobs:calendar")  # shown once
    reader = Client()
    first = events(reader, address)
    assert {event.uid.value.partition("@")[0] for event in first} == {str(job.uid) for job in planned}
    by_uid = {str(job.uid): job for job in planned}
    for event in first:
        job = by_uid[event.uid.value.partition("@")[0]]
        assert (event.dtstart.value, event.dtend.value - timedelta(days=1)) == (job.from_day, job.to_day)
        assert job.name in event.summary.value
        assert event.location.value == border.name
    planting = border.planting
    planting.planted_on += timedelta(days=14)
    planting.save()
    grower.post(reverse("planning:adopt", args=[border.pk]))
    second = {event.uid.value: event for event in events(reader, address)}
    assert set(second) == {event.uid.value for event in first}
    assert any(second[event.uid.value].dtend.value > event.dtend.value for event in first)
    assert all(int(second[event.uid.value].sequence.value) > int(event.sequence.value) for event in first)
    assert [event.uid.value for event in vobject.readOne(grower.get(reverse("jobs:calendar_file")).content.decode()).vevent_list]
    grower.post(reverse("jobs:revoke_feed"))
    assert reader.get(address).status_code == 404


def events(reader, address) -> list:
    answer = reader.get(address)
    assert answer.status_code == 200
    return vobject.readOne(answer.content.decode()).vevent_list


def test_a_programme_is_dated_put_on_the_list_copied_and_adapted(grower, border):
    assert "Grassland after cuts" in page(grower, "jobs:programmes")
    told = page(grower, "jobs:programme", "grass_cuts", plot=border.pk, start="2027-03-20", instead_calcium_ammonium_nitrate="urea")
    assert "urea instead of calcium ammonium nitrate" in told.lower()
    assert "brings none of what" in page(
        grower, "jobs:programme", "grass_cuts", plot=border.pk, start="2027-03-20", instead_potassium_chloride="urea"
    )
    grower.post(
        reverse("jobs:programme", args=["grass_cuts"]),
        {"plot": border.pk, "start": "2027-03-20", "size": "fixed", "settle": "keep", "reason": "so"},
    )
    assert Job.objects.filter(what="step").count() == 5
    assert Job.objects.get(material="potassium_chloride", from_day="2027-05-20").kg == pytest.approx(12 * 18 / 1000)
    grower.post(reverse("jobs:copy_programme", args=["lean_pots"]))
    own = OwnProgramme.objects.get()
    steps = {"name": "Bay year", "after": ["0", "x"], "do": ["Top up", "More"], "material": ["", ""], "grams": ["", ""]}
    address = reverse("jobs:edit_programme", args=[own.pk])
    refused = grower.post(address, steps)
    assert refused.status_code == 422
    assert "must be numbers" in text_of(refused)
    assert "one step or more" in text_of(grower.post(address, steps | {"after": ["0"], "do": [" "]}))
    grower.post(address, steps | {"after": ["0", "30"], "material": ["", "npk_coated_15_9_12"], "grams": ["", "4,5"]})
    told = page(grower, "jobs:programme", f"own-{own.pk}", plot=border.pk, start="2027-03-20", count="12", size="fixed")
    assert "54 g" in told
    assert grower.get(reverse("jobs:programme", args=["own-99"])).status_code == 404
    grower.post(reverse("jobs:drop_programme", args=[own.pk]))
    assert not OwnProgramme.objects.exists()


def test_closed_seasons_and_raw_manure_are_told_at_the_job(grower, border, thornmere):
    today = timezone.localdate()
    span = {
        "kind": "closed",
        "name": "Winter closure",
        "begins": (today - timedelta(days=5)).isoformat(),
        "ends": (today + timedelta(days=20)).isoformat(),
        "materials": ["cattle_slurry"],
    }
    assert grower.post(reverse("jobs:days"), span | {"materials": []}).status_code == 422
    grower.post(reverse("jobs:days"), span)
    border.livestock = "sheep"
    border.save()
    border.plantings.update(crop="lettuce", ended_on=today + timedelta(days=60))
    job = Job.objects.create(
        holding=thornmere,
        plot=border,
        material="cattle_slurry",
        name="cattle slurry",
        what="step",
        kg=40,
        from_day=today,
        to_day=today + timedelta(days=9),
    )
    told = page(grower, "jobs:job", job.pk)
    assert "Closed season: Winter closure" in told
    assert "Raw manure before harvest: 120 days" in told
    assert "keep animals off until" in told
    grower.post(reverse("jobs:drop_days"), {"row": json.dumps(Holding.objects.get(pk=thornmere.pk).closed[0])})
    assert "Closed season" not in page(grower, "jobs:job", job.pk)


def test_without_a_weather_service_days_go_by_usual_months_and_what_is_said_of_today(grower, border, thornmere, planned):
    thornmere.climate = "thornmere_vale"
    thornmere.save()
    assert "This program does not forecast the weather" in page(grower, "jobs:jobs")
    grower.post(reverse("jobs:say_today"), {"ground": "frozen", "wind": "windy", "rain": "nonsense"})
    told = page(grower, "jobs:jobs")
    assert re.search(r'value="frozen"\s+selected', told)
    assert "nonsense" not in told
    today = timezone.localdate()
    days = weather_of(thornmere, today, TodayIs(ground="frozen"))
    assert days[0].soil_c < 0
    assert {day.rain_mm for day in days} == {0.0}
