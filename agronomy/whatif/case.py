"""One plot made ready for the optimiser: its needs less what lime or sulfur brings, its ground, its shop, its model."""

from agronomy.base.record import record
from agronomy.model.answers import ACIDITY, Need
from agronomy.model.request import Request
from agronomy.plan.assess import assess
from agronomy.plan.ground import ground_for
from agronomy.plan.needs import answers_by
from agronomy.products.choice import AvailableProducts
from agronomy.products.ground import Ground
from agronomy.products.optimiser import Model, model_for
from agronomy.products.selection import select
from agronomy.products.shop import available_products
from agronomy.tables import Tables


@record(kw_only=True)
class Case:
    """A plot with what is left to choose; `model` is None where no nutrient is short or nothing on the list serves."""

    request: Request
    needs: tuple[Need, ...]
    ground: Ground
    shop: AvailableProducts
    model: Model | None

    @property
    def hectares(self) -> float:
        return self.request.plot.area_m2 / 10_000


def case_for(request: Request, tables: Tables) -> Case:
    """A plot made ready: what lime or sulfur brings is taken off its needs.

    Needs in kg/ha. Source: each need's own.
    """
    found = assess(request, tables)
    answers = answers_by(request.school, found, tables)
    needs, ground, shop = answers.needs(), ground_for(found, answers, tables), available_products(request, tables)
    remaining = {need.what: need.rate_kg_per_ha for need in needs}
    acidity = select([need for need in needs if need.what in ACIDITY], ground, shop, tables)[0]
    for choice in acidity:
        for nutrient, amount in choice.supplies.items():
            if nutrient in remaining:
                remaining[nutrient] = max(0.0, remaining[nutrient] - amount)
    return Case(
        request=request,
        needs=tuple(needs),
        ground=ground,
        shop=shop,
        model=model_for(needs, remaining, ground, shop, tables),
    )
