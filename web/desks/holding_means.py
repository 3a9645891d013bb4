"""What the shed and so much money allow on the whole holding, put on the list of every plot that has nothing else meant for it."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from web.bags.holding_bags import chosen_shares, shown_again, still_there
from web.changes.undo import undoable
from web.desks.budget_limited import work_of
from web.jobs.intent import meant_too_much
from web.people.holding_lock import hold


@require_POST
def holding_means(request):
    """One act for all plots; those where it comes to too much beside other work are left out, and named."""
    shares = chosen_shares(request)  # a moment for few plots: others go on writing meanwhile
    if shares is None:
        return shown_again(request)
    with transaction.atomic():
        hold(request.place.holding.pk)
        _put_on_the_list(request, still_there(shares))
    return redirect("jobs:jobs")


def _put_on_the_list(request, pairs) -> None:
    jobs, crowded = [], []
    for plot, share in pairs:
        made = work_of(plot, share.kg)
        if made and meant_too_much(plot, made):
            crowded.append(plot.name)
        else:
            jobs += made
    if jobs:
        with undoable(request, "What the shed and the money allow was added to jobs") as touched:
            for job in jobs:
                job.save()
            touched += jobs
    if crowded:
        messages.info(request, f"Left out, because other work is meant for them already: {', '.join(crowded)}.")
    elif not jobs:
        messages.info(request, "There is nothing to put on the list.")
