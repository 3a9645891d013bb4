"""A crop chosen by typing: the names to choose from open as one types, those in use and the common ones on top."""

from collections.abc import Iterable, Mapping

from django import forms
from django.utils.html import format_html, format_html_join

from agronomy.ground.crop_names import crop_named, crops_on_top
from web.core import rule_errors_as_form_errors, tables
from web.ground.models import OwnCrop, Planting


class CropInput(forms.TextInput):
    """A line to type in, with its list of names; `shared` names a list that stands elsewhere on the page."""

    def __init__(self, attrs=None):
        super().__init__(attrs={"autocomplete": "off", **(attrs or {})})
        self.names: list[str] = []
        self.shared = ""

    def render(self, name, value, attrs=None, renderer=None):
        place = self.shared or f"names-for-{name}"
        box = super().render(name, value, {**(attrs or {}), "list": place}, renderer)
        return box if self.shared else box + crop_list(place, self.names)


def crop_list(place: str, names: Iterable[str]) -> str:
    """A list of names that lines to type in may share by its id."""
    options = format_html_join("", '<option value="{}"></option>', ((name,) for name in names))
    return format_html('<datalist id="{}">{}</datalist>', place, options)


class CropField(forms.CharField):
    """A crop by its name; cleans to the table's key, or "own-5" for one of the holding's own."""

    widget = CropInput

    def __init__(self, **kwargs):
        super().__init__(max_length=120, **{"help_text": "Type its first letters.", **kwargs})
        self.own: dict[str, str] = {}

    def offer(self, own: Iterable[OwnCrop], *, kind: str = "", grown: Iterable[str] = (), shared: str = "") -> None:
        """Says which crops are to choose from, and what they begin with."""
        self.own = {f"own-{crop.pk}": crop.name for crop in own}
        self.widget.shared = shared
        if not shared:
            self.widget.names = crop_names(self.own, kind, grown)

    def prepare_value(self, value):
        return crop_name(value, self.own) if value else ""

    def clean(self, value):
        typed = super().clean(value)
        if not typed:
            return ""
        with rule_errors_as_form_errors():
            return crop_named(typed, self.own, tables())


def planting_name(planting: Planting) -> str:
    """What stands on a plot, by the holding's own name or the table's."""
    crop, along = (tables().crops.get(key) for key in (planting.crop, planting.companion))
    name = planting.own_crop.name if planting.own_crop else crop.name if crop else planting.crop
    return f"{name} with {along.name}" if along else name


def crop_name(key: str, own: Mapping[str, str]) -> str:
    """The name of a chosen crop; what is no key stays as it was typed."""
    crop = tables().crops.get(key)
    return own.get(key) or (crop.name if crop else key)


def crop_names(own: Mapping[str, str], kind: str, grown: Iterable[str] = ()) -> list[str]:
    """All names to choose from: the holding's own, what is on top for a kind of ground, then the rest by the alphabet."""
    crops = tables().crops
    top = [crops[key].name for key in crops_on_top(kind, grown, tables()) if key in crops]
    return list(dict.fromkeys([*own.values(), *top, *sorted(row.name for row in crops.values())]))


def grown_on(holding) -> list[str]:
    """The crops that a holding grows already, the most first."""
    keys = Planting.objects.filter(plot__holding=holding).exclude(crop="").values_list("crop", flat=True)
    counts: dict[str, int] = {}
    for key in keys.order_by("-pk")[:2000]:
        counts[key] = counts.get(key, 0) + 1
    return sorted(counts, key=lambda key: -counts[key])[:8]
