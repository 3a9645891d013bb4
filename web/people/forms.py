"""Forms for people and their holdings."""

from django import forms

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.model.climate import own_climate
from web.changes.two_tabs import TwoTabsForm
from web.core import error_text, rule_errors_as_form_errors, tables
from web.people.models import Holding


class HoldingForm(TwoTabsForm):
    """The holding's name and habits."""

    equipment = forms.MultipleChoiceField(
        label="What you spread and lift with",
        required=False,
        widget=forms.CheckboxSelectMultiple,
        help_text="Plans keep to what it can spread, and buy in bags, big bags or loads. Nothing ticked: what is usual is assumed.",
    )
    climate = forms.ChoiceField(
        label="Climate",
        required=False,
        help_text=(
            "An invented place whose months are like yours: dates keep off ground that is usually too cold. Or type your own months below."
        ),
    )
    own_warmth = forms.CharField(
        label="Your own mean air by month, °C",
        max_length=200,
        required=False,
        help_text="Twelve figures, January first; they are used instead of the place above.",
    )
    own_rain = forms.CharField(label="Your own rain by month, mm", max_length=200, required=False)
    own_last_frost = forms.DateField(
        label="Usual last spring frost", required=False, widget=forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"})
    )
    own_first_frost = forms.DateField(
        label="Usual first autumn frost", required=False, widget=forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"})
    )

    class Meta:
        model = Holding
        fields = [
            "name",
            "units",
            "days",
            "hemisphere",
            "country",
            "currency",
            "nutrient_form",
            "school",
            "organic_only",
            "chloride",
            "adviser_enters",
            "cap_n_kg_per_ha",
            "cap_p2o5_kg_per_ha",
        ]
        labels = {"days": "How days are written"}
        help_texts = {
            "cap_n_kg_per_ha": "Your own or your country's rule; leave empty for none. What a cap holds back is said on every plan.",
            "cap_p2o5_kg_per_ha": "Likewise for phosphate.",
        }

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        named = sorted(((row.country, row.name) for row in tables().ground.countries.values()), key=lambda pair: pair[1])
        self.fields["days"].required = False
        help_text = self.fields["country"].help_text
        choices = [("", "not said"), *named]
        self.fields["country"] = forms.ChoiceField(label="Country", choices=choices, required=False, help_text=help_text)
        self.fields["equipment"].choices = [(key, row.name) for key, row in tables().spread.equipment.items()]
        self.fields["climate"].choices = [
            ("", "not said"),
            *((key, f"{row.name} ({row.hemisphere})") for key, row in tables().climate.climates.items()),
        ]
        own = self.instance.own_climate or {}
        self.initial |= {
            "climate": self.instance.climate,
            "equipment": self.instance.equipment,
            "own_warmth": " ".join(f"{value:g}" for value in own.get("warmth_c", ())),
            "own_rain": " ".join(f"{value:g}" for value in own.get("rain_mm", ())),
            "own_last_frost": own.get("last_frost"),
            "own_first_frost": own.get("first_frost"),
        }

    def _figures(self, name: str) -> list[float]:
        with rule_errors_as_form_errors():
            return [parse_number(word, self.fields[name].label) for word in self.cleaned_data[name].replace(";", " ").split()]

    def clean_days(self) -> str:
        return self.cleaned_data["days"] or self.instance.days

    def clean_own_warmth(self) -> list[float]:
        return self._figures("own_warmth")

    def clean_own_rain(self) -> list[float]:
        return self._figures("own_rain")

    def clean(self) -> dict:
        """Own months are checked by the core as a whole."""
        data = super().clean()
        self.own = None
        if not self.errors and (data["own_warmth"] or data["own_rain"]):
            try:
                own_climate("own", data["own_warmth"], data["own_rain"], data["own_last_frost"], data["own_first_frost"])
            except RuleError as error:
                self.add_error("own_warmth" if error.field.startswith("warmth") else "own_rain", error_text(error))
            else:
                frosts = {name: data[f"own_{name}"].isoformat() if data[f"own_{name}"] else None for name in ("last_frost", "first_frost")}
                self.own = {"warmth_c": data["own_warmth"], "rain_mm": data["own_rain"]} | frosts
        return data

    def save(self, commit: bool = True) -> Holding:
        self.instance.climate, self.instance.own_climate = self.cleaned_data["climate"], self.own
        self.instance.equipment = self.cleaned_data["equipment"]
        return super().save(commit)


class UnitsForm(forms.Form):
    """The switch of units in the bar."""

    units = forms.ChoiceField(choices=Holding.Units.choices)
    next = forms.CharField(required=False)
