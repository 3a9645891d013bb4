"""A crop's answer to nitrogen as it is typed: figures of trials and two prices, checked together."""

from agronomy.base.errors import OutOfRange, check_range
from agronomy.base.numbers import parse_number
from agronomy.intake.prices import price_per_kg
from agronomy.model.response import Response
from agronomy.recommend.nutrients.nitrogen import economic_rate
from agronomy.tables import Tables

Amount = float | int | str


def read_response(
    slope: Amount, curvature: Amount, nitrogen_price: Amount, crop_price: Amount, tables: Tables, field: str = "response"
) -> Response:
    """A Response from its four figures. Raises NotANumber, and OutOfRange also where together they ask for more nitrogen than any crop
    takes up.

    Args: slope 0 to 500 [kg crop/kg N], curvature 0.0001 to 20 [kg crop/kg² N], prices in one money per kg.  Source: n-economic.
    """
    steep = check_range(f"{field}.slope", parse_number(slope, f"{field}.slope"), low=0, high=500)
    bend = check_range(f"{field}.curvature", parse_number(curvature, f"{field}.curvature"), low=1e-4, high=20)
    nitrogen, crop = price_per_kg(nitrogen_price, f"{field}.nitrogen_price"), price_per_kg(crop_price, f"{field}.crop_price")
    if crop <= 0:
        raise OutOfRange(f"{field}.crop_price", crop_price, "the crop's price must be above zero", "give what a kilogram of it sells for")
    response, most = Response(steep, bend, nitrogen, crop), tables.nitrogen.most_kg_per_ha.value
    if economic_rate(response) > most:
        problem = f"these figures ask for {economic_rate(response):.0f} kg N/ha, more than the {most:.0f} that any crop takes up"
        raise OutOfRange(f"{field}.curvature", curvature, problem, "check slope, curvature and both prices")
    return response
