"""One's own account: name, where one is signed in, another holding, and closing what is no longer wanted."""

from allauth.mfa.utils import is_mfa_enabled
from allauth.usersessions.models import UserSession
from django import forms
from django.contrib import messages
from django.contrib.auth import logout
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from web.people.closing import close_account, only_owner_of
from web.people.models import Holding, Membership, User
from web.people.sessions import end, machine_of, open_sessions


class NameForm(forms.ModelForm):
    """How one is called on letters and sheets."""

    class Meta:
        model = User
        fields = ["name"]
        help_texts = {"name": "Letters and sheets are signed with it."}


class NewHoldingForm(forms.ModelForm):
    """One more holding of one's own."""

    class Meta:
        model = Holding
        fields = ["name", "units", "hemisphere"]
        labels = {"name": "Name of the garden, farm or holding"}


class ByPasswordForm(forms.Form):
    """A step that cannot be taken back is confirmed with the password."""

    password = forms.CharField(
        label="Your password", strip=False, max_length=256, widget=forms.PasswordInput(attrs={"autocomplete": "current-password"})
    )

    def __init__(self, user: User, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.user = user

    def clean_password(self) -> str:
        if not self.user.check_password(self.cleaned_data["password"]):
            raise forms.ValidationError("This is not your password. Nothing was done.")
        return self.cleaned_data["password"]


def account(request):
    form = NameForm(request.POST or None, instance=request.user)
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, "Your name is kept.")
        return redirect("people:account")
    context = {
        "form": form,
        "sessions": [(row, machine_of(row.user_agent)) for row in open_sessions(request.user)],
        "this_key": request.session.session_key,
        "places": request.place.memberships,
        "phone": is_mfa_enabled(request.user),
    }
    return render(request, "people/account.html", context, status=422 if form.errors else 200)


@require_POST
def end_session(request, pk: int):
    row = get_object_or_404(UserSession, user=request.user, pk=pk)
    end([row])
    messages.success(request, f"Signed out there: {machine_of(row.user_agent)}.")
    return redirect("people:account")


@require_POST
def end_others(request):
    ended = end(row for row in open_sessions(request.user) if row.session_key != request.session.session_key)
    messages.success(request, f"Signed out in {ended} other place{'' if ended == 1 else 's'}.")
    return redirect("people:account")


def new_holding(request):
    form = NewHoldingForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        form.instance.days = "month" if form.cleaned_data["units"] == Holding.Units.US else "day"
        made = form.save()
        Membership.objects.create(user=request.user, holding=made)
        request.session["holding"] = made.pk
        return redirect("start")
    return render(request, "people/new_holding.html", {"form": form}, status=422 if form.errors else 200)


def close(request):
    """Closes the account, where no holding would be left without an owner."""
    form = ByPasswordForm(request.user, request.POST or None)
    orphans = only_owner_of(request.user)
    if request.method == "POST" and not orphans and form.is_valid():
        user = request.user
        logout(request)
        close_account(user)
        messages.success(request, "Your account is closed.")
        return redirect("home")
    wrong = request.method == "POST" and (orphans or form.errors)
    return render(
        request, "people/close_account.html", {"form": None if orphans else form, "orphans": orphans}, status=422 if wrong else 200
    )
