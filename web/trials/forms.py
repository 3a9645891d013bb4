"""A new trial, and what was weighed in it."""

from django import forms

from agronomy.trial.design import MOST_BLOCKS
from web.ground.fields import NumberField, date_field
from web.ground.selectors import plots_to_choose
from web.trials.models import Trial

MOST_TREATMENTS = 8


class TrialForm(forms.ModelForm):
    """One question, an untreated control, and what is to be measured, said beforehand."""

    treatments = forms.CharField(
        label="Treatments, one a line, the untreated control first",
        widget=forms.Textarea(attrs={"rows": 5}),
        max_length=1000,
        help_text="Such as nothing, ash, and ground chalk. Two to five are enough.",
    )
    blocks = forms.IntegerField(label="Blocks: how often each is repeated", min_value=2, max_value=MOST_BLOCKS, initial=4)
    worth = NumberField(low=0, high=1e6, label="Difference worth having", help_text="In the unit of what is measured.")
    begun_on = date_field("Begins")

    class Meta:
        model = Trial
        fields = ["plot", "name", "question", "kind", "treatments", "blocks", "measured", "unit", "worth", "begun_on"]
        labels = {"question": "The one question", "kind": "It is laid out as", "measured": "What is measured", "unit": "In"}
        help_texts = {"measured": "The main thing, such as yield. Other things are “also seen”.", "unit": "Such as kg per plot."}

    def __init__(self, *args, holding, **kwargs):
        super().__init__(*args, **kwargs)
        self.instance.holding = holding
        self.fields["plot"].queryset, self.fields["plot"].empty_label = plots_to_choose(holding), "choose a plot"

    def clean_treatments(self) -> list[str]:
        names = [line.strip()[:60] for line in self.cleaned_data["treatments"].splitlines() if line.strip()]
        if not 2 <= len(names) <= MOST_TREATMENTS:
            raise forms.ValidationError(f"A trial has 2 to {MOST_TREATMENTS} treatments, the control among them.")
        if len(set(names)) != len(names):
            raise forms.ValidationError("Two treatments have the same name.")
        return names


class EnoughForm(forms.Form):
    """How many blocks a difference takes, by the usual scatter."""

    SCATTER = (
        ("5", "combine-harvested cereals: 5 %"),
        ("10", "hand-cut cereals, pots: 10 %"),
        ("12", "potatoes: 12 %"),
        ("15", "vegetables: 15 %"),
        ("25", "single trees: 25 %"),
    )
    scatter = forms.ChoiceField(label="Usual scatter", choices=SCATTER, initial="15")
    difference = NumberField(low=1, high=300, label="Difference hoped for, % of the mean", initial=20)
    arms = forms.IntegerField(label="Treatments", min_value=2, max_value=MOST_TREATMENTS, initial=2)
