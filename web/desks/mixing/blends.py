"""The blend desk: parts by scoop or weight, what they really come to, a batch for a bin, a label, and blends kept."""

from django import forms
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.apply.blend import WEEKS, Blend, BlendPart, batch, beside_bought, blend, per_plant
from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.model.seasons import add_months
from agronomy.plan.cautions import material_cautions
from agronomy.tables.material import Material
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.desks.common import DeskForm, blank_rows, material_choices, rows_of
from web.desks.models import OwnBlend
from web.drawing.release import release_line
from web.ground.fields import NumberField, QuantityField
from web.supplies.stock import stock_of

CONTENTS = {"n": "N", "p2o5": "P₂O₅", "k2o": "K₂O", "ca": "Ca", "mg": "Mg", "s": "S"}
MOST_PARTS = 8


class BlendForm(DeskForm):
    """How the parts are measured, how large the bin is, what a plant should get, what it is compared with."""

    by = forms.ChoiceField(label="Parts are measured", choices=OwnBlend.By.choices)
    bin = QuantityField("volume", low=0.2, high=20_000, label="Bin to fill")
    plant = NumberField(low=0.01, high=500, label="Nitrogen for one plant, g", required=False)
    warmth = NumberField(low=5, high=35, label="Warmth of the soil, °C", required=False)
    bought = forms.ChoiceField(label="Beside a bought bag of", required=False)
    usual = {"by": "scoop", "bin": "20 L", "plant": "1", "warmth": "15"}
    standard = {"bought": "bought_blend"}
    units = {"bin": ("L", "gal")}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["bought"].choices = material_choices(
            (item for item in tables().materials.values() if item.n + item.p2o5 + item.k2o >= 4), "nothing"
        )


def _prices(holding) -> dict[str, float]:
    return {key: line.price_per_kg for key, line in stock_of(holding.pk).lines().items() if line.price_per_kg is not None}


def blends(request):
    """The desk, and blends that were kept. Keeping is a POST of the same boxes with a name."""
    holding, place = request.place.holding, request.place
    query = request.POST if request.method == "POST" else request.GET
    form = BlendForm(query, us=place.units == "us")
    parts, typed, errors = rows_of(query, "material", "parts", "its parts")
    context = {
        "form": form,
        "errors": errors,
        "rows": blank_rows(typed, 3, MOST_PARTS),
        "materials": material_choices(tables().materials.values()),
    }
    made = None
    if form.is_bound and form.is_valid() and not errors:
        data = form.cleaned_data
        try:
            made = blend(
                [BlendPart(tables().materials[key], number) for key, number in parts[:MOST_PARTS]],
                data["by"],
                _prices(holding),
                tables(),
                warmth_c=data["warmth"] or 15.0,
            )
            context["made"] = _told(made, data, place)
        except RuleError as error:
            context["errors"] = [error_text(error)]
    if request.method == "POST" and made is not None:
        name = request.POST.get("name", "").strip()[:80]
        if name:
            kept = holding.own_blends.filter(name=name).first() or OwnBlend(holding=holding, name=name)
            with undoable(request, f"The blend {name} was kept", *([kept] if kept.pk else [])) as touched:
                kept.by, kept.parts, kept.mixed_on = form.cleaned_data["by"], [list(part) for part in parts], timezone.localdate()
                kept.save()
                touched[:] = [kept]
            return redirect("desks:blend", kept.pk)
        context["name_error"] = "Give it a name to keep it by."
    context["kept"] = list(holding.own_blends.all())
    failed = context["errors"] or form.errors or context.get("name_error")
    return render(request, "desks/blends.html", context, status=422 if request.method == "POST" and failed else 200)


def _told(made: Blend, data: dict, place) -> dict:
    filled, units, currency = batch(made, data["bin"]), place.units, place.holding.currency
    rows = [
        {
            "name": part.material.name,
            "parts": f"{part.parts:g}",
            "share": f"{share * 100:.1f} %",
            "kg": showing.mass(kg, units, 3),
            "litres": showing.in_unit(litres, "L", "gal" if units == "us" else "L", 3),
        }
        for part, share, kg, litres in zip(made.parts, made.shares, filled.kg, filled.litres, strict=True)
    ]
    bag = tables().materials.get(data["bought"] or "")
    plant = None
    if data["plant"]:
        try:
            grams, spoons = per_plant(made, data["plant"], units)
            plant = f"{showing.number(grams, 3)} g{f' ({spoons})' if spoons else ''}"
        except RuleError as error:
            plant = error_text(error)
    return _says(made, units) | {
        "rows": rows,
        "total": showing.mass(filled.total_kg, units, 3),
        "cost": f"{currency}{filled.cost:.2f}",
        "price": f"{currency}{made.price_per_kg:.2f}",
        "plant": plant,
        "plant_n": f"{data['plant']:g}" if data["plant"] else "",
        "bought": _beside(made, bag, _prices(place.holding)) if bag else "",
    }


def _says(made: Blend, units: str) -> dict:
    grade = "-".join(f"{made.contents[name]:.1f}".rstrip("0").rstrip(".") for name in ("n", "p2o5", "k2o"))
    lime = (
        f"neutralises as much as {made.cce:.0f} parts of pure lime to 100"
        if made.cce > 0.5
        else f"uses up {-made.cce:.0f} parts of pure lime to 100"
        if made.cce < -0.5
        else "leaves pH alone"
    )
    months = made.keeps_months
    return {
        "grade": grade,
        "contents": [(CONTENTS[name], f"{value:.2g} %") for name, value in made.contents.items() if value >= 0.05],
        "usable": [(key, f"{value:.2g} %") for key, value in made.usable.items() if value >= 0.05],
        "lime": lime,
        "salt": f"{made.salt_index:.0f}" if made.salt_index is not None else "",
        "release": release_line(WEEKS, made.release) if made.contents["n"] > 0 else None,
        "keeps": f"{months} month{'s' if months != 1 else ''}",
        "keeps_why": made.keeps_why,
        "clashes": [
            (f"{item.first} and {item.second}", item.reason, item.danger) for item in made.clashes if item.together != "not in one tank"
        ],
        "organic": made.is_organic_allowed,
        "density": showing.bulk(made.density_g_per_ml, units),
    }


def _beside(made: Blend, bag: Material, prices: dict[str, float]) -> str:
    times = beside_bought(made, bag, prices.get(bag.key, bag.list_price_per_kg))
    if times is None:
        return f"It can't be compared with {bag.name} by price."
    return f"A kilogram of nutrients in it costs {times:.1f} times that in {bag.name}."


def kept_blend(request, pk: int):
    """A kept blend as its label: what is in it, what it does, until when; to print."""
    kept = get_object_or_404(request.place.holding.own_blends, pk=pk)
    known = tables().materials
    parts = [BlendPart(known[key], number) for key, number in kept.parts if key in known]
    if len(parts) < 2:
        raise Http404
    made = blend(parts, kept.by, _prices(request.place.holding), tables())
    until = add_months(kept.mixed_on, made.keeps_months) if kept.mixed_on else None
    cautions = material_cautions((part.material for part in parts), tables())
    rows = [
        {"name": part.material.name, "parts": f"{part.parts:g}", "share": f"{share * 100:.0f} %"}
        for part, share in zip(parts, made.shares, strict=True)
    ]
    query = "&".join([f"by={kept.by}", *(f"material={key}&parts={number:g}" for key, number in kept.parts)])
    told = {"blend": kept, "rows": rows, "until": until, "cautions": cautions, "query": query}
    return render(request, "desks/blend.html", _says(made, request.place.units) | told)


@require_POST
def drop_blend(request, pk: int):
    kept = get_object_or_404(request.place.holding.own_blends, pk=pk)
    with undoable_deletion(request, f"The blend {kept.name} was deleted", kept):
        kept.delete()
    return redirect("desks:blends")
