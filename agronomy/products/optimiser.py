"""The best set of bags for all nutrient needs of a plot at once: least money, fewest different bags, or least loss to air and water.

A mixed-integer model: how much of each material, and whether it is opened at all. What is plenty is never brought, what is right
only in traces, what is needed within its window. Lime and sulfur are chosen before it, and what they bring is counted.
"""

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import SPOKEN, Need, Nothing, Unmet
from agronomy.products.choice import AvailableProducts, Choice
from agronomy.products.ground import Ground
from agronomy.products.nitrogen_losses import Conditions, ammonia_share
from agronomy.products.nutrient_sources import most_beside, unfit_at_any_rate
from agronomy.tables import Tables
from agronomy.tables.material import Material

AIMS = {"money": "least money", "fewest": "fewest different bags", "loss": say("least loss to air and water")}
NUTRIENTS = ("P", "K", "Mg", "S", "N")
LEAST_SHARE_OF_NEED = 0.02
MOST_NODES = 10_000  # of the search; usual sets take a dozen. Nodes and not seconds, so that every machine gives the same set


@record(kw_only=True)
class Model:
    """The needs and candidates of one plot, as arrays: share[n, m] of nutrient n in material m, windows [kg/ha], prices and losses per
    kg.
    """

    needs: tuple[Need, ...]
    wanted: np.ndarray
    most: np.ndarray
    materials: tuple[Material, ...]
    share: np.ndarray
    beside: np.ndarray
    beside_most: np.ndarray
    price: np.ndarray
    loss: np.ndarray
    first: np.ndarray
    worth: np.ndarray

    @property
    def reach(self) -> np.ndarray:
        """Most of each material [kg/ha] that any window leaves room for."""
        with np.errstate(divide="ignore"):
            return np.where(self.share > 0, self.most[:, None] / self.share, np.inf).min(axis=0)


@record(kw_only=True)
class Mix:
    """One solution: kg/ha of each material in the model's order, what stays open [kg/ha of each need], money and loss [per ha], bags
    opened.

    `weight` is what the aim made as small as it could: its own figure, and what is left open at some times its worth.
    `is_proved`: no other could be better.
    """

    model: Model
    rates: np.ndarray
    open: np.ndarray
    money: float
    lost_kg: float
    bags: int
    weight: float
    is_proved: bool


def model_for(needs: list[Need], remaining: dict[str, float], ground: Ground, shop: AvailableProducts, tables: Tables) -> Model | None:
    """The Model for nutrient needs of which `remaining` [kg/ha] is still to be met; None where nothing is left to meet.

    Source: material-typical.

    >>> from agronomy.intake.example import needs, shop, ground, tables
    >>> model_for(needs(), {need.what: need.rate_kg_per_ha for need in needs()}, ground(), shop(), tables) is None
    False
    """
    left = tuple(need for need in needs if need.what in NUTRIENTS and remaining[need.what] > LEAST_SHARE_OF_NEED * need.rate_kg_per_ha)
    keys = [need.what for need in left]
    materials = tuple(
        item
        for item in shop.materials
        if any(item.has_role(key) and key in item.share for key in keys)
        and unfit_at_any_rate(item, set(keys), ground, shop, tables) is None
    )
    if not left or not materials:
        return None
    above_secondary, room_secondary = tables.choice.window_above_secondary.value, tables.choice.secondary_room_kg_per_ha.value
    others = [key for key in ("N", "P", "K") if key not in keys]
    wanted = np.array([remaining[key] for key in keys])
    most = np.array(
        [
            _most(key, remaining[key], ground, tables) if key in ("N", "P", "K") else max(remaining[key] * above_secondary, room_secondary)
            for key in keys
        ]
    )
    return Model(
        needs=left,
        wanted=wanted,
        most=most,
        materials=materials,
        share=np.array([[item.share.get(key, 0.0) for item in materials] for key in keys]),
        beside=np.array([[item.share.get(key, 0.0) for item in materials] for key in others]).reshape(len(others), len(materials)),
        beside_most=np.array([most_beside(key, 0.0, ground, tables) for key in others]),
        price=np.array([shop.price_per_kg(item) for item in materials]),
        loss=np.array([_loss_per_kg(item, ground, tables) for item in materials]),
        first=np.array([shop.goes_first(item, _enough(item, keys, remaining)) for item in materials]),
        worth=np.array([tables.nutrients.worth_per_kg(key).value for key in keys]),
    )


def _enough(material: Material, keys: list[str], remaining: dict[str, float]) -> float:
    """The rate [kg/ha] at which a material would meet the need that it fills soonest."""
    return min(remaining[key] / material.share[key] for key in keys if key in material.share)


def _most(key: str, remaining: float, ground: Ground, tables: Tables) -> float:
    """The upper end of a window [kg/ha]: a little more than is needed where no cap stands before it."""
    most = max(remaining * tables.choice.window_above.value, remaining + tables.nutrients.room_kg_per_ha.value)
    return max(remaining, min(most, ground.caps.get(key, most)))


def _loss_per_kg(material: Material, ground: Ground, tables: Tables) -> float:
    """Nitrogen [kg] that a kilogram of product is likely to lose to air, and on light ground to water."""
    form = material.n_form
    if not form or material.n <= 0:
        return 0.0
    ph = ground.ph.value if ground.ph is not None else 6.5
    washed = tables.losses.leached_light.value * tables.losses.forms[form].nitrate_share if ground.soil.is_light else 0.0
    return material.n / 100 * (ammonia_share(form, ph, ground.soil.cec_cmol_per_kg, Conditions("two_days"), tables) + washed)


def solve(
    model: Model,
    aim: str,
    tables: Tables,
    *,
    most_bags: int | None = None,
    lost_times: float | None = None,
    most_money: float | None = None,
    at_hand: np.ndarray | None = None,
) -> Mix | None:
    """The best Mix for an aim, with no more than so many different bags; None where the solver finds none.

    `most_money` [per ha] is all that may be spent, `at_hand` [kg/ha] all that there is of each material; what they leave open is told.

    `lost_times`: how many times its price a lost kilogram of nitrogen weighs (for money: 0 where not said; for loss: the table's).

    Variables: rates of m materials, m switches (opened or not), and the open share of each need: a tenth
    that counts as met, weighed as that much fertilizer, and what is open beyond it, weighed some times that. Source: definition.
    Rates in kg/ha, money per ha.

    >>> from agronomy.intake.example import case, tables
    >>> solve(case().model, "fewest", tables).bags
    2
    """
    reach = model.reach if at_hand is None else np.minimum(model.reach, at_hand)
    rows = _Rows(model)
    rows.needs_and_limits(tables.choice.nearly_met.value)
    rows.switches(reach)
    if most_bags is not None:
        rows.add(0.0, most_bags, switches=np.ones(rows.count))
    if most_money is not None:
        rows.add(0.0, most_money, rates=model.price)
    ones = np.ones(rows.count + 2 * rows.needs)
    found = milp(
        _cost(model, aim, lost_times, tables),
        constraints=LinearConstraint(np.array(rows.rows), rows.low, rows.high),
        integrality=np.concatenate([np.zeros(rows.count), np.ones(rows.count), np.zeros(2 * rows.needs)]),
        bounds=Bounds(np.zeros(rows.size), np.concatenate([reach, ones])),
        options={"disp": False, "node_limit": MOST_NODES, "mip_rel_gap": 1e-6},
    )
    if found.x is None:
        return None
    rates = np.where(found.x[: rows.count] > 1e-6, found.x[: rows.count], 0.0)
    return Mix(
        model=model,
        rates=rates,
        open=found.x[2 * rows.count + rows.needs :] * model.wanted,
        money=float(rates @ model.price),
        lost_kg=float(rates @ model.loss),
        bags=int((rates > 0).sum()),
        weight=float(found.fun),
        is_proved=found.status == 0,
    )


class _Rows:
    """The limits of the problem, a row each: rates, switches, nearly met and open shares between a low and a high."""

    def __init__(self, model: Model):
        self.model, self.count, self.needs = model, len(model.materials), len(model.needs)
        self.size = 2 * self.count + 2 * self.needs
        self.rows: list[np.ndarray] = []
        self.low: list[float] = []
        self.high: list[float] = []

    def add(
        self,
        low: float,
        high: float,
        *,
        rates: np.ndarray | None = None,
        switches: np.ndarray | None = None,
        near: tuple[int, float] | None = None,
        open_: tuple[int, float] | None = None,
    ) -> None:
        row = np.zeros(self.size)
        if rates is not None:
            row[: self.count] = rates
        if switches is not None:
            row[self.count : 2 * self.count] = switches
        if near is not None:
            row[2 * self.count + near[0]] = near[1]
        if open_ is not None:
            row[2 * self.count + self.needs + open_[0]] = open_[1]
        self.rows.append(row)
        self.low.append(low)
        self.high.append(high)

    def needs_and_limits(self, nearly_met: float) -> None:
        """Each need is met or told as open, and nothing comes to more than is borne."""
        model = self.model
        for n in range(self.needs):
            wanted = model.wanted[n]
            self.add(-np.inf, model.most[n], rates=model.share[n])
            self.add(wanted, np.inf, rates=model.share[n], near=(n, nearly_met * wanted), open_=(n, wanted))
        for beside, most in zip(model.beside, model.beside_most, strict=True):
            self.add(-np.inf, most, rates=beside)

    def switches(self, reach: np.ndarray) -> None:
        """A material is opened before any of it is taken."""
        for m in range(self.count):
            one = np.zeros(self.count)
            one[m] = 1.0
            self.add(-np.inf, 0.0, rates=one, switches=-reach * one)


def _cost(model: Model, aim: str, lost_times: float | None, tables: Tables) -> np.ndarray:
    """What a kilogram of each, an opened bag, and an open share of each need weigh."""
    weights = tables.choice
    tie, all_worth = weights.tie.value, float(model.wanted @ model.worth)
    leaning = np.where(model.first, tie, 1.0)  # what was asked for, or stands in the shed, weighs next to nothing
    times = lost_times if lost_times is not None else weights.lost_times.value if aim == "loss" else 0.0
    lost = tables.nutrients.worth_per_kg_n.value * model.loss * times
    per_rate = leaning * model.price * (1.0 if aim == "money" else tie) + lost
    per_bag = weights.a_bag.value * all_worth if aim == "fewest" else 1e-4 * all_worth
    nearly = weights.nearly_met.value * model.wanted * model.worth * (tie if aim != "money" else weights.nearly_times.value)
    return np.concatenate([per_rate, per_bag * leaning, nearly, weights.short_times.value * model.wanted * model.worth])


def front(model: Model, tables: Tables) -> list[Mix]:
    """The least money for one bag, two, and so on, as far as another bag still saves money or meets more: the front of trade-offs.

    Source: definition.
    Rates in kg/ha, money per ha.

    >>> from agronomy.intake.example import case, tables
    >>> len(front(case().model, tables)) > 1
    True
    """
    found: list[Mix] = []
    for bags in range(1, len(model.needs) + 2):
        mix = solve(model, "money", tables, most_bags=bags)
        if mix is None:
            continue
        last = found[-1] if found else None
        if last is None or mix.open.sum() < last.open.sum() - 1e-3 or mix.money < last.money - 1e-3:
            found.append(mix)
    return found


def optimised(
    needs: list[Need],
    remaining: dict[str, float],
    ground: Ground,
    shop: AvailableProducts,
    aim: str,
    tables: Tables,
    *,
    most_bags: int | None = None,
    lost_times: float | None = None,
) -> tuple[list[Choice], list[Unmet], list[Nothing]]:
    """Choices for all nutrient needs at once, what stays open, and what comes along; as selection by rule gives them.

    Source: definition.
    Rates in kg/ha.

    >>> from agronomy.intake.example import needs, shop, ground, tables
    >>> remaining = {need.what: need.rate_kg_per_ha for need in needs()}
    >>> len(optimised(needs()[1:], remaining, ground(), shop(), "money", tables)[0]) > 0
    True
    """
    model = model_for(needs, remaining, ground, shop, tables)
    mix = solve(model, aim, tables, most_bags=most_bags, lost_times=lost_times) if model else None
    if mix is None:
        left = [need for need in needs if need.what in NUTRIENTS and remaining[need.what] > LEAST_SHARE_OF_NEED * need.rate_kg_per_ha]
        return (
            [],
            [
                Unmet(
                    need.what,
                    remaining[need.what],
                    say("No material on the list gives {spoken} here without harm.", spoken=SPOKEN[need.what]),
                )
                for need in left
            ],
            [],
        )
    choices = [_choice(mix, m, shop, aim) for m in range(len(mix.rates)) if mix.rates[m] > 0]
    chosen_for = {choice.need.what for choice in choices}
    unmet = [
        Unmet(
            need.what,
            float(mix.open[n]),
            say("Some {spoken} is not met: no product brings it without bringing what isn't needed.", spoken=SPOKEN[need.what]),
        )
        for n, need in enumerate(mix.model.needs)
        if mix.open[n] > LEAST_SHARE_OF_NEED * need.rate_kg_per_ha
    ]
    met = [
        Nothing(need.what, say("No extra {spoken}: another material of this plan brings what is short.", spoken=SPOKEN[need.what]))
        for n, need in enumerate(mix.model.needs)
        if need.what not in chosen_for and mix.open[n] <= LEAST_SHARE_OF_NEED * need.rate_kg_per_ha
    ]
    return choices, unmet, met


def _choice(mix: Mix, m: int, shop: AvailableProducts, aim: str) -> Choice:
    """A material of the mix, told for the need of which it meets the largest part."""
    model, material, rate = mix.model, mix.model.materials[m], float(mix.rates[m])
    n = int(np.argmax(model.share[:, m] * rate / model.wanted))
    need = model.needs[n]
    step = Step(
        "part of the best set of bags",
        f"for {AIMS[aim]}, all needs met within their windows together",
        {SPOKEN[other.what]: Figure(float(model.wanted[place]), "kg/ha") for place, other in enumerate(model.needs)},
        Figure(rate, "kg/ha"),
        material.source,
        material.name,
        note=f"{mix.bags} bag{'s' if mix.bags != 1 else ''} opened in all, out of {len(model.materials)} materials that fit here"
        + ("" if mix.is_proved else "; not proved the best: the search ended first"),
    )
    supplies = {nutrient: part * rate for nutrient, part in material.share.items()}
    share = model.share[n, m] * rate / need.rate_kg_per_ha
    spread = need.low_kg_per_ha / need.rate_kg_per_ha, need.high_kg_per_ha / need.rate_kg_per_ha
    why = say(
        "One of {bags} for {aims} over all needs together; it meets {min:.0f} % of the {spoken}.",
        bags=mix.bags,
        aims=AIMS[aim],
        min=min(100, share * 100),
        spoken=SPOKEN[need.what],
    )
    return Choice(
        need=need,
        material=material,
        rate_kg_per_ha=rate,
        low_kg_per_ha=rate * spread[0],
        high_kg_per_ha=rate * spread[1],
        supplies=supplies,
        price_per_kg=shop.price_per_kg(material),
        why=why,
        working=(*need.working, step),
    )
