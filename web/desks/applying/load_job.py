"""A load of manure or compost from its desk onto the jobs list, in a window that keeps every limit."""

from django.contrib import messages
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.base.said import joined
from agronomy.plan.cautions import practice_of
from agronomy.schedule.loads import WHAT, load_of
from web.core import error_text, tables
from web.desks.common import assessed
from web.ground.selectors import plot_or_404
from web.jobs.intent import put_on_list
from web.jobs.models import Job


@require_POST
def job_for_a_load(request, pk: int):
    """The job of the rate [t/ha] that the desk worked out; another rate may be typed."""
    plot = plot_or_404(request, pk)
    found = assessed(request, plot, timezone.localdate())
    material = tables().materials.get(request.POST.get("material", ""))
    back = redirect(f"{reverse('desks:manure', args=[pk])}?manure={material.key if material else ''}")
    if found is None or material is None:
        messages.error(request, "A crop, a reading and a manure or compost are needed first.")
        return back
    try:
        item, conflict = load_of(material, parse_number(request.POST.get("rate", ""), "rate"), found.request, found.soil, tables())
    except RuleError as error:
        messages.error(request, error_text(error))
        return back
    job = Job(
        holding_id=plot.holding_id,
        plot=plot,
        material=material.key,
        name=material.name,
        what=WHAT,
        origin=Job.Origin.DESK,
        origin_name=f"the load of {material.name}"[:80],
        kg=item.total_kg,
        worked_in_cm=practice_of(item).worked_in_cm,
        from_day=item.from_,
        to_day=item.to,
    )
    job.keep_sentences(placement=item.placement, why=joined((item.timing_note, conflict)))
    label = f"{material.name} for {plot.name} was added to jobs"
    asked = put_on_list(request, plot, [job], label, about=f"the load of {material.name}")
    return asked or (redirect("jobs:job", job.pk) if job.pk else redirect("jobs:jobs"))
