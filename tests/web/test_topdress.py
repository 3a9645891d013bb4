"""The desk of topdressing: a reading ends in a job within the season's account, or in nothing with its reason."""

from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import plot, slip
from web.jobs.models import Job
from web.records.models import LogEntry


@pytest.fixture
def maize(thornmere):
    made = plot(thornmere, "Barn Field", "maize", kind="field", area_m2=20_000.0, depth_cm=20.0)
    made.plantings.update(planted_on=timezone.localdate() - timedelta(days=40))
    slip(made, taken_on=timezone.localdate() - timedelta(days=60))
    return made


def desk(of, **asked) -> str:
    query = "&".join(f"{name}={value}" for name, value in asked.items())
    return f"{reverse('desks:topdress', args=[of.pk])}?{query}"


INDEX = {"with": "meter", "place": "in+time", "rule": "V8+to+VT+(tasselling)", "meter": "46.2", "strip": "50.6"}


def test_a_pale_reading_ends_in_a_job_of_a_named_bag_and_a_second_one_in_nothing(grower, maize):
    page = grower.get(desk(maize, **INDEX)).content.decode()
    assert "index 0.913" in page
    assert "34.8 kg/ha of nitrogen" in page
    assert "43.5 kg/ha" in page  # the upper end of what guides give
    assert "of urea" in page
    assert "of urea" not in grower.get(desk(maize, **INDEX, dry="on")).content.decode()  # it would go off as gas
    answer = grower.post(desk(maize, **INDEX), {"settle": "keep", "reason": "the leaf asks"})
    assert answer.status_code == 302
    job = Job.objects.get()
    assert (job.origin, job.what, job.from_day) == ("desk", "N", timezone.localdate())
    assert job.kg * 0.1 < 34.8 * 2 < job.kg  # 34.8 kg of nitrogen a hectare on two hectares, whatever the bag
    LogEntry.objects.create(
        holding=maize.holding, plot=maize, material=job.material, name=job.name, kg=job.kg, done_on=timezone.localdate()
    )
    assert "has not shown yet" in grower.get(desk(maize, **INDEX)).content.decode()


def test_a_planned_dressing_is_brought_forward_and_not_added_to(grower, maize):
    soon = timezone.localdate() + timedelta(days=6)
    about = {"material": "urea", "name": "urea", "what": "N", "kg": 120, "from_day": soon, "to_day": soon + timedelta(days=9)}
    Job.objects.create(holding=maize.holding, plot=maize, **about)
    page = grower.get(desk(maize, **INDEX)).content.decode()
    assert "Bring the planned dressing forward" in page
    grower.post(desk(maize, **INDEX))
    assert Job.objects.get().from_day == timezone.localdate()


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        (INDEX | {"looks": "wet"}, "Drain first"),
        (INDEX | {"place": "past"}, "is past"),
        (INDEX | {"strip": ""}, "Read again"),
        ({"with": "card", "place": "in+time", "rule": "maize_card", "leaves": "4+4+5"}, "Read 10 leaves"),
        ({"with": "card", "place": "in+time", "rule": "maize_card", "leaves": "4+four"}, "number"),
        ({"with": "eye", "place": "in+time", "looks_pale": "pale"}, "none is planned soon"),
        ({"with": "spectrograph"}, "What was read"),
    ],
)
def test_nothing_is_said_plainly(grower, maize, asked, says):
    assert says in grower.get(desk(maize, **asked)).content.decode()
    assert not Job.objects.exists()
