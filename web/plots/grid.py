"""Many plots in one grid: a line each, new ones and those that stand, kept together or not at all."""

from dataclasses import dataclass

from django import forms
from django.db import transaction

from agronomy.base.errors import RuleError
from agronomy.ground.kinds import kind_row
from web.core import error_text, tables, texture_choices
from web.ground.crop_field import CropField, crop_list, crop_names, grown_on
from web.ground.fields import UNITS, date_field, spoken, typed
from web.ground.models import Planting, Plot
from web.ground.sizing import put_sizes, sized_by
from web.people.models import Holding

CROPS_PLACE = "crops-of-the-grid"
NEW_LINES, MOST_NEW, MOST_OLD = 12, 60, 60
_KINDS = [choice for choice in Plot.Kind.choices if sized_by(choice[0]) == "area"]


class LineForm(forms.Form):
    """One line. A new line that says nothing is left out; a plot that is not sized by its area keeps its size."""

    name = forms.CharField(label="Name", max_length=120, required=False)
    kind = forms.ChoiceField(label="Kind", choices=_KINDS, required=False)
    area = forms.CharField(label="Size", max_length=400, required=False)
    crop = CropField(label="Crop", required=False, help_text="")
    texture = forms.ChoiceField(label="Texture", required=False)
    planted_on = date_field("Planted", required=False)

    def __init__(self, *args, about: "Grid", plot: Plot | None, number: int, **kwargs):
        super().__init__(*args, prefix=f"line-{number}", initial=about.initial(plot), **kwargs)
        self.plot, self.about, self.number = plot, about, number
        self.fields["crop"].offer(about.own, shared=CROPS_PLACE)
        self.fields["texture"].choices = [("", "not known"), *texture_choices()[1:]]
        if plot is not None and sized_by(plot.kind) != "area":
            del self.fields["kind"], self.fields["area"]
        for name, field in self.fields.items():
            is_choice = isinstance(field, forms.ChoiceField)
            wrong = self.is_bound and name in self.errors
            field.widget.attrs |= {
                "class": ("form-select" if is_choice else "form-control") + (" is-invalid" if wrong else ""),
                "aria-label": f"{field.label}, line {number}",
            }

    @property
    def is_empty(self) -> bool:
        """Nobody wrote on this line."""
        return self.plot is None and not any(self[name].value() for name in ("name", "area", "crop", "planted_on"))

    def clean(self) -> dict:
        data = super().clean()
        if self.is_empty:
            return data
        name = (data.get("name") or "").strip()
        if not name:
            self.add_error("name", "Give it a name.")
        elif name in self.about.names_taken(self):
            self.add_error("name", f"“{name}” is there already. Add a number or a place.")
        if not data.get("crop") and "crop" not in self.errors and (self.plot is None or self.plot.planting):
            self.add_error("crop", "Say what grows there.")
        if "area" in self.fields:
            self._size(data)
        return data

    def _size(self, data: dict) -> None:
        """Puts the size on the plot, so that a size that can't be is said on its line."""
        plot = self.plot or Plot(
            holding=self.about.holding, depth_cm=kind_row(str(data.get("kind") or Plot.Kind.BED), tables()).usual_depth_cm
        )
        self.sized = plot
        if self.plot is not None and not {"kind", "area"} & set(self.changed_data):
            return
        plot.kind = data.get("kind") or Plot.Kind.BED
        if not data.get("area"):
            self.add_error("area", "Say how large it is.")
            return
        try:
            put_sizes(plot, {"area": data["area"]}, us=self.about.us)
        except RuleError as error:
            self.add_error("area", error_text(error))

    def save(self) -> list:
        """The stored plot and its planting."""
        data, plot = self.cleaned_data, self.plot or self.sized
        plot.name, plot.texture = data["name"].strip(), data["texture"]
        plot.save()
        if not data["crop"]:
            return [plot]
        planting = plot.planting or Planting(plot=plot)
        planting.choose_crop(data["crop"])
        planting.planted_on = data["planted_on"]
        planting.save()
        return [plot, planting]


@dataclass
class Grid:
    """The lines of a page: plots that stand, then new lines."""

    holding: Holding
    units: str
    plots: list[Plot]
    new: int

    def __post_init__(self):
        self.us = self.units == "us"
        self.own = list(self.holding.own_crops.all())
        self.crop_names = crop_names({f"own-{crop.pk}": crop.name for crop in self.own}, "", grown_on(self.holding))
        self.lines: list[LineForm] = []
        shown = [plot.pk for plot in self.plots]
        self.names_elsewhere = set(Plot.objects.filter(holding=self.holding).exclude(pk__in=shown).values_list("name", flat=True))

    def read(self, data=None) -> "Grid":
        """Makes the lines, bound where something was sent."""
        for number, plot in enumerate([*self.plots, *[None] * self.new], 1):
            self.lines.append(LineForm(data, about=self, plot=plot, number=number))
        return self

    def initial(self, plot: Plot | None) -> dict:
        if plot is None:
            return {"kind": Plot.Kind.BED}
        planting = plot.planting
        unit = UNITS[self.units]["field" if plot.area_m2 >= 4000 else "area"]
        first = {"name": plot.name, "kind": plot.kind, "area": typed(plot.area_m2, "m2", unit), "texture": plot.texture}
        return first | ({"crop": planting.chosen_crop, "planted_on": planting.planted_on} if planting else {})

    def names_taken(self, line: LineForm) -> set[str]:
        """Names of other lines and of plots that are not on this page."""
        others = {other["name"].value().strip() for other in self.lines if other is not line and other["name"].value()}
        return others | self.names_elsewhere

    @property
    def list_of_crops(self) -> str:
        return crop_list(CROPS_PLACE, self.crop_names)

    @property
    def written(self) -> list[LineForm]:
        return [line for line in self.lines if not line.is_empty and (line.plot is None or line.has_changed())]

    def is_valid(self) -> bool:
        return not sum(not line.is_valid() for line in self.written)  # every line is looked at, so that each says what is wrong

    @property
    def wrong(self) -> int:
        return sum(bool(line.errors) for line in self.written)

    @property
    def size_hint(self) -> str:
        sides = "4 x 8 ft" if self.us else "1.2 x 15 m"
        return f"Sizes as two sides, such as {sides}, or as an area. A bare number counts as {spoken(UNITS[self.units]['area'])}."

    @transaction.atomic
    def save(self) -> list:
        return [row for line in self.written for row in line.save()]
