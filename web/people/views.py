"""The holding's habits, and the switch of units."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from web.changes.undo import undoable
from web.people.forms import HoldingForm, UnitsForm
from web.query_params import next_page


def holding_settings(request):
    holding = request.place.holding
    form = HoldingForm(request.POST or None, instance=holding)
    if request.method == "POST" and form.is_valid():
        with undoable(request, "Holding changed", holding):
            form.save()
            request.place.membership.units = ""
            request.place.membership.save(update_fields=["units"])
        return redirect("people:holding")
    return render(request, "people/holding.html", {"form": form}, status=422 if form.errors else 200)


@require_POST
def switch_units(request):
    form = UnitsForm(request.POST)
    if form.is_valid():
        request.place.membership.units = form.cleaned_data["units"]
        request.place.membership.save(update_fields=["units"])
    else:
        messages.error(request, "Those units are not known here; nothing was changed.")
    return redirect(next_page(request))
