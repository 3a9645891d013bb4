"""The sieve desk: how much of a lime will react, by the sieves on its label; kept with the lot by its owner."""

from typing import Any

from django import forms
from django.shortcuts import render

from agronomy.base.errors import RuleError
from agronomy.products.sieves import MESH_MM, effective_value, reacting_share, schemes
from web.core import error_text, tables
from web.desks.common import DeskForm
from web.ground.fields import NumberField


class SieveForm(DeskForm):
    """Neutralising value, moisture, what passes each sieve, and the scheme."""

    cce = NumberField(low=1, high=180, label="Neutralising value, % of CaCO₃")
    moisture = NumberField(low=0, high=80, label="Moisture, %", required=False)
    scheme = forms.ChoiceField(label="Scheme of your country or region")
    mesh_4, mesh_8, mesh_10, mesh_20, mesh_30, mesh_50, mesh_60, mesh_100 = (
        NumberField(low=0, high=100, label=f"Passing {size:g} mm (mesh {mesh}), %", required=False) for mesh, size in MESH_MM.items()
    )
    usual = {"cce": "95", "scheme": "TRI"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["scheme"].choices = list(schemes(tables()).items())


def sieves(request):
    form = SieveForm(request.GET, us=request.place.units == "us")
    context: dict[str, Any] = {"form": form}
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        passing = {mesh: data[f"mesh_{mesh}"] / 100 for mesh in MESH_MM if data[f"mesh_{mesh}"] is not None}
        try:
            share = reacting_share(data["scheme"], passing, tables())
            context |= {
                "share": f"{share * 100:.0f} %",
                "effective": f"{effective_value(data['cce'], share, data['moisture'] or 0.0):.0f} %",
            }
        except RuleError as error:
            context["error"] = error_text(error)
    return render(request, "desks/sieves.html", context)
