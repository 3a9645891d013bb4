"""The year's balance of nitrogen and phosphorus of a holding, from its log and its harvests."""

from agronomy.ledger.balance import Harvested, NutrientBalance, balance_of, together
from web.core import tables
from web.ground.models import Planting, Plot
from web.records.selectors import log_of


def year_balance(holding, year: int) -> tuple[list[NutrientBalance], int]:
    """The balance by nutrient over all plots where something was spread or taken off, and how many harvests nobody weighed."""
    spread: dict[int, list[tuple[str, float]]] = {}
    for entry in log_of(holding).filter(done_on__year=year):
        spread.setdefault(entry.plot_id, []).append((entry.material, entry.kg))
    harvests: dict[int, list[Harvested]] = {}
    unweighed = 0
    for planting in Planting.objects.filter(plot__holding=holding, ended_on__year=year):
        if planting.yield_got_t_per_ha is None:
            unweighed += 1
        else:
            harvests.setdefault(planting.plot_id, []).append(Harvested(planting.crop, planting.yield_got_t_per_ha))
    plots = Plot.everything.filter(pk__in={*spread, *harvests}).only("area_m2")
    each = [balance_of(spread.get(plot.pk, ()), harvests.get(plot.pk, ()), plot.area_m2, tables()) for plot in plots]
    return together(item for found in each for item in found), unweighed
