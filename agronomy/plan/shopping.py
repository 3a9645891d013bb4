"""What a plan wants bought, in sentences: the shed first, whole packs, what they cost, and whose prices those are."""

from collections.abc import Callable

from agronomy.base.said import Mass, say
from agronomy.dose.packs import Purchased
from agronomy.plan.plan import Plan

CENT = 0.005  # own money; less is no price


def to_buy(plan: Plan, system: str) -> list[str]:
    """A line for each product of this season. Source: definition.

    >>> from agronomy.intake.example import plan
    >>> to_buy(plan(), "metric")[0]
    'dolomitic ground limestone: from 1 bag of 25 kg'
    """
    return [_line(row, system) for row in plan.buy]


def _line(row: Purchased, system: str) -> str:
    if row.from_shed_kg > 0 and row.from_shed_kg < row.kg:
        return say("{name}: {kg} from the shed, the rest {says}", name=row.name, kg=Mass(row.from_shed_kg, 2, system), says=row.says)
    return say("{name}: {says}", name=row.name, says=row.says)


def cost_in_words(plan: Plan, money: Callable[[float], str]) -> str:
    """What the packs cost together, and how much of it this season uses; nothing where nothing costs. Own money, said by `money`.

    Source: definition.

    >>> from agronomy.intake.example import plan
    >>> cost_in_words(plan(), "{:.2f}".format).startswith("Whole packs cost about")
    True
    """
    cost = sum(row.cost for row in plan.buy)
    if cost < CENT:
        return ""
    goes_on = sum(row.used for row in plan.buy)
    used = say(", of which {used} is used this season", used=money(goes_on)) if goes_on < cost - CENT else ""
    told = say("Whole packs cost about {cost}{used}.", cost=money(cost), used=used)
    if any(row.is_list_price for row in plan.buy):
        return say("{told} Where you gave no price it is our list price, which is invented.", told=told)
    return told
