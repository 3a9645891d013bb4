"""A crop's known answer to nitrogen."""

from agronomy.base.record import record


@record
class Response:
    """Yield by nitrogen from trials on ground like this: kg yield = a + slope × N − curvature × N², N in kg/ha; prices in one money per
    kg.
    """

    slope: float
    curvature: float
    nitrogen_price: float
    crop_price: float
