"""The bags of a whole holding chosen at once: plots share bags, bags are bought whole, what stands in the shed is used first.

Every plot is first solved alone for least money: nothing may stay open on a plot that its own best choice would meet, and that is
what a holding that shares nothing would pay. Then one mixed-integer model holds all plots. Its switches are tied to the most that any
window of a plot leaves room for, which keeps it close to its linear relaxation; the solver says how far its answer can be from the best.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import coo_array

from agronomy.base.errors import OutOfRange, check_range
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.model.stock import StockLine
from agronomy.plan.plan import make_plan
from agronomy.products.buying import Purchase, Use, purchases
from agronomy.products.choice import price_of
from agronomy.products.optimiser import LEAST_SHARE_OF_NEED, Mix, Model, solve
from agronomy.tables import Tables
from agronomy.whatif.case import Case

MOST_NODES, STOPS_AFTER_S = 200, 60.0  # nodes of the search, so that every machine chooses alike; the clock is only there to end it
AIMS = {
    "money": "least money",
    "fewest": say("fewest different bags to buy"),
    "trips": say("fewest dressings over all plots"),
    "loss": say("least loss to air and water"),
}


@record
class PlotShare:
    """What one plot gets: product by material [kg on the plot], and what stays open by nutrient [kg/ha].

    `by_rule`: the part of it that is not chosen here but follows from the plot's plan.
    """

    name: str
    kg: dict[str, float]
    open: dict[str, float]
    by_rule: dict[str, float]

    def chosen(self) -> list[str]:
        """The materials that were chosen for the plot."""
        return [key for key, kg in self.kg.items() if kg > self.by_rule.get(key, 0.0) + 1e-9]


@record(kw_only=True)
class HoldingChoice:
    """The bags for all plots together.

    `cost` is what must be paid, `apart_cost` what it would be if every plot bought its own best bags by itself. `gap` is how much
    better, as a share of what the aim weighs, any other choice could be at most. `stopped`: the clock ended the search before its nodes
    did; another machine might have found another choice, so that this one is looked at and never used.
    """

    aim: str
    shares: tuple[PlotShare, ...]
    buy: tuple[Purchase, ...]
    cost: float
    apart_cost: float
    dressings: int
    lost_kg: float
    gap: float
    stopped: bool


def choose_for_holding(
    cases: list[Case],
    shed: Mapping[str, StockLine],
    bag_sizes: Mapping[str, float],
    aim: str,
    tables: Tables,
    *,
    whole_bags: bool = True,
    use_stock: bool = True,
    most_money: float | None = None,
    after_each: Callable[[], None] = lambda: None,
) -> HoldingChoice:
    """The choice for some plots (see Case). `whole_bags`: only whole bags can be bought; `use_stock`: what stands in the shed costs nothing
    more; `most_money` [own money]: no more is spent, and what is worth least stays open first. `after_each` is called when a plot is
    solved alone, and may raise to stop the work; then all plots are weighed together, up to MOST_NODES of the search.

    Raises OutOfRange where a bag has no weight, a price is not above zero, or the lime of the plans alone costs more than the money.
    """
    _check(cases, bag_sizes, tables)
    stock = dict(shed) if use_stock else {key: StockLine(line.price_per_kg, 0.0) for key, line in shed.items()}
    alone: list[Mix | None] = []
    by_rule: list[dict[str, float]] = []
    for case in cases:
        alone.append(solve(case.model, "money", tables) if case.model else None)
        by_rule.append(given_by_rule(case, tables))
        after_each()
    blocks = [(case, mix) for case, mix in zip(cases, alone, strict=True) if mix is not None]
    made = _Model(blocks, by_rule, shed, bag_sizes, aim, tables, whole_bags, use_stock)
    if most_money is not None:
        fixed = purchases([Use(key, kg, "") for given in by_rule for key, kg in given.items()], stock, dict(bag_sizes), tables.materials)
        needed = _paid(fixed, shed, tables, whole_bags)
        if most_money < needed:
            problem = say("the lime and the like that the plans ask for cost {needed:.2f} alone", needed=needed)
            raise OutOfRange("money", most_money, problem, "allow so much, or leave it out of the plans")
        made.most_money = most_money - _paid([row for row in fixed if row.material not in made.place], shed, tables, whole_bags)
    rates, gap, stopped = made.solved()
    nearly = tables.choice.nearly_met.value
    shares = tuple(_share(case, fixed, rates.get(id(case), {}), nearly) for case, fixed in zip(cases, by_rule, strict=True))
    uses = [Use(key, kg, share.name) for share in shares for key, kg in share.kg.items()]
    buy = purchases(uses, stock, dict(bag_sizes), tables.materials)
    return HoldingChoice(
        aim=aim,
        shares=shares,
        buy=tuple(buy),
        cost=_paid(buy, shed, tables, whole_bags),
        apart_cost=sum(
            _paid(_alone(case, fixed, mix, stock, bag_sizes, tables), shed, tables, whole_bags)
            for case, fixed, mix in zip(cases, by_rule, alone, strict=True)
        ),
        dressings=sum(len(share.kg) for share in shares),
        lost_kg=sum(_lost(case, share) for case, share in zip(cases, shares, strict=True)),
        gap=gap,
        stopped=stopped,
    )


def _check(cases: list[Case], bag_sizes: Mapping[str, float], tables: Tables) -> None:
    for key, size in bag_sizes.items():
        check_range(
            f"bag of {tables.materials[key].name}",
            size,
            low=0.001,
            high=5000,
            unit="kg",
            mend="give what a full bag weighs",
        )


def _paid(buy: list[Purchase], shed: Mapping[str, StockLine], tables: Tables, whole_bags: bool) -> float:
    if whole_bags:
        return sum(row.cost for row in buy)
    return sum((row.needed_kg - row.from_shed_kg) * price_of(tables.materials[row.material], shed.get(row.material)) for row in buy)


def given_by_rule(case: Case, tables: Tables) -> dict[str, float]:
    """What the plot's plan gives beside the needs that are chosen for here [kg]: this season's lime or sulfur within its caps, trace
    elements, gypsum, compost, the feed of pots and bales.

    >>> from agronomy.intake.example import case, tables
    >>> given_by_rule(case(), tables)
    {'dolomitic_limestone_ground': 9.526580188026287}
    """
    chosen = {need.what for need in case.model.needs} if case.model else set()
    kg: dict[str, float] = {}
    for item in make_plan(replace(case.request, aim="rule"), tables).applications:
        if not item.later and item.what not in chosen:
            kg[item.material] = kg.get(item.material, 0.0) + item.total_kg
    return kg


def _alone(
    case: Case,
    by_rule: dict[str, float],
    mix: Mix | None,
    stock: dict[str, StockLine],
    bag_sizes: Mapping[str, float],
    tables: Tables,
) -> list[Purchase]:
    """What one plot would buy by itself, as if nothing stood in the shed that another plot could want: the shed is left out."""
    rates = {} if mix is None else {mix.model.materials[m].key: float(mix.rates[m]) for m in np.flatnonzero(mix.rates)}
    share = _share(case, by_rule, rates, tables.choice.nearly_met.value)
    empty = {key: StockLine(line.price_per_kg, 0.0) for key, line in stock.items()}
    return purchases([Use(key, kg, share.name) for key, kg in share.kg.items()], empty, dict(bag_sizes), tables.materials)


def _share(case: Case, by_rule: dict[str, float], rates: dict[str, float], nearly: float) -> PlotShare:
    """The plot's materials [kg]: what its plan gives anyway, then the chosen bags."""
    kg = dict(by_rule)
    for key, rate in rates.items():
        kg[key] = kg.get(key, 0.0) + rate * case.hectares
    open_: dict[str, float] = {}
    if case.model is not None:
        given = case.model.share @ np.array([rates.get(item.key, 0.0) for item in case.model.materials])
        open_ = {
            need.what: float(wanted - have)
            for need, wanted, have in zip(case.model.needs, case.model.wanted, given, strict=True)
            if wanted - have > (nearly + LEAST_SHARE_OF_NEED) * wanted
        }
    return PlotShare(case.request.plot.name, kg, open_, by_rule)


def _lost(case: Case, share: PlotShare) -> float:
    if case.model is None:
        return 0.0
    return float(sum(share.kg.get(item.key, 0.0) * case.model.loss[m] for m, item in enumerate(case.model.materials)))


class _Model:
    """The mixed-integer model: bags bought and kilos from the shed for each material, then for each plot rates, switches and what stays
    open.
    """

    def __init__(self, blocks, by_rule, shed, bag_sizes, aim, tables, whole_bags, use_stock):
        self.aim, self.tables, self.whole_bags, self.use_stock = aim, tables, whole_bags, use_stock
        self.blocks = blocks
        self.keys = sorted({item.key for case, _ in blocks for item in case.model.materials})
        self.size = np.array([bag_sizes.get(key) or tables.materials[key].bag_kg for key in self.keys])
        self.price = np.array([price_of(tables.materials[key], shed.get(key)) for key in self.keys])
        self.stock = np.array([shed[key].in_stock_kg if key in shed else 0.0 for key in self.keys])
        self.fixed = np.zeros(len(self.keys))  # what plans give anyway out of the same bags
        self.place = {key: number for number, key in enumerate(self.keys)}
        for fixed in by_rule:
            for key, kg in fixed.items():
                if key in self.place:
                    self.fixed[self.place[key]] += kg
        self.all_worth = sum(float(case.model.wanted @ case.model.worth) * case.hectares for case, _ in blocks)
        self.cost: list[float] = []
        self.integer: list[int] = []
        self.most: list[float] = []
        self.entries: list[tuple[int, int, float]] = []
        self.low: list[float] = []
        self.high: list[float] = []
        self.most_money: float | None = None  # for what is bought of `keys`

    def _columns(self, costs, integer: bool, most) -> int:
        """Adds variables; the place of the first."""
        first = len(self.cost)
        self.cost += [float(cost) for cost in costs]
        self.integer += [int(integer)] * len(costs)
        self.most += [float(value) for value in most]
        return first

    def _row(self, entries: list[tuple[int, float]], low: float, high: float) -> None:
        self.entries += [(len(self.low), column, value) for column, value in entries]
        self.low.append(low)
        self.high.append(high)

    def _build(self) -> list[int]:
        """All variables and rows; for each block the place of its first rate."""
        figures, count = self.tables.choice, len(self.keys)
        tie, a_bag = figures.tie.value, figures.a_bag.value
        money = 1.0 if self.aim == "money" else tie
        bought = self._columns(self.price * self.size * money if self.whole_bags else self.price * money, self.whole_bags, [np.inf] * count)
        from_shed = self._columns(self.price * (0.0 if self.use_stock else money), False, self.stock)
        supply: list[list[tuple[int, float]]] = [
            [(bought + number, -self.size[number] if self.whole_bags else -1.0), (from_shed + number, -1.0)] for number in range(count)
        ]
        opened = self._columns([a_bag * self.all_worth] * count, True, [1.0] * count) if self.aim == "fewest" else None
        firsts = [self._block(block, supply, opened, tie, a_bag) for block in self.blocks]
        for number, entries in enumerate(supply):
            self._row(entries, -np.inf, -self.fixed[number])
        if self.most_money is not None:
            each = self.price * self.size if self.whole_bags else self.price
            self._row([(bought + number, float(price)) for number, price in enumerate(each)], -np.inf, self.most_money)
        return firsts

    def _block(self, block, supply, opened, tie: float, a_bag: float) -> int:
        """One plot: rates and switches of its materials, its windows, what may stay open."""
        case, mix = block
        model, hectares, figures = case.model, case.hectares, self.tables.choice
        count = len(model.materials)
        worth, reach = float(model.wanted @ model.worth) * hectares, model.reach
        lost = figures.lost_times.value * self.tables.nutrients.worth_per_kg_n.value * hectares if self.aim == "loss" else 0.0
        rates = self._columns(lost * model.loss, False, reach)
        a_trip = a_bag if self.aim == "trips" else figures.a_trip.value
        switches = self._columns([a_trip * worth] * count, True, [1.0] * count)
        nearly, short = figures.nearly_met.value, figures.short_times.value
        by_need = model.wanted * model.worth * hectares
        near = self._columns(nearly * by_need * (figures.nearly_times.value if self.aim == "money" else tie), False, [1.0] * len(by_need))
        may_stay_open = np.ones(len(by_need)) if self.most_money is not None else mix.open / model.wanted + 1e-6
        rest = self._columns(short * by_need, False, may_stay_open)
        for m, item in enumerate(model.materials):
            self._row([(rates + m, 1.0), (switches + m, -reach[m])], -np.inf, 0.0)
            supply[self.place[item.key]].append((rates + m, hectares))
            if opened is not None:
                self._row([(switches + m, 1.0), (opened + self.place[item.key], -1.0)], -np.inf, 0.0)
        for n in range(len(model.needs)):
            entries = [(rates + m, model.share[n, m]) for m in range(count) if model.share[n, m] > 0]
            self._row(entries, -np.inf, model.most[n])
            self._row([*entries, (near + n, nearly * model.wanted[n]), (rest + n, model.wanted[n])], model.wanted[n], np.inf)
        for n in range(len(model.beside)):
            self._row([(rates + m, model.beside[n, m]) for m in range(count) if model.beside[n, m] > 0], -np.inf, model.beside_most[n])
        return rates

    def solved(self) -> tuple[dict[int, dict[str, float]], float, bool]:
        """Rates [kg/ha] by material for each case (by its identity), the gap to the best there could be, and whether the clock ended it."""
        if not self.blocks:
            return {}, 0.0, False
        firsts = self._build()
        rows, columns, values = zip(*self.entries, strict=True)
        found = milp(
            np.array(self.cost),
            constraints=LinearConstraint(
                coo_array((values, (rows, columns)), shape=(len(self.low), len(self.cost))).tocsc(), self.low, self.high
            ),
            integrality=np.array(self.integer),
            bounds=Bounds(np.zeros(len(self.cost)), np.array(self.most)),
            options={"disp": False, "node_limit": MOST_NODES, "time_limit": STOPS_AFTER_S, "mip_rel_gap": 0.01},
        )
        if found.x is None:  # no time for any answer: each plot's own best choice serves, and nothing is promised of it
            return {id(case): _rates_of(case.model, mix.rates) for case, mix in self.blocks}, 1.0, True
        by_case = {id(case): _rates_of(case.model, found.x[first:]) for (case, _), first in zip(self.blocks, firsts, strict=True)}
        stopped = found.status != 0 and found.mip_node_count < MOST_NODES
        return by_case, float(found.mip_gap), stopped


def _rates_of(model: Model, rates: np.ndarray) -> dict[str, float]:
    """Rates by material [kg/ha]; `rates` begin with those of the model's materials in its order."""
    return {item.key: float(rate) for item, rate in zip(model.materials, rates, strict=False) if rate > 1e-6}
