"""The forms of signing in and up, of passwords and codes: django-allauth's, in our words."""

from typing import Any

from allauth.account import forms as account
from allauth.mfa.base import forms as codes
from allauth.mfa.totp import forms as phone
from django import forms

from web.people.models import Holding, Membership, User

PASSWORD_HELP = "Ten characters or more are better than odd signs."  # noqa: S105 -- a hint, no password
LABELS = {
    "login": "Email address",
    "email": "Email address",
    "password": "Password",
    "oldpassword": "Your password now",
    "password1": "New password",
    "password2": "New password once more",
    "code": "Code",
}


class Worded:
    """Labels and hints of the house; the first field is where one begins to type."""

    fields: Any
    cleaned_data: Any
    named: dict[str, str] = {}  # fields that are sent under a name of ours
    helped: dict[str, str] = {}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        for name, field in self.fields.items():
            field.label = LABELS.get(name, field.label)
            field.widget.attrs.pop("placeholder", None)
            if name in LABELS:
                field.help_text = self.helped.get(name, "")
            if name not in ("login", "email") and name in LABELS:
                field.max_length = 256
        next(iter(self.fields.values())).widget.attrs["autofocus"] = True

    def add_prefix(self, field_name: str) -> str:
        return super().add_prefix(self.named.get(field_name, field_name))  # type: ignore[misc]  # of the form that this is mixed into


class SignInForm(Worded, account.LoginForm):
    """Address and password."""

    named = {"login": "username"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["login"].widget.attrs["autocomplete"] = "username"


class NewAccountForm(Worded, account.SignupForm):
    """A new person's account."""

    named = {"password1": "password"}
    helped = {"password1": PASSWORD_HELP}
    field_order = ["email", "name", "password1"]

    name = forms.CharField(label="Your name", max_length=120, required=False, help_text="Letters and sheets are signed with it.")

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["password1"].label = LABELS["password"]

    def signup(self, request, user: User) -> None:
        user.name = self.cleaned_data["name"]
        user.save(update_fields=["name"])


class SignUpForm(NewAccountForm):
    """A new person with a new holding, in one go."""

    field_order = ["email", "name", "password1", "holding_name", "units", "hemisphere"]

    holding_name = forms.CharField(label="Name of your garden, farm or holding", max_length=120)
    units = forms.ChoiceField(label="Units", choices=Holding.Units.choices)
    hemisphere = forms.ChoiceField(label="Hemisphere", choices=Holding.Hemisphere.choices)

    def signup(self, request, user: User) -> None:
        super().signup(request, user)
        data = self.cleaned_data
        days = "month" if data["units"] == Holding.Units.US else "day"
        holding = Holding.objects.create(name=data["holding_name"], units=data["units"], days=days, hemisphere=data["hemisphere"])
        Membership.objects.create(user=user, holding=holding)


class ForgottenForm(Worded, account.ResetPasswordForm):
    """Where to send the link to."""


class NewPasswordForm(Worded, account.ResetPasswordKeyForm):
    """A new password by the link of a mail."""

    named = {"password1": "new_password1", "password2": "new_password2"}
    helped = {"password1": PASSWORD_HELP}


class ChangePasswordForm(Worded, account.ChangePasswordForm):
    """A new password by the old one."""

    named = {"oldpassword": "old_password", "password1": "new_password1", "password2": "new_password2"}
    helped = {"password1": PASSWORD_HELP}


class AddressForm(Worded, account.AddEmailForm):
    """Another address to sign in with."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["email"].label = "New email address"


class OnceMoreForm(Worded, account.ReauthenticateForm):
    """The password once more, before a step that opens or closes doors."""


class CodeOf(Worded):
    """A code, typed with or without spaces."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["code"].widget.attrs["autocomplete"] = "one-time-code"

    def clean_code(self) -> str:
        self.cleaned_data["code"] = self.cleaned_data["code"].replace(" ", "").lower()
        return super().clean_code()  # type: ignore[misc]  # of the form that this is mixed into


class CodeForm(CodeOf, codes.AuthenticateForm):
    """A code at sign-in, from the phone or from paper."""


class CodeOnceMoreForm(CodeOf, codes.ReauthenticateForm):
    """A code instead of the password, before a step that opens or closes doors."""


class FirstCodeForm(CodeOf, phone.ActivateTOTPForm):
    """The first code that fits turns the second step on."""
