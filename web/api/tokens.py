"""The page where a person makes and takes back tokens for their own programs."""

import secrets

from django import forms
from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from web.api.models import ApiToken
from web.people.tokens import digest

MOST = 20


class TokenForm(forms.ModelForm):
    """What the token is for, and what it may do."""

    class Meta:
        model = ApiToken
        fields = ["name", "scope"]
        labels = {"name": "What it is for", "scope": "It may"}
        help_texts = {"name": "Such as “spreadsheet” or “weather station”."}


def tokens(request):
    """A new token is shown once; only its hash is kept."""
    mine = ApiToken.objects.filter(user=request.user, holding=request.place.holding)
    form = TokenForm(request.POST or None)
    if request.method == "POST" and mine.count() >= MOST:
        form.add_error(None, f"You have {MOST} tokens. Take one back first.")
    if request.method == "POST" and form.is_valid():
        token = secrets.token_urlsafe(32)
        form.instance.user, form.instance.holding, form.instance.token_sha256 = request.user, request.place.holding, digest(token)
        form.save()
        request.session["api_token"] = token
        return redirect("api:tokens")
    context = {"form": form, "tokens": mine, "shown": request.session.pop("api_token", "")}
    return render(request, "api/tokens.html", context, status=422 if form.errors else 200)


@require_POST
def drop_token(request, pk: int):
    get_object_or_404(ApiToken, user=request.user, holding=request.place.holding, pk=pk).delete()
    messages.success(request, "The token has expired.")
    return redirect("api:tokens")
