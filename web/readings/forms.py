"""The ledger: a slip's head, and a line for each analyte."""

from django import forms
from django.db import transaction
from django.utils import timezone

from agronomy.base.errors import RuleError
from agronomy.interpret.plausibility import Doubt, doubt_about, doubts_between
from agronomy.model.reading import Reading, read
from web.changes.two_tabs import TwoTabsForm
from web.core import error_text, tables
from web.ground.models import Plot
from web.readings.models import LabReport, LabResult
from web.readings.past import Past

MEDIA = tuple(LabReport.Medium.values)
EARLIEST_YEAR = 1950
LONGEST_TYPED = 40
_HOWS = {
    "soil": ("lab", "kit", "meter", "probe", "strip", "sensor"),
    "water": ("lab", "strip", "meter", "kit"),
    "leaf": ("tissue", "meter", "strip", "leaf_card"),
    "material": ("label", "lab"),
}
_ABOUT = {"soil": ["plot"], "water": ["water"], "leaf": ["plot", "stage", "position"], "material": ["material"]}


def ledger(medium: str) -> list[str]:
    """The analytes that a slip of this medium lists from the start."""
    return [key for key, row in tables().analytes.items() if row.in_ledger and row.medium == medium]


def further(medium: str) -> list[str]:
    """The analytes that a line can be added for."""
    return [key for key, row in tables().analytes.items() if not row.in_ledger and row.medium == medium]


class SlipForm(TwoTabsForm):
    """Who measured, how and when, and what: soil or leaves of a plot, a water, a material."""

    taken_on = forms.DateField(label="Sampled on", widget=forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"}))

    class Meta:
        model = LabReport
        fields = ["plot", "water", "material", "stage", "position", "lab", "how", "taken_on", "note"]
        labels = {
            "lab": "Laboratory, kit or meter",
            "how": "Measured with",
            "note": "Note",
            "material": "Material, as you call it",
            "stage": "Stage of the crop",
            "position": "Which leaves",
        }
        widgets = {"note": forms.Textarea(attrs={"rows": 2}), "lab": forms.TextInput(attrs={"list": "labs", "autocomplete": "off"})}

    def __init__(self, *args, holding, plots, medium: str = "soil", **kwargs):
        super().__init__(*args, **kwargs)
        self.instance.holding, self.instance.medium = holding, medium
        for name in {"plot", "water", "material", "stage", "position"} - set(_ABOUT[medium]):
            del self.fields[name]
        self.fields["how"].choices = [(key, label) for key, label in LabReport.How.choices if key in _HOWS[medium]]
        for name, queryset in (("plot", plots), ("water", holding.waters.all())):
            if name in self.fields:
                self.fields[name].queryset, self.fields[name].empty_label, self.fields[name].required = queryset, None, True
        if "material" in self.fields:
            self.fields["material"].required = True
            self.fields["taken_on"].label = "Read or analysed on"

    def also_seen(self) -> tuple:
        return tuple(self.instance.lines.order_by("pk").values_list("analyte", "typed", "unit", "method"))

    @property
    def about_fields(self) -> list:
        """What the slip is about."""
        return [self[name] for name in _ABOUT[self.instance.medium] if name in self.fields]

    def clean_taken_on(self):
        day = self.cleaned_data["taken_on"]
        if day > timezone.localdate():
            raise forms.ValidationError("This day lies ahead. Type the day the sample was taken.")
        if day.year < EARLIEST_YEAR:
            raise forms.ValidationError(f"The year {day.year} is too long ago. Check the date.")
        return day


class LineForm(forms.Form):
    """One line of the ledger. An empty value is an empty line; a doubt asks once before the line is kept."""

    analyte = forms.CharField(widget=forms.HiddenInput)
    typed = forms.CharField(
        label="value", required=False, max_length=100_000, widget=forms.TextInput(attrs={"inputmode": "decimal", "autocomplete": "off"})
    )
    unit = forms.ChoiceField(label="unit", required=False)
    method = forms.ChoiceField(label="method", required=False)
    settled = forms.BooleanField(label="it is right as typed", required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.reading: Reading | None = None
        self.doubt: Doubt | None = None
        key = self.data.get(self.add_prefix("analyte")) if self.is_bound else self.initial.get("analyte")
        self.row = tables().analytes.get(key)
        if self.row is None:
            return
        unit_names = self.row.units
        self.fields["unit"].choices = [(unit, "" if unit == "pH" else unit) for unit in unit_names]
        self.fields["method"].choices = [(method, method) for method in self.row.methods]
        for name, said in (("typed", "value"), ("unit", "unit"), ("method", "method")):
            self.fields[name].widget.attrs["aria-label"] = f"{self.row.name}, {said}"

    def clean_analyte(self) -> str:
        key = self.cleaned_data["analyte"]
        if key not in tables().analytes:
            raise forms.ValidationError("This line's analyte is not in our list.")
        return key

    def clean(self) -> dict:
        data = super().clean()
        typed = (data.get("typed") or "").strip()
        if not typed or "analyte" not in data:
            return data
        unit, method = self._unit(data), data.get("method") or "not stated"
        try:
            self.reading = read(data["analyte"], typed, unit=unit, method=method, how="lab", taken=None, tables=tables(), field="line")
        except RuleError as error:
            self.doubt = doubt_about(data["analyte"], typed, unit=unit, method=method, tables=tables())
            if self.doubt is None:
                self.add_error("typed", error_text(error))
            return data
        if len(typed) > LONGEST_TYPED:
            self.add_error("typed", "That is too long for one value. Type the number only.")
        self.doubt = doubt_about(data["analyte"], typed, unit=unit, method=method, tables=tables())
        return data

    @staticmethod
    def _unit(data: dict) -> str:
        return "" if data.get("unit") == "pH" else data.get("unit") or ""

    @property
    def is_filled(self) -> bool:
        return bool((self.cleaned_data.get("typed") or "").strip())

    @property
    def is_open(self) -> bool:
        """Whether a doubt waits for an answer."""
        return self.doubt is not None and (self.reading is None or not self.cleaned_data.get("settled"))

    def as_line(self, slip: LabReport, place: int) -> LabResult:
        data = self.cleaned_data
        return LabResult(
            slip=slip,
            place=place,
            analyte=data["analyte"],
            typed=data["typed"].strip(),
            unit=self._unit(data),
            method=data["method"],
            settled=data["settled"],
        )


class BaseLineFormSet(forms.BaseFormSet):
    """All lines of a slip; contradictions between lines, and jumps since last time, are doubts of one of them.

    `past` is what is known of the plot, for the jumps; None asks nothing of it.
    """

    past: "Past | None" = None

    def clean(self) -> None:
        if any(form.errors for form in self.forms):
            return
        readings = {form.cleaned_data["analyte"]: form.reading for form in self.forms if form.reading}
        if not any(form.is_filled for form in self.forms):
            raise forms.ValidationError("There is no value yet. Type at least one.")
        found = doubts_between(readings, tables())
        if self.past:
            typed = {form.cleaned_data["analyte"]: form.cleaned_data for form in self.forms if form.reading}
            for analyte, reading in readings.items():
                jump = self.past.doubt_of(reading, typed[analyte]["typed"], LineForm._unit(typed[analyte]))
                if jump:
                    found.setdefault(analyte, jump)
        for analyte, doubt in found.items():
            form = next(form for form in self.forms if form.cleaned_data.get("analyte") == analyte)
            form.doubt = form.doubt or doubt

    @property
    def open_doubts(self) -> int:
        return sum(form.is_open for form in self.forms if form.is_filled)


LineFormSet = forms.formset_factory(LineForm, formset=BaseLineFormSet, extra=0, max_num=60, absolute_max=60)


def first_lines(memory: dict[str, tuple[str, str]], analytes: list[str] | None = None, medium: str = "soil") -> list[dict]:
    """Empty lines for a new slip, with the units and methods remembered."""
    return [_first_line(key, memory) for key in analytes or ledger(medium) + [key for key in memory if key in further(medium)]]


def _first_line(key: str, memory: dict) -> dict:
    row = tables().analytes[key]
    unit, method = memory.get(key, (row.default_unit, row.methods[0]))
    return {"analyte": key, "unit": unit or "pH", "method": method, "typed": ""}


def lines_of_slip(slip: LabReport) -> list[dict]:
    """A stored slip's lines for editing, with the ledger's other lines empty below."""
    stored = [
        {"analyte": line.analyte, "typed": line.typed, "unit": line.unit or "pH", "method": line.method, "settled": line.settled}
        for line in slip.lines.all()
        if line.kind == LabResult.Kind.READING
    ]
    missing = [key for key in ledger(slip.medium) if key not in {line["analyte"] for line in stored}]
    return stored + first_lines({}, missing) if missing else stored


@transaction.atomic
def save_slip(head: SlipForm, lines: BaseLineFormSet) -> tuple[LabReport, list[LabResult]]:
    """Stores head and filled lines; readings of an edited slip are replaced, lines kept as written stay."""
    slip = head.save()
    slip.lines.filter(kind=LabResult.Kind.READING).delete()
    filled = [form for form in lines.forms if form.is_filled]
    stored = [form.as_line(slip, place) for place, form in enumerate(filled)]
    for line in stored:
        line.save()
    return slip, stored


def default_plot(plots, wanted: str | None) -> Plot | None:
    return next((plot for plot in plots if str(plot.pk) == wanted), None) or next(iter(plots), None)
