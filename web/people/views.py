"""Signing up, the holding's habits, and the switch of units."""

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.db import transaction
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from web.asked import next_page
from web.changes.undo import undoable
from web.people.confirming import send_known, send_link
from web.people.forms import HoldingForm, SignUpForm, UnitsForm
from web.people.limits import is_too_often
from web.people.models import Holding, User


@login_not_required
def sign_up(request):
    if request.user.is_authenticated:
        return redirect("home")
    confirms = settings.CONFIRM_ADDRESSES
    form = SignUpForm(request.POST or None, is_told=not confirms)
    if request.method == "POST" and form.is_valid():
        if is_too_often(request, "sign-up"):
            form.add_error(None, "Too many accounts were made from here within the hour. Try again later.")
            return render(request, "people/sign_up.html", {"form": form}, status=429)
        if confirms:
            _sign_up_by_mail(request, form)
            return redirect("people:look_in_mail")
        user = form.save()
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
        return redirect("start")
    return render(request, "people/sign_up.html", {"form": form}, status=422 if form.errors else 200)


def _sign_up_by_mail(request, form: SignUpForm) -> None:
    """Sends the link that opens the account; whoever has one gets another mail, and the page says the same."""
    email = form.cleaned_data["email"]
    known = User.objects.filter(email=email).first()
    if known is not None and known.is_active:
        send_known(request, email)
        return
    with transaction.atomic():
        if known is not None:  # signed up before and never opened the link: what is typed now counts
            Holding.objects.filter(memberships__user=known).delete()
            known.delete()
        user = form.save()
    send_link(request, user)


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
