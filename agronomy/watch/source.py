"""Which bag for a topdressing: by the plan's own rules of what fits this ground and day, of those that act in time."""

from agronomy.model.answers import Need, Unmet
from agronomy.model.request import Request
from agronomy.plan.assess import assess
from agronomy.plan.ground import ground_for
from agronomy.plan.needs import answers_by
from agronomy.products.choice import AvailableProducts
from agronomy.products.nutrient_sources import choose_source
from agronomy.products.shop import available_products
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.watch.in_source import NamedSource, in_source
from agronomy.watch.topdress import Topdress


def source_for(
    told: Topdress, remaining_kg_per_ha: float | None, request: Request, tables: Tables, *, dry: bool = False
) -> NamedSource | Unmet:
    """The material for a dose, from the shed before the shop, or why none fits; `dry` where no water comes within three days.

    Source: topdress-windows, and the rules of the plan.

    >>> from agronomy.intake.example import bed, tables
    >>> from agronomy.watch.topdress import Seen, topdress
    >>> pale = Seen(crop=tables.crops["maize"], instrument="meter", place="in time", meter=46.2, strip=50.6)
    >>> source_for(topdress(pale, tables), None, bed("maize"), tables).n_kg_per_ha > 30
    True
    """
    found = assess(request, tables)
    answers = answers_by(request.school, found, tables)
    shop = _quick(available_products(request, tables), tables, dry=dry)
    need = Need(
        what="N",
        rate_kg_per_ha=told.n_kg_per_ha,
        low_kg_per_ha=told.low,
        high_kg_per_ha=told.high,
        method="topdressing",
        why=told.reason,
    )
    choice = choose_source(need, {"N": told.n_kg_per_ha}, ground_for(found, answers, tables), shop, tables)
    if isinstance(choice, Unmet):
        return choice
    return in_source(told.n_kg_per_ha, choice.material, remaining_kg_per_ha, tables)


def _quick(shop: AvailableProducts, tables: Tables, *, dry: bool) -> AvailableProducts:
    """The shop without what acts too slowly to help a standing crop, what would go off as gas, and bags that bring much else."""
    least = tables.topdress.least_share.value
    rows = tables.topdress.sources

    def serves(item: Material) -> bool:
        return item.key in rows and rows[item.key].share_3_weeks >= least and item.p2o5 == 0 and not (dry and item.loses_ammonia)

    shop.narrow(serves)
    return shop
