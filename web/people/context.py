"""What every page needs to know of the holding."""


def holding(request) -> dict:
    place = getattr(request, "place", None)
    if place is None or not request.user.is_authenticated:
        return {"holding": None, "units": "metric", "role": ""}
    return {
        "holding": place.holding,
        "units": place.units,
        "role": place.role,
        "other_holdings": [row.holding for row in place.memberships[1:]],
    }
