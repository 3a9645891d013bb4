"""What every page needs to know of the holding."""

# The room of the bar that a page stands in, by the namespace of its address, or by its name where it has none.
ROOMS = {
    "ground_page": "ground",
    "slip_page": "readings",
    "chart_page": "readings",
    "sensors": "readings",
    **dict.fromkeys(("plot_readings", "plot_compare", "plot_measure", "plot_history"), "planning"),
    "supplies": "planning",
    **dict.fromkeys(("learn", "results", "both_sides", "claims", "trials", "practice"), "learn"),
    **dict.fromkeys(("desks:watch", "desks:ailing", "desks:keep_watch", "desks:settle_watch", "desks:flush"), "watch"),
    "records": "jobs",
}


def holding(request) -> dict:
    place = getattr(request, "place", None)
    if place is None or not request.user.is_authenticated:
        return {"holding": None, "units": "metric", "role": "", "enters": False}
    at = request.resolver_match
    named = (at.view_name if at.view_name in ROOMS else at.namespace or at.url_name) if at else ""
    return {
        "holding": place.holding,
        "units": place.units,
        "role": place.role,
        "enters": place.role == "owner" or (place.role == "adviser" and place.holding is not None and place.holding.adviser_enters),
        "room": ROOMS.get(named, named),
        "other_holdings": [row.holding for row in place.memberships[1:]],
    }
