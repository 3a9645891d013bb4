"""Who works on a holding: invitations by a link that serves once, joining, leaving, and choosing among one's holdings."""

import secrets
from datetime import timedelta

from allauth.account.utils import complete_signup
from axes.models import AccessLog
from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.db import transaction
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from web.people.leaving import end_invitations, take_off
from web.people.models import Invitation, Membership
from web.people.signing.forms import NewAccountForm
from web.people.tokens import digest
from web.people.trail import note
from web.query_params import key_of

SERVES_FOR = timedelta(days=14)
LAST_SIGN_INS = 20
LAST_EVENTS = 50
LAST_OWNER = "A holding keeps one owner at least. Make another person owner first."


class InviteForm(forms.Form):
    """Which role the link gives."""

    role = forms.ChoiceField(
        label="Invite a",
        choices=[(role, Membership.Role(role).label) for role in ("worker", "adviser", "owner")],
    )


def people(request):
    """Members with their roles, open invitations, and a new link, which is shown once."""
    holding = request.place.holding
    form = InviteForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        token = secrets.token_urlsafe(24)
        Invitation.objects.create(
            holding=holding,
            role=form.cleaned_data["role"],
            token_sha256=digest(token),
            made_by=request.user,
            serves_until=timezone.now() + SERVES_FOR,
        )
        note(holding, request.user, f"made an invitation as {Membership.Role(form.cleaned_data['role']).label}")
        request.session["invitation"] = request.build_absolute_uri(reverse("people:join", args=[token]))
        return redirect("people:people")
    context = {
        "form": form,
        "address": request.session.pop("invitation", ""),
        "members": holding.memberships.select_related("user").order_by("pk"),
        "signed_in": AccessLog.objects.filter(username__in=holding.members.values("email")).order_by("-attempt_time")[:LAST_SIGN_INS],
        "trail": holding.people_events.all()[:LAST_EVENTS],
        "roles": Membership.Role.choices,
        "invitations": holding.invitations.filter(used_at=None, serves_until__gt=timezone.now()),
    }
    return render(request, "people/people.html", context, status=422 if form.errors else 200)


@require_POST
def take_back(request, pk: int):
    get_object_or_404(request.place.holding.invitations, pk=pk, used_at=None).delete()
    note(request.place.holding, request.user, "took an invitation back")
    messages.success(request, "The invitation has expired.")
    return redirect("people:people")


def _is_last_owner(membership: Membership) -> bool:
    owners = membership.holding.memberships.filter(role=Membership.Role.OWNER)
    return membership.role == Membership.Role.OWNER and owners.count() == 1


@require_POST
def take_out(request, pk: int):
    """Takes somebody off the holding; the last owner stays."""
    membership = get_object_or_404(request.place.holding.memberships.select_related("user", "holding"), pk=pk)
    if _is_last_owner(membership):
        messages.error(request, LAST_OWNER)
    else:
        ended = take_off(membership)
        note(membership.holding, request.user, f"took out {membership.user}, {membership.get_role_display()}")
        told = f"{membership.user} is no longer on this holding. What they wrote stays."
        if ended:
            told += f" {ended} open invitation{'s were' if ended > 1 else ' was'} ended too, for a link can be passed on: make new ones."
        messages.success(request, told)
    return redirect("people:people")


@require_POST
def change_role(request, pk: int):
    """Gives somebody another role: a holding is handed over by making another person its owner."""
    membership = get_object_or_404(request.place.holding.memberships.select_related("user", "holding"), pk=pk)
    role = request.POST.get("role")
    if role not in Membership.Role.values:
        messages.error(request, "That role is not in our list; nothing was changed.")
    elif _is_last_owner(membership) and role != Membership.Role.OWNER:
        messages.error(request, LAST_OWNER)
    elif role != membership.role:
        before, membership.role = membership.get_role_display(), role
        membership.save(update_fields=["role"])
        end_invitations(membership.holding, membership.user)
        note(membership.holding, request.user, f"made {membership.user} {membership.get_role_display()}, {before} before")
        messages.success(request, f"{membership.user} is {membership.get_role_display()} now.")
    return redirect("people:people")


@login_not_required
def join(request, token: str):
    """Joining by a link: whoever is signed in joins as they are, a newcomer makes an account first.

    Where addresses are proved, a newcomer is let in once the link of the mail was opened; who has an account is told so by mail.
    """
    invitation = (
        Invitation.objects.select_related("holding", "made_by")
        .filter(token_sha256=digest(token), used_at=None, serves_until__gt=timezone.now())
        .first()
    )
    if invitation is None:
        raise Http404
    form = None if request.user.is_authenticated else NewAccountForm(request.POST or None)
    if request.method == "POST" and (form is None or form.is_valid()):
        with transaction.atomic():
            user, answer = (request.user, None) if form is None else form.try_save(request)
            if user is None:
                return answer
            # taken only if nobody took it in the meantime
            if not Invitation.objects.filter(pk=invitation.pk, used_at=None).update(used_at=timezone.now(), used_by=user):
                raise Http404
            Membership.objects.get_or_create(user=user, holding=invitation.holding, defaults={"role": invitation.role})
            note(invitation.holding, user, f"joined as {invitation.get_role_display()}, invited by {invitation.made_by or 'somebody gone'}")
        request.session["holding"] = invitation.holding_id
        home = reverse("home")
        return redirect(home) if form is None else complete_signup(request, user, None, home)
    context = {"invitation": invitation, "form": form, "token": token}
    return render(request, "people/join.html", context, status=422 if form is not None and form.errors else 200)


@require_POST
def choose_holding(request):
    """Works on another of one's holdings from now on."""
    membership = get_object_or_404(Membership, user=request.user, holding=key_of(request.POST.get("holding")))
    request.session["holding"] = membership.holding_id
    return redirect("home")
