"""Proving an address: where mails can be sent, an account serves once its link was opened, and nobody learns who has one."""

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.tokens import PasswordResetTokenGenerator
from django.core.mail import send_mail
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.encoding import force_bytes
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from web.asked import key_of
from web.people.models import User


class _Tokens(PasswordResetTokenGenerator):
    """Links that serve until the account is confirmed; not those that set a password."""

    key_salt = "web.people.confirming"

    def _make_hash_value(self, user, timestamp):
        return f"{super()._make_hash_value(user, timestamp)}{user.is_active}"


_tokens = _Tokens()


def send_link(request, user: User) -> None:
    where = reverse("people:confirm", args=[urlsafe_base64_encode(force_bytes(user.pk)), _tokens.make_token(user)])
    _send("people/confirm_mail.txt", "Confirm your address for Iron Rake", user.email, request.build_absolute_uri(where))


def send_known(request, email: str) -> None:
    """To somebody who signs up again: the account is there, and how to get in."""
    _send("people/known_mail.txt", "Your account on Iron Rake", email, request.build_absolute_uri(reverse("people:forgotten")))


def _send(template: str, subject: str, email: str, link: str) -> None:
    send_mail(subject, render_to_string(template, {"link": link}), settings.DEFAULT_FROM_EMAIL, [email])


@login_not_required
def confirm(request, uid: str, token: str):
    """The page behind the link; its button confirms and signs in, so that a mail scanner that opens links confirms nothing."""
    try:
        pk = key_of(urlsafe_base64_decode(uid).decode("ascii"))
    except ValueError:
        pk = None
    user = User.objects.filter(pk=pk, is_active=False).first() if pk is not None else None
    good = user is not None and _tokens.check_token(user, token)
    if good and request.method == "POST":
        user.is_active = True
        user.save(update_fields=["is_active"])
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
        return redirect("start")
    return render(request, "people/confirm.html", {"good": good})


@login_not_required
def look_in_mail(request):
    return render(request, "people/look_in_mail.html")
