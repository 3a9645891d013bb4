"""Who works on a holding: invitations by a link that serves once, joining, leaving, and choosing among one's holdings."""

import hashlib
import secrets
from datetime import timedelta

from axes.models import AccessLog
from django import forms
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.db import transaction
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from web.asked import key_of
from web.people.forms import AccountForm
from web.people.models import Invitation, Membership

SERVES_FOR = timedelta(days=14)
LAST_SIGN_INS = 20


class InviteForm(forms.Form):
    """Which role the link gives."""

    role = forms.ChoiceField(
        label="Invite a",
        choices=[(role.value, role.label) for role in (Membership.Role.WORKER, Membership.Role.ADVISER, Membership.Role.OWNER)],
    )


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def people(request):
    """Members with their roles, open invitations, and a new link, which is shown once."""
    holding = request.place.holding
    form = InviteForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        token = secrets.token_urlsafe(24)
        Invitation.objects.create(
            holding=holding,
            role=form.cleaned_data["role"],
            token_sha256=_hash(token),
            made_by=request.user,
            serves_until=timezone.now() + SERVES_FOR,
        )
        request.session["invitation"] = request.build_absolute_uri(reverse("people:join", args=[token]))
        return redirect("people:people")
    context = {
        "form": form,
        "address": request.session.pop("invitation", ""),
        "members": holding.memberships.select_related("user").order_by("pk"),
        "signed_in": AccessLog.objects.filter(username__in=holding.members.values("email")).order_by("-attempt_time")[:LAST_SIGN_INS],
        "invitations": holding.invitations.filter(used_at=None, serves_until__gt=timezone.now()),
    }
    return render(request, "people/people.html", context, status=422 if form.errors else 200)


@require_POST
def take_back(request, pk: int):
    get_object_or_404(request.place.holding.invitations, pk=pk, used_at=None).delete()
    messages.success(request, "The invitation no longer serves.")
    return redirect("people:people")


@require_POST
def take_out(request, pk: int):
    """Takes somebody off the holding; the last owner stays."""
    membership = get_object_or_404(request.place.holding.memberships.select_related("user"), pk=pk)
    owners = request.place.holding.memberships.filter(role=Membership.Role.OWNER)
    if membership.role == Membership.Role.OWNER and owners.count() == 1:
        messages.error(request, "A holding keeps one owner at least. Invite another first.")
    else:
        membership.delete()
        messages.success(request, f"{membership.user} is no longer on this holding. What they wrote stays.")
    return redirect("people:people")


@login_not_required
def join(request, token: str):
    """Joining by a link: whoever is signed in joins as they are, a newcomer makes an account first."""
    invitation = (
        Invitation.objects.select_related("holding")
        .filter(token_sha256=_hash(token), used_at=None, serves_until__gt=timezone.now())
        .first()
    )
    if invitation is None:
        raise Http404
    form = None if request.user.is_authenticated else AccountForm(request.POST or None)
    if request.method == "POST" and (form is None or form.is_valid()):
        with transaction.atomic():
            user = request.user if form is None else form.save()
            # taken only if nobody took it in the meantime
            if not Invitation.objects.filter(pk=invitation.pk, used_at=None).update(used_at=timezone.now(), used_by=user):
                raise Http404
            Membership.objects.get_or_create(user=user, holding=invitation.holding, defaults={"role": invitation.role})
        if form is not None:
            login(request, user, backend="django.contrib.auth.backends.ModelBackend")
        request.session["holding"] = invitation.holding_id
        return redirect("home")
    context = {"invitation": invitation, "form": form, "token": token}
    return render(request, "people/join.html", context, status=422 if form is not None and form.errors else 200)


@require_POST
def choose_holding(request):
    """Works on another of one's holdings from now on."""
    membership = get_object_or_404(Membership, user=request.user, holding=key_of(request.POST.get("holding")))
    request.session["holding"] = membership.holding_id
    return redirect("home")
