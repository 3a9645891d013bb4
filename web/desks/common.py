"""What all desks share: a form that is filled from the address, so that a result can be kept, printed and sent; menus of materials."""

from collections.abc import Iterable

from django import forms

from agronomy.base.errors import RequestError, RuleError
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import parse_quantity
from agronomy.intake.request import read_request
from agronomy.plan.assess import Assessment, assess
from agronomy.tables.material import Material
from web.core import error_text, tables
from web.ground.fields import QuantityField, hint_in
from web.ground.models import Plot
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot


class DeskForm(forms.Form):
    """A form read from the address; empty boxes take their usual value, bare numbers the reader's units."""

    usual: dict[str, str] = {}
    standard: dict[str, str] = {}  # field: the use whose standard material it opens with
    units: dict[str, tuple[str, str]] = {}  # field: unit of a bare number in metric and in US units

    def __init__(self, query, *, us: bool, usual: dict[str, str] | None = None):
        asked = any(name in query for name in self.base_fields)
        filled = {name: query.get(name, "") for name in self.base_fields} if asked else {}
        opens_with = {name: tables().products.standard[use].material for name, use in self.standard.items()}
        super().__init__(filled if asked else None, initial=self.usual | opens_with | (usual or {}))
        for name, (metric, imperial) in self.units.items():
            field = self.fields[name]
            if isinstance(field, QuantityField):
                field.unit = imperial if us else metric
                field.help_text = field.help_text or f"A bare number counts as {field.unit.replace('2', '²')}."
        hint_in(self, "us" if us else "metric")


def material_choices(materials: Iterable[Material], empty: str = "choose a material") -> list[tuple[str, str]]:
    return [("", empty), *sorted(((item.key, item.name) for item in materials), key=lambda pair: pair[1])]


def rows_of(query, first: str, second: str, what: str, *, rate_in: str = "") -> tuple[list[tuple[str, float]], list[dict], list[str]]:
    """Pairs of a material and a number from repeated boxes: what could be read, the boxes as typed, and what is wrong with them.

    With `rate_in` the number is a rate [kg/ha], which may name its unit; a bare one counts in that unit.
    """
    known, read, typed, errors = tables().materials, [], [], []
    names, numbers = query.getlist(first), query.getlist(second)
    for place in range(max(len(names), len(numbers))):
        name, number = (values[place].strip()[:80] if place < len(values) else "" for values in (names, numbers))
        if not name and not number:
            continue
        typed.append({"material": name, "amount": number})
        if name not in known:
            errors.append(f"Row {len(typed)}: choose a material from the list.")
            continue
        try:
            where = f"row {len(typed)}, {what}"
            value = parse_quantity(number, "rate", where, unit=rate_in) if rate_in else parse_number(number, where)
        except RuleError as error:
            errors.append(f"{known[name].name[0].upper()}{known[name].name[1:]}: {error_text(error)}")
            continue
        if value <= 0:
            errors.append(f"{known[name].name[0].upper()}{known[name].name[1:]}: {what} must be above zero.")
            continue
        read.append((name, value))
    return read, typed, errors


def blank_rows(typed: list[dict], least: int, most: int = 8) -> list[dict]:
    """The boxes as typed, and some empty ones below."""
    empty = {"material": "", "amount": ""}
    return typed + [empty] * max(1 if len(typed) < most else 0, least - len(typed))


def assessed(request, plot: Plot, today) -> Assessment | None:
    """A plot judged, as far as it has a crop and its readings, if there are any, are sound."""
    lines = lines_by_plot([plot])[plot.pk]
    if plot.planting is None or crop_of(plot) is None:
        return None
    try:
        return assess(
            read_request(request_document(plot, plot.planting, lines, today=today, units=request.place.units), tables()), tables()
        )
    except RequestError:
        return None
