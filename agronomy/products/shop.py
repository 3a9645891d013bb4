"""The shop that a request's materials, shed and habits make."""

from agronomy.model.request import Request
from agronomy.products.choice import AvailableProducts
from agronomy.tables import Tables


def available_products(request: Request, tables: Tables) -> AvailableProducts:
    """What may be bought or taken from the shed.

    Area in m2. Source: user-value.
    """
    return AvailableProducts(
        {**tables.materials, **request.own_materials} if request.own_materials else tables.materials,
        request.only,
        request.shed,
        organic_only=request.organic_only,
        chloride=request.chloride,
        area_m2=request.plot.area_m2,
        enough=tables.choice.enough_in_shed.value,
        wanted=request.wanted,
        without=request.without,
    )
