"""The desks: what each is for."""

from django.shortcuts import render

from web.ground.selectors import plots_of


def desks(request):
    return render(request, "desks/index.html", {"plots": plots_of(request.place.holding)[:60]})
