"""Needs to choices: acidity first, then nutrient by nutrient, each counting what the ones before it bring."""

from agronomy.base.said import say
from agronomy.model.answers import ACIDITY, SPOKEN, Need, NeedKind, Nothing, Unmet
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.products.few_bags import compound_for, wants_few_bags
from agronomy.products.from_shed import from_shed
from agronomy.products.ground import Ground
from agronomy.products.liming import choose_lime, choose_sulfur
from agronomy.products.nutrient_sources import choose_source
from agronomy.tables import Tables

ORDER = ("CaCO3", "S_acid", "P", "K", "Mg", "S", "N")  # phosphorus before nitrogen, whose carriers often bring both


def select(
    needs: list[Need],
    ground: Ground,
    shop: AvailableProducts,
    tables: Tables,
    aim: str = "rule",
    *,
    most_bags: int | None = None,
    lost_times: float | None = None,
) -> tuple[list[Choice], list[Unmet], list[Nothing]]:
    """A choice for each need, or why it stays unmet, or that another choice meets it already.

    `aim` "rule" goes nutrient by nutrient; another (see optimiser.AIMS) takes the best set of bags for all nutrients at once, with no more
    than
    `most_bags` different ones, a lost kilogram of nitrogen weighing `lost_times` its price.
    Rates in kg/ha.

    >>> from agronomy.intake.example import needs, shop, ground, tables
    >>> [choice.material.key for choice in select(needs(), ground(), shop(), tables)[0]]
    ['dolomitic_limestone_ground', 'npk_15_15_15', 'urea']
    """
    by_what = {need.what: need for need in needs}
    remaining = {need.what: need.rate_kg_per_ha for need in needs}
    choices: list[Choice] = []
    unmet: list[Unmet] = []
    met: list[Nothing] = []
    if aim == "rule":
        choices, shop = _shed_first(by_what, remaining, ground, shop, tables)
    few = wants_few_bags(remaining, ground, shop, tables)
    for what in ORDER if aim == "rule" else ("CaCO3", "S_acid"):
        need = by_what.get(what)
        if need is None:
            continue
        if remaining[what] < tables.choice.nearly_met.value * need.rate_kg_per_ha:
            if any(choice.need.what == what for choice in choices):
                continue  # what stands in the shed meets it
            bringers = " and ".join(choice.material.name for choice in choices if choice.supplies.get(what))
            met.append(
                Nothing(
                    what,
                    say("No extra {spoken}: the {bringers} of this plan brings what is short.", spoken=SPOKEN[what], bringers=bringers),
                )
            )
            continue
        near = compound_for(by_what, remaining, ground, shop, tables) if what == "P" and aim == "rule" and few else None
        if near is not None:
            met.append(near[1])
        chosen = near[0] if near is not None else _choose(need, remaining, ground, shop, tables)
        if isinstance(chosen, Unmet):
            unmet.append(chosen)
            continue
        choices.append(chosen)
        soon = min(1.0, ground.most_lime_kg_per_ha / chosen.rate_kg_per_ha) if what in ACIDITY else 1.0
        chosen.count_off(remaining, soon)
        if near is not None:
            by_what.pop("K")
    if aim == "rule":
        return choices, unmet, met
    by_lime = choices, unmet, met, by_what, remaining
    return _by_aim(aim, needs, by_lime, ground, shop, tables, most_bags=most_bags, lost_times=lost_times)


Selected = tuple[list[Choice], list[Unmet], list[Nothing]]


def _shed_first(
    by_what: dict[str, Need], remaining: dict[str, float], ground: Ground, shop: AvailableProducts, tables: Tables
) -> tuple[list[Choice], AvailableProducts]:
    """What is in the shed and goes on first, counted off what remains, and the shop without it."""
    choices = from_shed(by_what, remaining, ground, shop, tables)
    for choice in choices:
        choice.count_off(remaining)
    used = {choice.material.key: choice.rate_kg_per_ha * shop.area_m2 / 10_000 for choice in choices}
    return choices, shop.without_stock(used) if used else shop


def _by_aim(
    aim: str,
    needs: list[Need],
    by_lime: tuple[list[Choice], list[Unmet], list[Nothing], dict[str, Need], dict[str, float]],
    ground: Ground,
    shop: AvailableProducts,
    tables: Tables,
    *,
    most_bags: int | None,
    lost_times: float | None,
) -> Selected:
    """The best set of bags for all nutrients at once, after lime or sulfur; the rule's own where that is no worse."""
    # scipy takes a third of a second to come in, and most plans go by the rule
    from agronomy.products.optimiser import LEAST_SHARE_OF_NEED, optimised

    choices, unmet, met, by_what, remaining = by_lime

    def aimed(at: str) -> Selected:
        best, open_, along = optimised(needs, remaining, ground, shop, at, tables, most_bags=most_bags, lost_times=lost_times)
        limed = _brought_by_lime(by_what, remaining, choices, LEAST_SHARE_OF_NEED)
        return [*choices, *best], [*unmet, *open_], [*met, *along, *limed]

    result = aimed(aim)
    if most_bags is not None:
        return result
    by_rule = select(needs, ground, shop, tables)
    sound = [] if _is_worse(result, by_rule, tables) else [result]
    if aim == "money":  # what another aim finds cheaper, leaving no more open, is the cheapest
        sound += [other for at in ("fewest", "loss") if not _is_worse(other := aimed(at), by_rule, tables)]
        return min(sound, key=_cost, default=by_rule)
    return sound[0] if sound else by_rule


def _cost(selected: Selected) -> float:
    """What a selection costs [own money per hectare]."""
    return sum(choice.rate_kg_per_ha * choice.price_per_kg for choice in selected[0])


def _is_worse(aimed: Selected, by_rule: Selected, tables: Tables) -> bool:
    """Whether an aim leaves a need open that the rule meets, or costs beyond all measure: meeting needs comes before any aim."""
    open_by_rule = {item.what: item.rate_kg_per_ha for item in by_rule[1]}
    over = tables.choice.left_open_over_kg_per_ha.value
    leaves_open = any(item.rate_kg_per_ha > open_by_rule.get(item.what, 0.0) + over for item in aimed[1])
    cost, usual = _cost(aimed), _cost(by_rule)
    return leaves_open or (usual > 0 and cost > tables.choice.sane_cost_times.value * usual)


def _brought_by_lime(by_what: dict[str, Need], remaining: dict[str, float], choices: list[Choice], least: float) -> list[Nothing]:
    """Nutrient needs that lime or sulfur meets already."""
    found = []
    for what, need in by_what.items():
        if what not in ACIDITY and remaining[what] < least * need.rate_kg_per_ha:
            bringers = " and ".join(choice.material.name for choice in choices if choice.supplies.get(what))
            found.append(
                Nothing(
                    what,
                    say("No extra {spoken}: the {bringers} of this plan brings what is short.", spoken=SPOKEN[what], bringers=bringers),
                )
            )
    return found


def _choose(need: Need, remaining: dict[str, float], ground: Ground, shop: AvailableProducts, tables: Tables) -> Choice | Unmet:
    if need.what == NeedKind.LIME:
        return choose_lime(need, ground.findings.get("Mg"), ground.soil, shop, tables, on_field=ground.is_field)
    if need.what == NeedKind.ACIDIFIER:
        return choose_sulfur(need, shop)
    return choose_source(need, remaining, ground, shop, tables)
