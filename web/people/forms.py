"""Forms for people and their holdings."""

from django import forms
from django.contrib.auth.password_validation import validate_password
from django.db import transaction

from web.people.models import Holding, Membership, User


class SignUpForm(forms.ModelForm):
    """A new person with a new holding, in one go."""

    email = forms.EmailField(label="E-mail address", widget=forms.EmailInput(attrs={"autocomplete": "username", "autofocus": True}))
    password = forms.CharField(
        label="Password",
        strip=False,
        max_length=256,
        widget=forms.PasswordInput(attrs={"autocomplete": "new-password"}),
        help_text="Ten characters or more are better than odd signs.",
    )
    holding_name = forms.CharField(label="Name of your garden, farm or holding", max_length=120)
    field_order = ["email", "password", "holding_name", "units", "hemisphere"]

    class Meta:
        model = Holding
        fields = ["units", "hemisphere"]
        labels = {"units": "Units", "hemisphere": "Hemisphere"}

    def clean_email(self) -> str:
        email = self.cleaned_data["email"].lower()
        if User.objects.filter(email=email).exists():
            raise forms.ValidationError("This address has signed up before. Sign in instead.")
        return email

    def clean(self) -> dict:
        data = super().clean()
        password = data.get("password")
        if password:
            try:
                validate_password(password, User(email=data.get("email", "")))
            except forms.ValidationError as error:
                self.add_error("password", error)
        return data

    @transaction.atomic
    def save(self, commit: bool = True) -> User:
        data = self.cleaned_data
        user = User.objects.create_user(data["email"], data["password"])
        holding = Holding.objects.create(name=data["holding_name"], units=data["units"], hemisphere=data["hemisphere"])
        Membership.objects.create(user=user, holding=holding)
        return user


class HoldingForm(forms.ModelForm):
    """The holding's name and habits."""

    class Meta:
        model = Holding
        fields = ["name", "units", "hemisphere", "currency", "nutrient_form", "school", "organic_only", "chloride", "cap_n_kg_per_ha", "cap_p2o5_kg_per_ha"]
        help_texts = {
            "cap_n_kg_per_ha": "Your own or your country's rule; leave empty for none. What a cap holds back is said on every plan.",
            "cap_p2o5_kg_per_ha": "Likewise for phosphate.",
        }


class UnitsForm(forms.Form):
    """The switch of units in the bar."""

    units = forms.ChoiceField(choices=Holding.Units.choices)
    next = forms.CharField(required=False)
