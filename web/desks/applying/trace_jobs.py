"""A trace element from its desk onto the jobs list, as often as it must be given, leaf feeds kept apart."""

from django.contrib import messages
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.apply.micronutrients import WAYS
from agronomy.plan.micronutrients import short_by_test, ways_here
from agronomy.schedule.intervals import leaf_feeds
from web.core import tables
from web.desks.common import assessed
from web.ground.selectors import plot_or_404
from web.jobs.intent import put_on_list
from web.jobs.models import Job


@require_POST
def jobs_for_a_trace(request, pk: int):
    """Only what a test says is short: the desk shows the button for nothing else, and neither does this take it."""
    plot, today = plot_or_404(request, pk), timezone.localdate()
    found = assessed(request, plot, today)
    element, way = request.POST.get("element", ""), request.POST.get("way", "")
    doses = ways_here(element, found, tables()) if found and found.ph is not None and element in short_by_test(found, tables()) else []
    dose = next((dose for dose in doses if dose.way == way and dose.plot_kg > 0), None)
    if dose is None:
        messages.error(request, "That is not short by a test here, or cannot be given this way.")
        return redirect(f"{reverse('desks:traces', args=[pk])}?element={element}")
    windows = leaf_feeds(today, dose.times, tables())
    jobs = [
        Job(
            holding_id=plot.holding_id,
            plot=plot,
            material=dose.material,
            name=dose.name,
            what=element,
            origin=Job.Origin.DESK,
            origin_name="the calculator of trace elements",
            dressing=number,
            kg=dose.plot_kg,
            placement=WAYS[way],
            way="leaf" if way == "leaf" else "",
            why=f"{tables().analytes[element].name} is short by test. {dose.says[0].upper()}{dose.says[1:]}.",
            from_day=begins,
            to_day=ends,
        )
        for number, (begins, ends) in enumerate(windows, 1)
    ]
    label = f"{dose.name} for {plot.name} was added to jobs"
    return put_on_list(request, plot, jobs, label, about=dose.name) or redirect("jobs:jobs")
