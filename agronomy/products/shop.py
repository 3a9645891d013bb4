"""The shop that a request's materials, shed and habits make."""

from collections.abc import Mapping

from agronomy.model.request import Request
from agronomy.products.choice import AvailableProducts
from agronomy.products.equipment import equipment_on
from agronomy.tables import Tables
from agronomy.tables.material import Material


def _spreadable(request: Request, tables: Tables) -> Mapping[str, Material]:
    """The catalogue with the owner's labels, without what his equipment can't lay; what he asks for by name stays."""
    rows = {**tables.materials, **request.own_materials} if request.own_materials else tables.materials
    if not request.equipment:
        return rows
    named = {*(request.only or ()), *request.wanted}
    forms = {form for tool in equipment_on(request.plot, request.equipment, tables) for form in tool.takes}
    return {key: row for key, row in rows.items() if key in named or row.form in forms}


def available_products(request: Request, tables: Tables) -> AvailableProducts:
    """What may be bought or taken from the shed.

    Area in m2. Source: user-value.
    """
    materials = _spreadable(request, tables)
    return AvailableProducts(
        materials,
        request.only,
        request.shed,
        organic_only=request.organic_only,
        chloride=request.chloride,
        area_m2=request.plot.area_m2,
        enough=tables.choice.enough_in_shed.value,
        wanted=request.wanted,
        without=request.without,
        kept=tables.kept if materials is tables.materials else None,
        by_equipment=bool(request.equipment),
    )
