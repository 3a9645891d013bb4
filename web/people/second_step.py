"""A second step at sign-in: a code from one's phone, for whoever wants it; with codes on paper for the day the phone is lost.

Secrets, drift of clocks, codes used twice and waits after wrong ones are django-otp's.
"""

import time

from django import forms
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_not_required
from django.db import transaction
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.http import urlencode
from django_otp import match_token
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from web.asked import next_page
from web.drawing.labels import qr_path
from web.people.account import ByPasswordForm
from web.people.models import User

WAITS_S = 600  # so long the password counts while the code is looked up
PAPER_CODES = 10
HALF = "half_signed_in"


class CodeForm(forms.Form):
    """A code from the phone, or one from paper."""

    code = forms.CharField(label="Code", max_length=20, widget=forms.TextInput(attrs={"autocomplete": "one-time-code", "autofocus": True}))

    def clean_code(self) -> str:
        return self.cleaned_data["code"].replace(" ", "").lower()


def phone_of(user: User) -> TOTPDevice | None:
    """The phone that shows a person's codes; None where none is asked for."""
    return TOTPDevice.objects.filter(user=user, confirmed=True).first()


class SignIn(auth.LoginView):
    """Address and password; whoever has a phone set up is asked for its code next, and is not signed in before."""

    template_name = "people/sign_in.html"
    redirect_authenticated_user = True

    def form_valid(self, form):
        user = form.get_user()
        if phone_of(user) is None:
            return super().form_valid(form)
        self.request.session[HALF] = {
            "user": user.pk,
            "backend": user.backend,
            "at": int(time.time()),
            "hash": user.get_session_auth_hash(),
        }
        return redirect(f"{reverse('people:second_step')}?{urlencode({'next': self.get_success_url()})}")


@login_not_required
def second_step(request):
    """The code; after it one is signed in as after a password alone."""
    half = request.session.get(HALF) or {}
    user = User.objects.filter(pk=half.get("user"), is_active=True).first()
    fresh = time.time() - half.get("at", 0) < WAITS_S
    if user is None or not fresh or half.get("hash") != user.get_session_auth_hash():
        messages.error(request, "Sign in again: that took too long, or the password was changed.")
        return redirect("people:sign_in")
    form = CodeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if match_token(user, form.cleaned_data["code"]):
            del request.session[HALF]
            login(request, user, backend=half["backend"])
            return redirect(next_page(request))
        form.add_error("code", "That code does not fit, or was used. Wait for the next one; after several wrong ones wait a little longer.")
    context = {"form": form, "next": request.GET.get("next", "")}
    return render(request, "people/second_step.html", context, status=422 if form.errors else 200)


def turn_on(request):
    """The secret as a drawing for the phone; the first code that fits turns it on, and shows the codes for paper once."""
    if phone_of(request.user) is not None:
        return redirect("people:account")
    phone, _ = TOTPDevice.objects.get_or_create(user=request.user, confirmed=False, defaults={"name": "phone"})
    form = CodeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if phone.verify_token(form.cleaned_data["code"]):
            with transaction.atomic():
                phone.confirmed = True
                phone.save()
                codes = _new_paper_codes(request.user)
            return render(request, "people/paper_codes.html", {"codes": codes})
        form.add_error("code", "That code does not fit. Check the phone’s clock, and type the code that it shows now.")
    path, modules = qr_path(phone.config_url)
    secret = phone.config_url.partition("secret=")[2].partition("&")[0]
    spaced = " ".join(secret[place : place + 4] for place in range(0, len(secret), 4))
    context = {"form": form, "path": path, "modules": modules, "secret": spaced}
    return render(request, "people/turn_on_codes.html", context, status=422 if form.errors else 200)


def turn_off(request):
    """Takes phone and paper codes away, by the password."""
    form = ByPasswordForm(request.user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        with transaction.atomic():
            TOTPDevice.objects.filter(user=request.user).delete()
            StaticDevice.objects.filter(user=request.user).delete()
        messages.success(request, "No code is asked for any more when you sign in.")
        return redirect("people:account")
    return render(request, "people/turn_off_codes.html", {"form": form}, status=422 if form.errors else 200)


def _new_paper_codes(user: User) -> list[str]:
    StaticDevice.objects.filter(user=user).delete()
    paper = StaticDevice.objects.create(user=user, name="paper", confirmed=True)
    codes = [StaticToken.random_token() for _ in range(PAPER_CODES)]
    StaticToken.objects.bulk_create(StaticToken(device=paper, token=code) for code in codes)
    return codes
