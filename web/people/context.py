"""What every page needs to know of the holding."""


def holding(request) -> dict:
    place = getattr(request, "place", None)
    if place is None or not request.user.is_authenticated:
        return {"holding": None, "units": "metric"}
    return {"holding": place.holding, "units": place.units}
