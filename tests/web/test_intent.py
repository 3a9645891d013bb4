"""A plan beside a programme: seen before it goes on the list, and settled by one of three answers."""

import csv
from datetime import date

import pytest
from django.urls import reverse

from tests.helpers.holdings import plot, slip
from tests.helpers.pages import text_of
from web.changes.models import Change
from web.jobs.models import Job
from web.planning.overlap import needs_of
from web.supplies.buying import purchases_of

READINGS = [("pH", "6.4", "", "water 1:1"), ("P", "30", "mg/kg", "Olsen"), ("K", "190", "mg/kg", "ammonium acetate")]


@pytest.fixture
def paddock(thornmere):
    made = plot(thornmere, "Paddock", "pasture", area_m2=14_000.0, kind="pasture", texture="loam")
    made.plantings.update(planted_on=date(2026, 4, 1))  # it stands
    slip(made, READINGS)
    return made


def put(grower, paddock, **more):
    told = {"plot": paddock.pk, "start": "2027-03-20", "size": "fixed"} | more
    return grower.post(reverse("jobs:programme", args=["grass_cuts"]), told)


def nitrogen(paddock) -> float:
    """What is on the list for the paddock [kg N/ha]."""
    jobs = Job.objects.filter(plot=paddock, state="open")
    share = {"urea": 0.46, "calcium_ammonium_nitrate": 0.27, "ammonium_sulfate": 0.21}
    return sum(share.get(job.material, 0.0) * job.kg for job in jobs) / 1.4


def test_a_programme_takes_its_share_of_the_need_and_nothing_of_what_is_meant_already(grower, paddock):
    need = needs_of(paddock)
    page = text_of(grower.get(reverse("jobs:programme", args=["grass_cuts"]), {"plot": paddock.pk, "start": "2027-03-20"}))
    assert "Left out: the plot needs no more potassium." in page
    assert put(grower, paddock, size="need").url == reverse("jobs:jobs")  # nobody has to be asked
    assert nitrogen(paddock) == pytest.approx(need["N"], rel=0.01)
    assert put(grower, paddock, size="need").url == reverse("jobs:programmes")  # the need is met by what is on the list


def test_a_programme_on_top_of_a_plan_is_replaced_cut_or_kept_with_a_reason(grower, paddock):
    assert grower.post(reverse("planning:adopt", args=[paddock.pk])).status_code == 302
    planned, count = nitrogen(paddock), Job.objects.filter(state="open").count()
    asked = put(grower, paddock)
    assert asked.status_code == 409
    told = text_of(asked)
    assert "on the list already (the plan)" in told
    assert "of nitrogen; the need is" in told
    assert Job.objects.filter(state="open").count() == count  # nothing is on the list before it is settled
    assert put(grower, paddock, settle="keep").status_code == 409  # without a reason
    assert "Say why" in text_of(put(grower, paddock, settle="keep"))

    assert put(grower, paddock, settle="reduce").status_code == 302
    assert nitrogen(paddock) <= planned * 1.2
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))

    put(grower, paddock, settle="replace")
    assert not Job.objects.filter(plot=paddock, state="open", plan__isnull=False, what="N").exists()
    assert "calcium_ammonium_nitrate" in {row.material for row in purchases_of(paddock.holding)}
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert nitrogen(paddock) == pytest.approx(planned)

    put(grower, paddock, settle="keep", reason="five cuts are sold")
    assert nitrogen(paddock) > planned * 1.5
    assert Job.objects.filter(reason="five cuts are sold").exists()
    assert "five cuts are sold" in text_of(grower.get(reverse("jobs:job", args=[Job.objects.filter(reason__gt="").first().pk])))


def test_a_plan_on_top_of_a_programme_asks_the_same_alone_and_among_many(grower, paddock):
    put(grower, paddock, settle="keep", reason="as always")
    alone = nitrogen(paddock)
    many = text_of(grower.post(reverse("planning:adopt_many"), {"plot": [paddock.pk]}, follow=True))
    assert "other work on the list brings the same: Paddock" in many
    address = reverse("planning:adopt", args=[paddock.pk])
    asked = grower.post(address)
    assert asked.status_code == 409
    assert "(Grassland after cuts)" in text_of(asked)
    grower.post(address, {"settle": "replace"})
    assert set(Job.objects.filter(plot=paddock, state="open", material="calcium_ammonium_nitrate").values_list("origin", flat=True)) <= {
        "plan"
    }
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert nitrogen(paddock) == pytest.approx(alone)


def test_the_season_tells_what_is_needed_meant_and_left(grower, paddock):
    def figures() -> dict[str, list[str]]:
        rows = csv.reader(b"".join(grower.get(reverse("jobs:season_csv")).streaming_content).decode().splitlines())
        return {row[1]: [float(value) for value in row[2:]] for row in rows if row[0] == "Paddock"}

    needed, meant, done, left, over = figures()["N"]
    assert (meant, done, over) == (0, 0, 0)
    assert left == needed > 100
    put(grower, paddock, settle="keep", reason="as always")
    grower.post(reverse("planning:adopt", args=[paddock.pk]), {"settle": "keep", "reason": "as always"})
    needed, meant, done, left, over = figures()["N"]
    assert left == 0
    assert over == pytest.approx(meant - needed, abs=1)
    told = text_of(grower.get(reverse("jobs:season")))
    assert "kg/ha too much" in told
    assert "March 2027" in told
