"""What each plot really got, by year, from the log."""

from django.shortcuts import render

from agronomy.base import showing
from agronomy.ledger.totals import LoggedApplication, YearTotal, totals
from web.core import tables
from web.records.selectors import caps_of, log_of
from web.words import nutrient_in


def totals_of(holding) -> list[tuple[YearTotal, float]]:
    """What each plot got by year, with the plot's area [m2]."""
    entries = list(log_of(holding))
    applied = [
        LoggedApplication(entry.plot.told_name, entry.done_on, entry.material, entry.kg, entry.price_per_kg or 0.0) for entry in entries
    ]
    areas = {entry.plot.told_name: entry.plot.area_m2 for entry in entries}
    return [(item, areas[item.plot]) for item in totals(applied, areas, caps_of(holding), tables())]


def year_totals(request):
    """What each plot really got, year by year, beside the caps."""
    rows = [_total(item, area_m2, request.place) for item, area_m2 in totals_of(request.place.holding)]
    return render(request, "records/totals.html", {"rows": rows})


def _total(item: YearTotal, area_m2: float, place) -> dict:
    def rate(kg_per_ha: float) -> str:
        return showing.rate(kg_per_ha, place.units, area_m2)

    given = []
    for key, amount in item.kg_per_ha.items():
        label, shown = nutrient_in(key, amount, place.holding.nutrient_form)
        given.append((label, rate(shown)))
    lime = f"neutralises as much as {rate(item.lime)}" if item.lime > 1 else f"uses up {rate(-item.lime)} of lime" if item.lime < -1 else ""
    return {
        "plot": item.plot,
        "year": item.year,
        "given": given,
        "all_n": rate(item.total_n),
        "lime": lime,
        "salt": rate(item.salt) if item.salt >= 1 else "",
        "money": f"{place.holding.currency}{item.money:.2f}",
        "over": ["nitrogen" if key == "N" else "phosphate" for key in item.over],
        "carries": [rate(given) for given in item.carries] if item.carries[0] >= 0.1 else [],
    }
