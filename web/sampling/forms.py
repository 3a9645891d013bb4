"""The form that plans a round."""

from itertools import pairwise

from django import forms
from django.utils import timezone

from web.changes.two_tabs import TwoTabsForm
from web.ground.fields import date_field
from web.sampling.models import Sample, SamplingRound


class RoundForm(forms.ModelForm):
    """A round and the plots it goes to."""

    planned_on = date_field("Planned for")
    plots = forms.ModelMultipleChoiceField(
        queryset=None, label="Plots and zones", widget=forms.CheckboxSelectMultiple, error_messages={"required": "Tick at least one plot."}
    )
    variability = forms.ChoiceField(label="How even is the ground?", choices=Sample.Variability.choices, initial="ordinary")
    pair = forms.BooleanField(
        label="A good and a bad place apart",
        required=False,
        help_text="Two bags from each plot: where plants thrive, and where they fail. The comparison tells what differs.",
    )
    nitrate = forms.BooleanField(
        label="Nitrate too",
        required=False,
        help_text="Two more bags, from the top foot and the foot below. Keep them cold and send them the same day.",
    )

    class Meta:
        model = SamplingRound
        fields = ["name", "planned_on", "lab", "tests", "cost_each"]
        labels = {"lab": "Laboratory", "tests": "Tests wanted", "cost_each": "Cost of one"}
        widgets = {"lab": forms.TextInput(attrs={"list": "labs", "autocomplete": "off"})}

    def __init__(self, *args, plots, **kwargs):
        today = timezone.localdate()
        first = {"name": f"Sampling {today:%B %Y}", "tests": "pH, buffer pH, P, K, Mg, organic matter", "planned_on": today}
        super().__init__(*args, **kwargs | {"initial": first | kwargs.get("initial", {})})
        self.fields["plots"].queryset = plots


class PlaceForm(TwoTabsForm):
    """What can be changed of a sample: where a good or bad place is, and its days."""

    taken_on = date_field("Taken on", required=False)
    sent_on = date_field("Sent on", required=False)
    arrived_on = date_field("Result in on", required=False)

    class Meta:
        model = Sample
        fields = ["place", "taken_on", "sent_on", "arrived_on"]
        labels = {"place": "Where exactly"}

    def clean(self) -> dict:
        data = super().clean()
        days = [(name, data.get(name)) for name in ("taken_on", "sent_on", "arrived_on") if data.get(name)]
        for (_, earlier), (name, later) in pairwise(days):
            if later < earlier:
                self.add_error(name, "This day lies before the step that comes first. Check the dates.")
        return data
