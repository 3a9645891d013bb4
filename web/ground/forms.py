"""The form for a plot and its crop: each kind of ground asks only for what matters to it."""

from django import forms
from django.db import transaction

from agronomy.base.errors import RuleError, check_range
from agronomy.base.numbers import parse_number
from agronomy.base.said import with_measures
from agronomy.ground.kinds import NAMES, kind_row
from agronomy.model.ground_facts import FACTS
from agronomy.recommend.schools.registry import NAMES as NAMES_OF_SCHOOLS
from web.changes.two_tabs import TwoTabsForm
from web.core import error_text, rule_errors_as_form_errors, tables, texture_choices
from web.ground.crop_field import CropField, grown_on
from web.ground.fact_fields import fact_field, fact_kept, fact_typed
from web.ground.fields import UNITS, NumberField, QuantityField, YieldField, date_field, spoken, typed
from web.ground.models import Planting, Plot
from web.ground.sizing import asked_sizes, put_sizes
from web.sentences import tell

_FOR_GROUND = [*(fact.form for fact in FACTS.values()), "watering", "water", "watered", "livestock", "cover"]
_NOT_FOR = {
    "container": ("dug", "watered", "livestock", "companion"),
    "bale": ("dug", "companion", "texture", "free_lime", "mix", "watered", "livestock", "target_ph"),
}
SIZE_HELP = {
    "row_length": "Pace it out: ten long paces are about {8 m}.",
    "row_width": "From the middle of one row to the middle of the next.",
    "canopy": "Across the crown, from drip line to drip line.",
    "old": "Roots of old trees reach past the drip line.",
    "nominal": "Tick it for the litres printed on the pot; it is then taken as nine tenths full.",
}


class _WithYield(TwoTabsForm):
    """A form with a crop and yields of it, which may come in bushels."""

    def clean_crop(self) -> str:
        """The crop's key, told to the fields of its yields, which stand after it."""
        for field in self.fields.values():
            if isinstance(field, YieldField):
                field.crop_key = self.cleaned_data["crop"]
        return self.cleaned_data["crop"]


class PlotForm(_WithYield):
    """A plot with the crop to plan for. `units` is the system that bare numbers are taken in."""

    depth = QuantityField("length", low=2, high=100, label="Depth you treat")
    texture = forms.ChoiceField(label="Texture of the soil", required=False)
    dug = forms.TypedChoiceField(
        label="How it is worked",
        coerce=lambda value: value == "yes",
        choices=[("yes", "dug or tilled"), ("no", "left undug")],
        initial="yes",
    )
    crop = CropField(label="Crop to plan for")
    companion = CropField(label="Grown along with it", required=False, help_text="Such as beans among maize: both are fed once.")
    planted_on = date_field("Planting date", required=False)
    yield_goal = YieldField(low=0.01, label="Yield hoped for", required=False, help_text="Only where you know it; it steers nitrogen.")
    target_ph = forms.CharField(label="Your own pH target", max_length=400, required=False, help_text="Leave empty to use the crop's.")
    watered = QuantityField("length", low=0, high=300, label="Water given in a season", required=False)

    class Meta:
        model = Plot
        fields = ["name", "kind", "texture", "mix", "dug", "free_lime", "watering", "water", "livestock", "cover", "school", "note"]
        labels = {
            "kind": "Kind of ground",
            "free_lime": "Does dry soil fizz with strong vinegar?",
            "watering": "How it is watered",
            "water": "With which water",
            "livestock": "Livestock on it",
            "cover": "What covers it",
            "school": "Approach to fertilizing",
            "note": "Note",
        }
        widgets = {"note": forms.Textarea(attrs={"rows": 2})}
        help_texts = {"free_lime": "Fizzing means free lime: then sulfur can't lower pH."}

    def __init__(self, *args, holding, units: str, **kwargs):
        self.holding, self.us, self.units = holding, units == "us", UNITS[units]
        instance = kwargs.get("instance")
        first = self._first_values(instance) | (kwargs.get("initial") or {})
        super().__init__(*args, **kwargs | {"initial": first})
        for fact in FACTS.values():
            self.fields[fact.form] = fact_field(fact, self.units)
        self.chosen_kind = self._kind()
        usual = {self._usual_depth(kind) for kind in Plot.Kind.values}
        if self.initial.get("depth", "") in ("", *usual) and (instance is None or instance.pk is None):
            self.initial["depth"] = self._usual_depth(self.chosen_kind)
        self.size_names = list(asked_sizes(self.chosen_kind))
        for name in self.size_names:
            self.fields[name] = self._size_field(name, asked_sizes(self.chosen_kind)[name])
            self.initial.setdefault(name, self._typed_size(instance, name))
        self.fields["school"].choices = [("", f"the holding's own: {holding.get_school_display()}"), *NAMES_OF_SCHOOLS.items()]
        self.fields["crop"].offer(holding.own_crops.all(), kind=self.chosen_kind, grown=grown_on(holding))
        self.fields["companion"].offer((), kind=self.chosen_kind)
        self.fields["texture"].choices = texture_choices()
        self._set_units()
        self._leave_out()
        self.order_fields(
            [
                "name",
                "kind",
                *self.size_names,
                "depth",
                "texture",
                "mix",
                "dug",
                "crop",
                "planted_on",
                "companion",
                "free_lime",
                "yield_goal",
                "target_ph",
                *_FOR_GROUND,
                "note",
            ]
        )

    def _kind(self) -> str:
        asked = (
            self.data.get(self.add_prefix("kind"))
            if self.is_bound
            else self.initial.get("kind") or (self.instance.kind if self.instance else "")
        )
        return str(asked if asked in Plot.Kind.values else Plot.Kind.BED)

    def _usual_depth(self, kind: str) -> str:
        cm = kind_row(kind, tables()).usual_depth_cm
        return f"{cm / 2.5:.0f} in" if self.us else f"{cm:.0f} cm"

    def _size_field(self, name: str, rule) -> forms.Field:
        kind, _, _, wanted = rule
        label = NAMES[name][0].upper() + NAMES[name][1:]
        help_text = tell(with_measures(SIZE_HELP.get(name, "")), "us" if self.us else "metric")
        if kind == "flag":
            return forms.BooleanField(label=label, required=False, help_text=help_text)
        field = forms.CharField(label=label, max_length=400, required=wanted, help_text=help_text)
        if name == "area":
            fields = "2 acres" if self.units["field"] == "acre" else "0.4 ha"
            sides = "4 x 8 ft, 600 ft² or half an acre" if self.us else f"1.2 x 15 m, 18 m² or {fields}"
            field.help_text = f"Two sides, or the area: {sides}. A bare number counts as {spoken(self.units['area'])}."
        elif kind in ("length", "volume") and not help_text:
            unit = self.units["length"] if name == "row_length" else self.units["spacing"] if kind == "length" else self.units["volume"]
            field.help_text = f"A bare number counts as {unit}."
        return field

    def _typed_size(self, plot: Plot | None, name: str):
        if plot is None or plot.pk is None:
            return "1" if name == "count" else ""
        kept = plot.sizes.get(name)
        if name == "area":
            return typed(plot.area_m2, "m2", self.units["field" if plot.area_m2 >= 4000 else "area"])
        return kept if kept is not None else ""

    def _set_units(self) -> None:
        self.fields["depth"].unit = self.units["depth"]
        deep = {"container": "how deep the mix is", "bale": "how high the bale is"}.get(self.chosen_kind, "the depth you dig or till")
        self.fields[
            "depth"
        ].help_text = f"A bare number counts as {self.units['depth']}. Usually {self._usual_depth(self.chosen_kind)}, {deep}."
        self.fields["yield_goal"].unit = self.units["yield"]
        self.fields["watered"].unit = "in" if self.us else "mm"
        self.fields["watered"].help_text = f"A bare number counts as {self.fields['watered'].unit}. Its lime and nitrate are then counted."
        self.fields["water"].queryset = self.holding.waters.all()
        self.fields["water"].empty_label = "not said"

    def _leave_out(self) -> None:
        """Takes away what does not matter to the kind chosen."""
        self.fields["mix"] = forms.ChoiceField(
            label="Mix", required=False, choices=[("", "not said"), *((key, row.name) for key, row in tables().ground.mixes.items())]
        )
        kind = self.chosen_kind
        away = [*_NOT_FOR.get(kind, ("mix",)), *(fact.form for fact in FACTS.values() if kind in fact.not_for)]
        for name in away:
            del self.fields[name]

    def also_seen(self) -> tuple:
        planting = self.instance.planting
        return (planting.crop, planting.planted_on) if planting else ()

    def further_fields(self) -> list:
        """Fields that most people leave alone."""
        return [
            self[name]
            for name in ("companion", "free_lime", "yield_goal", "target_ph", *_FOR_GROUND, "school", "note")
            if name in self.fields
        ]

    def main_fields(self) -> list:
        return [self[name] for name in ("depth", "texture", "mix", "dug", "crop", "planted_on") if name in self.fields]

    def size_fields(self) -> list:
        return [self[name] for name in self.size_names]

    def _first_values(self, plot: Plot | None) -> dict:
        if plot is None or plot.pk is None:
            return {}
        planting = plot.planting
        first = {
            "depth": typed(plot.depth_cm, "cm", self.units["depth"]),
            "watered": "" if plot.watering_mm is None else typed(plot.watering_mm, "mm", "in" if self.us else "mm"),
            "dug": "yes" if plot.dug else "no",
        } | {fact.form: fact_typed(fact, getattr(plot, name), self.units) for name, fact in FACTS.items()}
        if planting:
            first |= {
                "crop": planting.chosen_crop,
                "companion": planting.companion,
                "planted_on": planting.planted_on,
                "target_ph": "" if planting.target_ph is None else f"{planting.target_ph:g}",
                "yield_goal": typed(planting.yield_goal_t_per_ha, "t/ha", self.units["yield"]),
            }
        return first

    def clean_name(self) -> str:
        name = self.cleaned_data["name"].strip()
        if Plot.objects.filter(holding=self.holding, name=name).exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("You have a plot of this name already. Add a number or a place to it.")
        return name

    def clean_target_ph(self) -> float | None:
        typed_ph = self.cleaned_data["target_ph"]
        if not typed_ph:
            return None
        with rule_errors_as_form_errors():
            return check_target_ph(typed_ph)

    def clean(self) -> dict:
        data = super().clean()
        if not data.get("depth") or any(name in self.errors for name in self.size_names):
            return data
        self.instance.kind, self.instance.depth_cm = self.chosen_kind, data["depth"]
        try:
            put_sizes(self.instance, {name: data.get(name) for name in self.size_names if data.get(name) not in (None, "")}, us=self.us)
        except RuleError as error:
            name = error.field.rsplit(".", 1)[-1]
            self.add_error(name if name in self.fields else self.size_names[0], error_text(error))
        return data

    @transaction.atomic
    def save(self, commit: bool = True) -> tuple[Plot, Planting]:
        data, plot = self.cleaned_data, self.instance
        plot.holding = self.holding
        for name, fact in FACTS.items():
            setattr(plot, name, fact_kept(fact, data.get(fact.form)))
        plot.watering_mm = None if data.get("watered") is None else data["watered"] * 10
        plot.mix = data.get("mix", "")
        plot.save()
        planting = plot.planting or Planting(plot=plot)
        planting.choose_crop(data["crop"])
        planting.planted_on, planting.target_ph = data["planted_on"], data.get("target_ph")
        planting.companion = data.get("companion") or ""
        planting.yield_goal_t_per_ha = data["yield_goal"]
        planting.save()
        return plot, planting


def check_target_ph(typed_ph: str) -> float:
    """A pH target as typed; raises RuleError."""
    return check_range(
        "target pH",
        parse_number(typed_ph, "target pH"),
        low=3.5,
        high=8.5,
        unit="pH",
        mend="crops live between 4 and 8; leave it empty to use the crop's own",
    )


class PlantingForm(_WithYield):
    """A crop on a plot, past or to come."""

    crop = CropField(label="Crop")
    companion = CropField(label="Grown along with it", required=False)
    planted_on = date_field("Sown or planted", required=False)
    ended_on = date_field("Harvested or cleared", required=False, help_text="Leave empty while it stands.")
    spacing = QuantityField("length", low=0.5, high=2000, label="In the row", required=False)
    row_width = QuantityField("length", low=2, high=2000, label="From row to row", required=False)
    yield_goal = YieldField(low=0.01, label="Yield hoped for", required=False)
    yield_got = YieldField(low=0, label="Yield got", required=False)
    first_grade_pct = NumberField(low=0, high=100, label="Of it first grade, %", required=False)
    lost_in_store_pct = NumberField(low=0, high=100, label="Lost in store, %", required=False)

    class Meta:
        model = Planting
        fields = ["planted_on", "ended_on", "first_grade_pct", "lost_in_store_pct", "note"]

    _PAIRS = (
        ("spacing", "spacing_cm", "cm", "spacing"),
        ("row_width", "row_width_cm", "cm", "spacing"),
        ("yield_goal", "yield_goal_t_per_ha", "t/ha", "yield"),
        ("yield_got", "yield_got_t_per_ha", "t/ha", "yield"),
    )

    def __init__(self, *args, units: str, **kwargs):
        names = UNITS[units]
        instance = kwargs.get("instance")
        plot = instance.plot if instance else None
        first = {"crop": instance.chosen_crop, "companion": instance.companion} if instance and instance.crop else {}
        initial = (
            first | {field: typed(getattr(instance, column), base, names[unit]) for field, column, base, unit in self._PAIRS}
            if instance
            else {}
        )
        super().__init__(*args, **kwargs | {"initial": initial | (kwargs.get("initial") or {})})
        if plot:
            self.fields["crop"].offer(plot.holding.own_crops.all(), kind=plot.kind, grown=grown_on(plot.holding))
            self.fields["companion"].offer((), kind=plot.kind)
        for field, _, _, unit in self._PAIRS:
            self.fields[field].unit = names[unit]
            self.fields[field].help_text = f"A bare number counts as {names[unit]}."
        self.order_fields(
            [
                "crop",
                "companion",
                "planted_on",
                "ended_on",
                "spacing",
                "row_width",
                "yield_goal",
                "yield_got",
                "first_grade_pct",
                "lost_in_store_pct",
                "note",
            ]
        )

    def clean(self) -> dict:
        data = super().clean()
        begins, ends = data.get("planted_on"), data.get("ended_on")
        if begins and ends and ends < begins:
            self.add_error("ended_on", "The harvest comes before the planting. Check the two dates.")
        return data

    def save(self, commit: bool = True) -> Planting:
        self.instance.choose_crop(self.cleaned_data["crop"])
        self.instance.companion = self.cleaned_data.get("companion") or ""
        for field, column, _, _ in self._PAIRS:
            setattr(self.instance, column, self.cleaned_data[field])
        return super().save(commit)
